"""Whose face is this: one against many."""

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from cadrin.core.credentials.face.descriptor import Descriptor


class NearFace(NamedTuple):
    """A face that was found, by its key, and how far away it is."""

    key: int
    distance: float


def nearest_faces(
    numbers: Descriptor, faces: Mapping[int, Descriptor], farthest: float
) -> list[NearFace]:
    """Return the faces within a distance, the nearest first."""
    if not faces:
        return []
    keys = list(faces)
    apart = np.linalg.norm(np.stack([faces[key] for key in keys]) - numbers, axis=1)
    near = [NearFace(keys[place], float(apart[place])) for place in np.argsort(apart)]
    return [face for face in near if face.distance <= farthest]

"""A face as 128 numbers, by the library's own network; how far two are apart.

The network comes in a package of the registry (dlib's face recognition model, 2017): its author states
99.38 % on a public benchmark of photographs at a distance of 0.6. Drawn faces are more alike than
people are, so the distance that counts is the site's to set.
"""

from functools import cache
from importlib.util import find_spec
from pathlib import Path
from threading import Lock
from typing import Any

import dlib
import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pillow

from cadrin.core.credentials.face.portrait import Face

Descriptor = NDArray[np.float32]
"""128 numbers."""
NUMBERS = 128
PUBLISHED_MATCH = 0.6
_PIXELS = 800
"""A larger picture is made smaller first: the face is brought to 150 pixels anyway."""
_ONE_AT_A_TIME = Lock()


@cache
def _networks() -> tuple[Any, Any]:
    """Return what finds five points in a face, and what makes numbers of it."""
    # the package itself is never imported: all that it does is to say where its files are
    found = find_spec("face_recognition_models")
    if found is None or not found.submodule_search_locations:
        raise RuntimeError("the package face_recognition_models is not installed")
    models = Path(found.submodule_search_locations[0]) / "models"
    return (
        dlib.shape_predictor(str(models / "shape_predictor_5_face_landmarks.dat")),
        dlib.face_recognition_model_v1(str(models / "dlib_face_recognition_resnet_model_v1.dat")),
    )


def descriptor_of(picture: Pillow.Image, face: Face) -> Descriptor:
    """Return the numbers of a face in a picture."""
    scale = min(1.0, _PIXELS / max(picture.size))
    if scale < 1:
        picture = picture.resize((round(picture.width * scale), round(picture.height * scale)))
        face = face.scaled(scale)
    pixels = np.ascontiguousarray(np.asarray(picture.convert("RGB")))
    x, y, width, height = face.box
    box = dlib.rectangle(round(x), round(y), round(x + width), round(y + height))
    with _ONE_AT_A_TIME:
        points, network = _networks()
        numbers = network.compute_face_descriptor(pixels, points(pixels, box))
    return np.asarray(numbers, np.float32)


def distance(a: Descriptor, b: Descriptor) -> float:
    """Return how far two faces are apart: 0 for the same picture, about 0.6 and more for two people
    on photographs.
    """
    return float(np.linalg.norm(a - b))

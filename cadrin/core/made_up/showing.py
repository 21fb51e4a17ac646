"""How somebody made up shows their face to a camera: as they are, or in one of the usual ways."""

import secrets
from enum import StrEnum

from PIL import Image as Pillow

from cadrin.core.made_up.face.drawing import Shot, drawn
from cadrin.core.made_up.face.person import person


class FaceShown(StrEnum):
    """How a face is shown."""

    AS_IT_IS = "as_it_is"
    GLASSES = "glasses"
    TURNED = "turned"
    DIM = "dim"
    SMILING = "smiling"


_HOW = {
    FaceShown.AS_IT_IS: Shot(),
    FaceShown.GLASSES: Shot(has_glasses=True),
    FaceShown.TURNED: Shot(yaw=24.0),
    FaceShown.DIM: Shot(brightness=0.3, noise=5.0),
    FaceShown.SMILING: Shot(smile=0.6, yaw=4.0),
}


def face_seed_of(somebody: int) -> int:
    """Return the seed of somebody's made-up face; a stranger's is that of a person below 1."""
    return abs(somebody) * 2 + (somebody < 1)


def show_face(seed: int, how: FaceShown) -> Pillow.Image:
    """Return a picture of somebody once more: no two are the same."""
    return Pillow.fromarray(drawn(person(seed), _HOW[how], secrets.randbelow(2**31)))

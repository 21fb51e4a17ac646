"""How somebody lays a made-up finger on a scanner: well, or badly in one of the usual ways."""

import secrets
from enum import StrEnum

import numpy as np

from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.made_up.fingers import Press, pressed, random_press, ridges_of

_FINGERS_OF_ONE = 16


class Laid(StrEnum):
    """How a finger is laid."""

    WELL = "well"
    DRY = "dry"
    WET = "wet"
    PARTIAL = "partial"
    TURNED = "turned"


_HOW = {
    Laid.DRY: Press(wetness=-0.95, roughness=0.7, creases=6),
    Laid.WET: Press(wetness=0.95, roughness=0.7, creases=3),
    Laid.PARTIAL: Press(area=0.42, right=70.0, down=60.0, roughness=0.3),
    Laid.TURNED: Press(turned=28.0, roughness=0.2, distortion=1.0),
}


def seed_of(person: int, finger: Finger) -> int:
    """Return the seed of somebody's made-up finger; nobody's is that of a person below 1."""
    return (abs(person) * _FINGERS_OF_ONE + finger) * 2 + (person < 1)


def lay(seed: int, how: Laid) -> Picture:
    """Return the picture of a finger that is laid once more: no two are the same."""
    again = secrets.randbelow(2**32)
    press = _HOW.get(how) or random_press(np.random.default_rng(again))
    return pressed(ridges_of(seed), press, again)

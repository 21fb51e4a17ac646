"""How good a press of a finger is, and what to do for a better one."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from cadrin.core.credentials.finger.ridges import Floats, Picture, Ridges

_MM2_PER_PIXEL = (25.4 / 500) ** 2


class Advice(StrEnum):
    """The one thing that would make the next press better."""

    PRESS_HARDER = "press_harder"
    DRY = "dry"
    WET = "wet"
    MOVE_LEFT = "move_left"
    MOVE_RIGHT = "move_right"
    MOVE_UP = "move_up"
    MOVE_DOWN = "move_down"
    MORE_OF_THE_FINGER = "more_of_the_finger"
    LAY_AGAIN = "lay_again"
    ANOTHER_FINGER = "another_finger"


@dataclass(frozen=True, slots=True)
class PressMeasures:
    """A press in figures: the area that touches in mm², ``clarity`` (share of pixels, 0.5 to 1, in
    which the picture says what the ridges around say), mean ``coherence`` (0 to 1), how strongly
    ridges stand out (standard deviation of light), ``dark_share`` of the finger, the middle of the
    finger from the middle of the picture in shares of its sides (right and down positive), and
    how much of what lies across the ridges is one wave (``regularity``, 0 to 1).
    """

    area_mm2: float
    clarity: float
    coherence: float
    contrast: float
    dark_share: float
    right: float
    down: float
    regularity: float


def measures_of(picture: Picture, ridges: Ridges, clear: Floats) -> PressMeasures:
    """Measure a press."""
    finger = ridges.is_finger
    light = picture.astype(np.float32)
    agrees = ((light < ridges.ground) == (clear > 0))[finger]
    height, width = picture.shape
    rows, columns = np.nonzero(finger)
    usual = float(np.median(light[~finger])) if (~finger).any() else 255.0
    darkest = float(np.percentile(light[finger], 5))
    return PressMeasures(
        area_mm2=len(rows) * _MM2_PER_PIXEL,
        clarity=float(agrees.mean()),
        coherence=float(ridges.coherence[finger].mean()),
        contrast=float(ridges.contrast[finger].mean()),
        dark_share=float((light[finger] < (usual + darkest) / 2).mean()),
        right=float(columns.mean() / width - 0.5),
        down=float(rows.mean() / height - 0.5),
        regularity=ridges.regularity,
    )


_ENOUGH_MINUTIAE = 30
"""Minutiae, each counted by its own quality, with which nothing more is gained."""
_ENOUGH_MM2 = 200
_COHERENCE = (0.4, 0.85)
_SHARES = (0.45, 0.35, 0.2)


def quality_of(press: PressMeasures, clear_minutiae: float) -> int:
    """Return the quality of a press from 0 to 100; ``clear_minutiae`` is the sum of the qualities
    of its minutiae, each from 0 to 1.

    The shares are Cadrin's own, tried on made-up fingers: what they foretell is in the benchmarks.
    """
    least, most = _COHERENCE
    parts = (
        clear_minutiae / _ENOUGH_MINUTIAE,
        (press.coherence - least) / (most - least),
        press.area_mm2 / _ENOUGH_MM2,
    )
    shares = zip(_SHARES, parts, strict=True)
    return round(100 * sum(share * min(max(part, 0.0), 1.0) for share, part in shares))

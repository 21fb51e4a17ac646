"""A picture of a finger as a file: read with suspicion, 500 pixels an inch, dark ridges on light."""

import io

import numpy as np
from PIL import Image, UnidentifiedImageError

from cadrin.core.credentials.finger.ridges import Picture, Ridges, ridges_in
from cadrin.core.errors import Invalid

LARGEST_BYTES = 4_000_000
SMALLEST_SIDE, LARGEST_SIDE = 120, 2000
"""Pixels: a finger's pad is 300 to 500 wide and high."""
_PIXELS_PER_INCH = 500
_RESOLUTION_SPREAD = 15
_LEAST_REGULARITY, _LEAST_COHERENCE = 0.55, 0.3
"""Made-up fingers have 0.6 and 0.4 at the least, faces and paper less (tried)."""
_DARK_GROUND = 20
FIELD = "picture"


def read_picture(content: bytes) -> Picture:
    """Read a PNG. Raises Invalid for one that is too large, broken, or not at 500 pixels an inch;
    one that does not say its resolution is taken to have it.
    """
    if len(content) > LARGEST_BYTES:
        raise Invalid.of("finger_picture.too_large", FIELD, most_megabytes=LARGEST_BYTES // 10**6)
    try:
        with Image.open(io.BytesIO(content), formats=["PNG"]) as found:
            _check_size(*found.size)
            dots = found.info.get("dpi")
            grey = np.asarray(found.convert("L"), np.uint8)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        raise Invalid.of("finger_picture.not_readable", FIELD) from error
    if dots and max(abs(float(part) - _PIXELS_PER_INCH) for part in dots) > _RESOLUTION_SPREAD:
        raise Invalid.of("finger_picture.resolution", FIELD, found=round(float(dots[0])))
    return grey


def _check_size(width: int, height: int) -> None:
    if not (min(width, height) >= SMALLEST_SIDE and max(width, height) <= LARGEST_SIDE):
        raise Invalid.of("finger_picture.size", FIELD, least=SMALLEST_SIDE, most=LARGEST_SIDE)


def write_picture(picture: Picture) -> bytes:
    """Write a picture as a PNG that says its resolution."""
    file = io.BytesIO()
    Image.fromarray(picture).save(file, "PNG", dpi=(_PIXELS_PER_INCH, _PIXELS_PER_INCH))
    return file.getvalue()


def ridges_of_finger(picture: Picture) -> Ridges:
    """Return the ridges in a picture. Raises Invalid where nothing lies on the glass, it is
    inverted, or it shows something else.
    """
    ridges = ridges_in(picture)
    if ridges is None:
        raise Invalid.of("finger_picture.empty", FIELD)
    finger = ridges.is_finger
    coherence = float(ridges.coherence[finger].mean())
    if ridges.regularity < _LEAST_REGULARITY or coherence < _LEAST_COHERENCE:
        raise Invalid.of("finger_picture.not_a_finger", FIELD)
    if (~finger).any() and _is_inverted(picture, ridges):
        raise Invalid.of("finger_picture.inverted", FIELD)
    return ridges


def _is_inverted(picture: Picture, ridges: Ridges) -> bool:
    ground = float(np.median(picture[~ridges.is_finger]))
    return ground + _DARK_GROUND < float(np.median(picture[ridges.is_finger]))

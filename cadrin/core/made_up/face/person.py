"""What somebody made up looks like: figures of a head, and colours.

Lengths are in half widths of the head; 0 is the middle of the face at the height of the eyes, right and
down are positive.
"""

from dataclasses import dataclass

import numpy as np

Colour = tuple[int, int, int]
_SKINS: tuple[Colour, ...] = (
    (250, 224, 204), (241, 205, 178), (228, 184, 152), (210, 160, 124),
    (184, 132, 96), (150, 102, 72), (116, 76, 54), (86, 56, 42),
)  # fmt: skip
_HAIRS: tuple[Colour, ...] = (
    (28, 22, 20), (48, 33, 26), (82, 54, 36), (122, 82, 48), (176, 132, 80),
    (206, 172, 120), (134, 62, 34), (150, 148, 146), (208, 206, 202),
)  # fmt: skip
_EYES: tuple[Colour, ...] = (
    (70, 46, 30), (96, 64, 38), (92, 104, 62), (84, 116, 140), (104, 122, 132), (58, 40, 30),
)  # fmt: skip
_CLOTHES: tuple[Colour, ...] = (
    (44, 58, 86), (70, 74, 82), (122, 42, 48), (38, 82, 74), (196, 198, 204),
    (88, 66, 104), (60, 92, 132), (34, 36, 42), (150, 120, 78),
)  # fmt: skip
_WALLS: tuple[Colour, ...] = (
    (222, 228, 234), (236, 236, 234), (206, 218, 228), (228, 222, 212),
)  # fmt: skip
_DARK_SKIN, _GREY_HAIR, _GREY_FROM_AGE = 3, 7, 50
_SPREAD = 1.6
"""How much more unlike each other they are than people are: drawn faces look alike otherwise."""


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody made up. Places and sizes are in half widths of the head, ages in years."""

    seed: int
    is_square: bool
    age: float
    skin: Colour
    hair: Colour
    eyes: Colour
    clothes: Colour
    wall: Colour
    hair_length: float
    """How far down the hair hangs; 0 for short hair."""
    hair_volume: float
    """How far it stands out; 0 for none."""
    forehead: float
    has_beard: bool
    jaw: float
    chin: float
    head_length: float
    head_width: float
    eye_right: float
    eye_down: float
    eye_width: float
    eye_height: float
    eye_tilt: float
    lid: float
    brow_down: float
    brow_thickness: float
    brow_arch: float
    brow_length: float
    nose_length: float
    nose_width: float
    nose_height: float
    nose_tip: float
    mouth_down: float
    mouth_width: float
    lip: float
    cheek: float
    ear: float
    unevenness: float
    mole: tuple[float, float]


def person(seed: int) -> Person:
    """Make somebody up, the same for the same seed."""
    random = np.random.default_rng(seed)

    def around(middle: float, spread: float, least: float = -9.0, most: float = 9.0) -> float:
        drawn = np.clip(random.normal(0, spread * _SPREAD), -3 * spread, 3 * spread)
        return float(np.clip(middle + drawn, least, most))

    square = bool(random.random() < 0.5)
    age = float(random.uniform(20, 66))
    tone = int(random.integers(0, len(_SKINS)))
    hairs = _HAIRS[:3] if tone > _DARK_SKIN else _HAIRS[:_GREY_HAIR]
    if age > _GREY_FROM_AGE and random.random() < 0.6:
        hairs = _HAIRS[_GREY_HAIR:]
    is_bald = square and random.random() < 0.15
    is_long = not square and random.random() < 0.7

    def one_of(colours: tuple[Colour, ...]) -> Colour:
        return colours[int(random.integers(0, len(colours)))]

    return Person(
        seed,
        square,
        age,
        _SKINS[tone],
        one_of(hairs),
        one_of(_EYES[:2] if tone > _DARK_SKIN else _EYES),
        one_of(_CLOTHES),
        one_of(_WALLS),
        hair_length=float(random.uniform(1.0, 2.2)) if is_long else 0.0,
        hair_volume=0.0 if is_bald else float(random.uniform(1.04, 1.22)),
        forehead=around(-0.86, 0.06),
        has_beard=square and random.random() < 0.35,
        jaw=around(0.10 if square else -0.02, 0.06),
        chin=around(0.0, 0.07),
        head_length=around(0.0, 0.06),
        head_width=around(1.0, 0.035),
        eye_right=around(0.44, 0.03),
        eye_down=around(0.0, 0.03),
        eye_width=around(0.20, 0.018),
        eye_height=around(0.085, 0.016, 0.05, 0.13),
        eye_tilt=around(0.0, 0.05),
        lid=abs(around(0.0, 0.022)),
        brow_down=around(-0.235 if square else -0.27, 0.025),
        brow_thickness=around(0.052 if square else 0.036, 0.009, 0.022),
        brow_arch=around(0.03 if square else 0.06, 0.02),
        brow_length=around(0.25, 0.02),
        nose_length=around(0.50, 0.045),
        nose_width=around(0.155 + 0.006 * tone, 0.018, 0.11),
        nose_height=around(0.30, 0.05, 0.16, 0.46),
        nose_tip=around(0.10, 0.03),
        mouth_down=around(0.93, 0.035),
        mouth_width=around(0.36, 0.032, 0.27, 0.46),
        lip=around(0.095 + 0.006 * tone, 0.02, 0.05),
        cheek=around(0.05, 0.02),
        ear=around(0.27, 0.03),
        unevenness=around(0.0, 0.012),
        mole=(around(0.0, 0.5), 0.2 + abs(around(0.0, 0.5))),
    )

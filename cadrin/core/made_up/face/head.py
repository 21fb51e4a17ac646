"""The form of a made-up head: its outline, and how far each place of it stands out."""

import numpy as np

from cadrin.core.credentials.finger.ridges import Floats
from cadrin.core.made_up.face.person import Person

SIDES = (-1, 1)


def bell(x: Floats, y: Floats, width: float, height: float) -> Floats:
    """Return a bell curve around 0, 1 at its top."""
    found: Floats = np.exp(-0.5 * ((x / width) ** 2 + (y / height) ** 2))
    return found


def step(distance: Floats, sharpness: float) -> Floats:
    """Go from 0 to 1 where a distance becomes positive."""
    found: Floats = 1 / (1 + np.exp(-np.clip(distance * sharpness, -40, 40)))
    return found


def half_width(person: Person, y: Floats) -> Floats:
    """Return half the width of the head at each height."""
    down = np.clip(y / (1.52 + person.head_length), -1.2, 1)
    upper = np.sqrt(np.clip(1 - (y / 1.5) ** 2, 0, 1)) ** 0.8
    lower = np.clip(1 - np.abs(down) ** (2.7 + 2.2 * person.jaw), 0, 1) ** 0.55
    lower = lower * (1 - (0.17 - 0.27 * person.jaw) * np.clip(down, 0, 1))
    wider = 1 + (person.head_width - 1) * step(y + 0.25, 5)
    found: Floats = np.where(y < 0, upper, lower) * wider + 1e-4
    return found


def inside(person: Person, x: Floats, y: Floats) -> Floats:
    """Say where the head is, from 0 to 1."""
    return (
        step(half_width(person, y) - np.abs(x), 60)
        * step(1.52 + person.head_length - y, 60)
        * step(y + 1.5, 60)
    )


def relief(person: Person, x: Floats, y: Floats, smile: float = 0.0) -> Floats:
    """Return how far each place stands out towards whoever looks, in half widths of the head."""
    round_ = np.clip(1 - (x / np.maximum(half_width(person, y), 0.05)) ** 2, 0, 1)
    out = np.sqrt(round_) * np.sqrt(np.clip(1 - (y / 1.72) ** 2, 0.02, 1))
    out = out + _nose(person, x, y) + _mouth(person, x, y)
    for side in SIDES:
        eye = x - side * person.eye_right
        out = out - 0.13 * bell(eye, y - person.eye_down + 0.03, 0.24, 0.13)
        out = out + 0.085 * bell(eye, y - person.eye_down, 0.16, 0.095)
        out = out + 0.05 * bell(eye, y - person.brow_down + 0.02, 0.30, 0.075)
        out = out + person.cheek * (1 + smile) * bell(x - side * 0.55, y - 0.36, 0.24, 0.2)
        out = out - _fold(person, x * side, y, smile)
    return out.astype(np.float32)


def _nose(person: Person, x: Floats, y: Floats) -> Floats:
    along = np.clip((y + 0.14) / (person.nose_length + 0.14), 0, 1)
    ridge = (0.05 + person.nose_height * along**1.3) * np.exp(
        -0.5 * (x / (0.075 + 0.065 * along)) ** 2
    )
    ridge = ridge * step(y + 0.16, 14) * step(person.nose_length + 0.075 - y, 22)
    tip = person.nose_tip * bell(x - person.unevenness, y - person.nose_length, 0.085, 0.08)
    wings = sum(
        0.085 * bell(x - side * person.nose_width, y - person.nose_length - 0.045, 0.062, 0.065)
        for side in SIDES
    )
    found: Floats = ridge + tip + wings
    return found


def _mouth(person: Person, x: Floats, y: Floats) -> Floats:
    down, width = y - person.mouth_down, person.mouth_width
    lips = 0.075 * bell(x, down + 0.055, width * 0.62, 0.05)
    lips = lips + 0.095 * bell(x, down - 0.075, width * 0.5, 0.06)
    lips = lips - 0.05 * bell(x, down, width * 0.8, 0.02)
    chin = (0.07 + person.chin * 0.3) * bell(x, y - 1.30, 0.22, 0.14)
    return lips + chin - 0.035 * bell(x, y - 1.13, 0.26, 0.05)


def _fold(person: Person, x: Floats, y: Floats, smile: float) -> Floats:
    """The fold from the nose to the corner of the mouth, deeper with age and with a smile."""
    deep = 0.010 + 0.0011 * max(0.0, person.age - 28) + 0.03 * smile
    down = np.clip((y - person.nose_length) / 0.42, 0, 1)
    across = (x - (person.nose_width + 0.06 + 0.2 * down)) / 0.028
    found: Floats = deep * np.exp(-0.5 * across**2) * step(y - person.nose_length + 0.04, 22)
    return found * step(person.mouth_down + 0.06 - y, 22)

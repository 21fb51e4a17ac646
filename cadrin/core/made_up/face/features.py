"""What is on a made-up face: skin, eyes, brows, lips, beard, hair, glasses."""

import cv2
import numpy as np

from cadrin.core.credentials.finger.ridges import Floats
from cadrin.core.made_up.face.head import SIDES, bell, step
from cadrin.core.made_up.face.person import Person

_BLACK, _WHITE = (26, 18, 16), (236, 232, 228)
_FRAME = (30, 28, 30)


def mixed(base: Floats, colour: object, share: Floats) -> Floats:
    """Put a colour over a picture, by a share of 0 to 1."""
    part = share.astype(np.float32)[..., None]
    found: Floats = base + (np.asarray(colour, np.float32) - base) * part
    return found


def grain(random: np.random.Generator, like: Floats, across: float, down: float) -> Floats:
    """Return smooth noise of mean 0 and deviation 1."""
    noise = random.standard_normal(like.shape).astype(np.float32)
    smooth = cv2.GaussianBlur(noise, (0, 0), sigmaX=across, sigmaY=down)
    found: Floats = smooth / (smooth.std() + 1e-9)
    return found


def skin(person: Person, x: Floats, y: Floats, smile: float, random: np.random.Generator) -> Floats:
    """Return the colours of a face without light: skin, lips, nostrils, beard."""
    tone = np.asarray(person.skin, np.float32)
    face: Floats = np.broadcast_to(tone, (*x.shape, 3)).astype(np.float32)
    blush = sum(bell(x - side * 0.55, y - 0.42, 0.24, 0.2) for side in SIDES)
    blush = blush + 0.8 * bell(x, y - person.nose_length, 0.16, 0.12)
    face = mixed(face, tone * (1.0, 0.80, 0.76), np.clip(blush, 0, 1) * 0.3)
    face = (
        face * (1 + 0.018 * grain(random, x, 1.6, 1.6) + 0.03 * grain(random, x, 19, 19))[..., None]
    )
    for side in SIDES:
        eye = x - side * person.eye_right
        shadow = 0.30 * bell(eye, y - person.eye_down - 0.13, 0.17, 0.05)
        shadow = shadow + 0.34 * bell(eye, y - person.eye_down + 0.09, 0.22, 0.06)
        face = mixed(face, tone * (0.78, 0.70, 0.70), np.clip(shadow, 0, 1))
        nostril = bell(
            x - side * person.nose_width * 0.56, y - person.nose_length - 0.105, 0.042, 0.022
        )
        face = mixed(face, tone * 0.28, 0.85 * nostril)
    mole = np.hypot(x - person.mole[0], y - person.mole[1]).astype(np.float32)
    face = mixed(face, tone * 0.45, 0.8 * step(0.018 - mole, 300))
    if person.has_beard:
        face = _beard(person, face, x, y, random)
    return _lips(person, face, x, y, smile)


def _beard(
    person: Person, face: Floats, x: Floats, y: Floats, random: np.random.Generator
) -> Floats:
    around_the_mouth = step(np.hypot(x / 1.35, y - 0.60).astype(np.float32) - 0.30, 20)
    lower = step(y - 0.66 - 0.10 * np.cos(x * 3), 14) * around_the_mouth * step(1.56 - y, 20)
    sides = step(np.abs(x) - 0.62, 14) * step(y - 0.15, 14)
    hairs = np.clip(0.72 + 0.28 * grain(random, x, 0.8, 2.2), 0.2, 1.2)
    colour = np.asarray(person.hair, np.float32) * 0.85
    return mixed(face, colour, np.clip(np.maximum(lower, sides) * hairs * 0.9, 0, 0.93))


def _lips(person: Person, face: Floats, x: Floats, y: Floats, smile: float) -> Floats:
    tone = np.asarray(person.skin, np.float32)
    width = person.mouth_width * (1 + 0.22 * smile)
    across = np.clip(np.abs(x) / width, 0, 1)
    line = person.mouth_down + 0.03 * smile - 0.10 * smile * across**2
    upper = line - person.lip * (1 - across**1.8) * (1 - 0.22 * bell(x, x * 0, 0.06, 1))
    lower = line + person.lip * 1.15 * (1 - across**2.2)
    lip = step(y - upper, 70) * step(lower - y, 70) * step(width - np.abs(x), 60)
    face = mixed(face, tone * (0.84, 0.54, 0.56), lip * 0.85)
    gap = np.exp(-0.5 * ((y - line) / 0.014) ** 2) * step(width * 1.03 - np.abs(x), 40)
    return mixed(face, tone * 0.30, 0.75 * gap)


def brows_and_eyes(
    person: Person, face: Floats, x: Floats, y: Floats, lit: Floats, random: np.random.Generator
) -> Floats:
    """Put eyes and brows onto a face."""
    for side in SIDES:
        right = x - side * person.eye_right
        down = y - person.eye_down + side * person.eye_tilt * right
        face = _eye(person, face, right, down, lit)
        face = _brow(person, face, right * side, y, side, random)
    return face


def _eye(person: Person, face: Floats, right: Floats, down: Floats, lit: Floats) -> Floats:
    tone = np.asarray(person.skin, np.float32)
    across = np.clip(right / person.eye_width, -1, 1)
    upper = -person.eye_height * (1 - np.abs(across) ** 2.1)
    lower = person.eye_height * 0.72 * (1 - across**2)
    within = person.eye_width - np.abs(right)
    opening = step(down - upper, 110) * step(lower - down, 110) * step(within, 110)
    away = np.hypot(right, down + 0.006).astype(np.float32)
    iris = np.asarray(person.eyes, np.float32)
    eye: Floats = np.asarray(_WHITE, np.float32) * (1 - 0.16 * across**2)[..., None]
    eye = mixed(eye, iris, step(0.088 - away, 140))
    eye = mixed(eye, iris * 0.45, 0.8 * step(0.012 - np.abs(away - 0.088), 240))
    eye = mixed(eye, (12, 10, 10), step(0.038 - away, 200))
    glint = np.hypot(right + 0.03, down + 0.034).astype(np.float32)
    eye = mixed(eye, (255, 255, 255), step(0.017 - glint, 260))
    eye = eye * (1 - 0.42 * np.exp(-0.5 * ((down - upper) / 0.028) ** 2))[..., None]
    eye = eye * (0.62 + 0.42 * lit)[..., None]
    face = face * (1 - opening[..., None]) + eye * opening[..., None]
    thick = 0.013 if person.is_square else 0.019
    lashes = np.exp(-0.5 * ((down - upper) / thick) ** 2) * step(within + 0.012, 60)
    face = mixed(face, _BLACK, 0.88 * lashes)
    crease = np.exp(-0.5 * ((down - upper + 0.062 - person.lid) / 0.013) ** 2) * step(within, 30)
    return mixed(face, tone * 0.42, 0.45 * crease)


def _brow(
    person: Person,
    face: Floats,
    outward: Floats,
    y: Floats,
    side: int,
    random: np.random.Generator,
) -> Floats:
    along = outward / person.brow_length
    arch = person.brow_arch * np.cos(np.clip(along, -1.3, 1.3) * 1.4 - 0.5)
    middle = person.brow_down + person.unevenness * side - arch + 0.03
    thickness = person.brow_thickness * np.clip(1.05 - 0.45 * (along + 0.3), 0.25, 1.25)
    hairs = np.clip(0.8 + 0.35 * grain(random, y, 2.2, 0.7), 0, 1)
    brow = np.exp(-(((y - middle) / thickness) ** 4))
    brow = brow * step(person.brow_length + 0.02 - np.abs(outward - 0.02), 40)
    colour = np.asarray(person.hair, np.float32) * 0.62
    return mixed(face, colour, np.clip(brow * hairs * 0.92, 0, 0.92))


def _hair_colour(
    person: Person, x: Floats, y: Floats, lit: Floats, random: np.random.Generator
) -> Floats:
    strands = grain(random, x, 1.1, 9.5)
    gloss = np.clip(1 - np.abs(np.hypot(x + 0.25, y + 0.95)), 0, 1)
    shade = np.clip(0.62 + 0.09 * strands + 0.36 * gloss + 0.14 * lit, 0.25, 1.5)
    found: Floats = np.asarray(person.hair, np.float32) * shade[..., None]
    return found


def _reach_of_hair(x: Floats, y: Floats) -> Floats:
    found: Floats = np.where(y < 0, np.hypot(x, y / 1.5), np.abs(x)).astype(np.float32)
    return found


def hair_behind(
    person: Person, image: Floats, x: Floats, y: Floats, lit: Floats, random: np.random.Generator
) -> Floats:
    """Put what hangs behind the head, and the ears, into a picture."""
    if person.hair_volume:
        lowest = person.hair_length or 0.12
        there = step(person.hair_volume - _reach_of_hair(x, y), 45) * step(lowest - y, 14)
        colour = _hair_colour(person, x, y, lit, random) * 0.8
        image = image * (1 - there[..., None]) + colour * there[..., None]
    if person.hair_length:
        return image
    tone = np.asarray(person.skin, np.float32) * (0.72, 0.64, 0.62)
    for side in SIDES:
        away = np.hypot((x - side) / 0.15, (y - 0.16) / person.ear).astype(np.float32)
        image = mixed(image, tone, step(1 - away, 22))
    return image


def hair_in_front(
    person: Person, image: Floats, x: Floats, y: Floats, lit: Floats, random: np.random.Generator
) -> Floats:
    """Put the hair over forehead and temples."""
    if not person.hair_volume:
        return image
    curve = 0.34 * 1.4 * x**2 if person.hair_length else 0.04 + 0.30 * x**4
    line = person.forehead + curve
    there = step(line - y, 30)
    side_width = 0.80 if person.hair_length else 0.93
    lowest = person.hair_length or 0.10
    beside = step(np.abs(x) - side_width - 0.05 * np.sin(2 * y), 30) * step(lowest - y, 14)
    beside = beside * step(y - line, 10) * (0.9 if person.hair_length else 0.65)
    there = np.maximum(there, beside) * step(person.hair_volume - _reach_of_hair(x, y), 45)
    colour = _hair_colour(person, x, y, lit, random)
    found: Floats = image * (1 - there[..., None]) + colour * there[..., None]
    return found


def glasses(person: Person, image: Floats, x: Floats, y: Floats) -> Floats:
    """Put on glasses."""
    down = y - person.eye_down - 0.03
    for side in SIDES:
        right = np.abs(x - side * person.eye_right * 1.02) / 0.31
        rim = (right**3 + (np.abs(down) / 0.235) ** 3) ** (1 / 3)
        image = mixed(image, _FRAME, 0.9 * np.exp(-0.5 * ((rim - 1) / 0.045) ** 2))
    bridge = np.exp(-0.5 * ((down + 0.06) / 0.016) ** 2) * step(0.16 - np.abs(x), 60)
    arms = np.exp(-0.5 * ((down + 0.09) / 0.018) ** 2)
    arms = arms * step(np.abs(x) - 0.73, 60) * step(1.02 - np.abs(x), 60)
    return mixed(mixed(image, _FRAME, 0.9 * bridge), _FRAME, 0.85 * arms)

"""Draw a made-up face: turned, lit and with an expression, as a camera would see it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from cadrin.core.credentials.finger.ridges import Floats
from cadrin.core.made_up.face.features import (
    brows_and_eyes,
    glasses,
    hair_behind,
    hair_in_front,
    skin,
)
from cadrin.core.made_up.face.head import bell, inside, relief, step
from cadrin.core.made_up.face.person import Person

Image = NDArray[np.uint8]
WIDTH, HEIGHT = 480, 600
"""Pixels of a portrait."""
_HALF_HEAD = 0.235
"""Half the width of the head, by the width of the picture."""
_MIDDLE_DOWN = 0.46


@dataclass(frozen=True, slots=True)
class Shot:
    """How somebody stands before the camera: turned and tilted in degrees, where the light comes
    from (right, down, towards the camera), how strong it is, and the noise of the sensor.
    """

    yaw: float = 0.0
    pitch: float = 0.0
    roll: float = 0.0
    light: tuple[float, float, float] = (-0.35, -0.45, 0.82)
    brightness: float = 1.0
    smile: float = 0.0
    blur: float = 0.0
    noise: float = 3.0
    has_glasses: bool = False


def drawn(person: Person, shot: Shot = Shot(), seed: int = 0) -> Image:
    """Draw a portrait as RGB, 480 x 600 pixels."""
    unit = _HALF_HEAD * WIDTH
    rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    right, down = (columns - WIDTH / 2) / unit, (rows - HEIGHT * _MIDDLE_DOWN) / unit
    angle = np.radians(shot.roll)
    body_x = (np.cos(angle) * right + np.sin(angle) * down).astype(np.float32)
    body_y = (-np.sin(angle) * right + np.cos(angle) * down).astype(np.float32)
    x, y = _on_the_head(person, body_x, body_y, shot)
    texture = np.random.default_rng(person.seed)

    out = cv2.GaussianBlur(relief(person, x, y, shot.smile), (0, 0), 0.8)
    lit, shine, hollow = _light(out, unit, shot)
    face = skin(person, x, y, shot.smile, texture)
    tones = np.stack([0.6 * lit + 0.4 * np.clip(lit + 0.15, 0, 1), lit, lit * 0.97], -1)
    face = face * (0.36 + 0.74 * tones) * hollow[..., None] + 255 * 0.15 * shine[..., None]
    face = brows_and_eyes(person, face, x, y, lit, texture)

    image = _wall(person, rows / HEIGHT, columns / WIDTH)
    image = hair_behind(person, image, x, y, lit, texture)
    image = _body(person, image, body_x, body_y)
    head = inside(person, x, y)[..., None]
    image = image * (1 - head) + face * head
    image = hair_in_front(person, image, x, y, lit, texture)
    if shot.has_glasses:
        image = glasses(person, image, x, y)
    return _as_seen(image, shot, seed)


def _on_the_head(person: Person, x: Floats, y: Floats, shot: Shot) -> tuple[Floats, Floats]:
    """Return which place of the head is seen where, by undoing its turn step by step."""
    yaw, pitch = np.radians(shot.yaw), np.radians(shot.pitch)
    seen_x, seen_y = x[::4, ::4], y[::4, ::4]
    at_x, at_y = seen_x, seen_y
    for _ in range(5):
        out = cv2.GaussianBlur(relief(person, at_x, at_y, shot.smile), (0, 0), 1.5) - 0.45
        at_x = ((seen_x - out * np.sin(yaw)) / np.cos(yaw)).astype(np.float32)
        at_y = ((seen_y - out * np.sin(pitch)) / np.cos(pitch)).astype(np.float32)
    size = (x.shape[1], x.shape[0])
    moved_x = cv2.resize((at_x - seen_x).astype(np.float32), size)
    moved_y = cv2.resize((at_y - seen_y).astype(np.float32), size)
    return x + moved_x, y + moved_y


def _light(out: Floats, unit: float, shot: Shot) -> tuple[Floats, Floats, Floats]:
    """Return how brightly each place is lit, where it shines, and how hollow it is."""
    down, right = np.gradient(out, 1 / unit)
    normal = np.stack([-right, -down, np.ones_like(out)], -1)
    normal /= np.linalg.norm(normal, axis=-1, keepdims=True)
    light = np.asarray(shot.light, np.float32)
    light = light / np.linalg.norm(light)
    half = light + np.asarray((0, 0, 1), np.float32)
    half = half / np.linalg.norm(half)
    lit = np.clip((normal @ light + 0.28) / 1.28, 0, 1)
    shine = np.clip(normal @ half, 0, 1) ** 26
    hollow = np.clip(1 + 2.2 * (out - cv2.GaussianBlur(out, (0, 0), unit * 0.10)), 0.55, 1.12)
    return lit.astype(np.float32), shine.astype(np.float32), hollow.astype(np.float32)


def _wall(person: Person, down: Floats, right: Floats) -> Floats:
    shade = 1 - 0.10 * down + 0.06 * bell(right - 0.5, down - 0.4, 0.35, 0.35)
    found: Floats = np.asarray(person.wall, np.float32) * shade[..., None]
    return found


def _body(person: Person, image: Floats, x: Floats, y: Floats) -> Floats:
    """Put neck and clothes below the head."""
    broad = 0.56 + 0.10 * person.is_square
    neck = step(broad - np.abs(x) + 0.10 * np.clip(y - 1.5, 0, 2), 40) * step(y - 0.8, 40)
    shade = 0.42 + 0.5 * np.sqrt(np.clip(1 - (x / 0.72) ** 2, 0, 1)) - 0.34 * step(1.72 - y, 8)
    skin_here = np.asarray(person.skin, np.float32) * np.clip(shade, 0.15, 1)[..., None]
    image = image * (1 - neck[..., None]) + skin_here * neck[..., None]
    shoulders = 1.72 + 0.22 * person.is_square
    edge = 1.93 + 0.34 * (np.abs(x) / shoulders) ** 2.2
    neckline = np.where(np.abs(x) < 0.62, 1.86 + 0.42 * np.clip(0.5 - np.abs(x), 0, 1), 0)
    clothes = step(y - np.maximum(edge - 0.08, neckline), 45)
    clothes = clothes * step(shoulders * 1.2 - np.abs(x), 20)
    fall = np.clip(0.86 - 0.22 * np.abs(x - 0.25) / shoulders, 0.3, 1.1)
    cloth = np.asarray(person.clothes, np.float32) * fall[..., None]
    found: Floats = image * (1 - clothes[..., None]) + cloth * clothes[..., None]
    return found


def _as_seen(image: Floats, shot: Shot, seed: int) -> Image:
    spread = 0.5 + shot.blur
    soft = cv2.GaussianBlur((image * shot.brightness).astype(np.float32), (0, 0), spread)
    noise = np.random.default_rng(seed).normal(0, shot.noise, soft.shape)
    picture: Image = np.clip(soft + noise, 0, 255).astype(np.uint8)
    return picture

"""Ridge patterns of fingers that nobody has, and presses of them on a scanner.

Orientation from cores and deltas (Sherlock and Monro 1993), with a correction that bends it (Vizcaya
and Gerhardt 1996); ridges by filtering noise along it again and again (Cappelli, Maio and Maltoni
2000). Pictures have 500 pixels an inch.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from cadrin.core.credentials.finger.ridges import Floats, Picture

WIDTH, HEIGHT = 400, 500
"""Pixels of a scanner's window: 20.3 by 25.4 mm."""
_PAD_WIDTH, _PAD_HEIGHT = 416, 560
# ridges are grown at half the resolution, and made larger afterwards
_HALF_WIDTH, _HALF_HEIGHT = _PAD_WIDTH // 2, _PAD_HEIGHT // 2
_ORIENTATIONS = 24
_PERIODS = (3.7, 4.2, 4.8, 5.5)
_ROUNDS = 9


@dataclass(frozen=True, slots=True)
class Press:
    """How a finger is laid on a scanner.

    ``wetness`` is below 0 for a dry finger and above for a wet one; ``area`` the share of the pad
    that touches, ``roughness`` from 0 (clean) to 1; turned in degrees, moved in pixels.
    """

    wetness: float = 0.0
    roughness: float = 0.1
    area: float = 1.0
    turned: float = 0.0
    right: float = 0.0
    down: float = 0.0
    distortion: float = 1.0
    creases: int = 1


def random_press(random: np.random.Generator, *, hard: bool = False) -> Press:
    """Return how somebody might press: as people do at a desk, or hard to read."""
    poor = random.uniform(0.35, 0.85) if hard else random.uniform(0.0, 0.4)
    turn, shift = (16, 24) if hard else (7, 8)
    return Press(
        wetness=float(random.normal(0, 0.22) + poor * random.choice([-0.5, 0.5])),
        roughness=float(poor),
        area=float(random.uniform(0.5, 0.9) if hard else random.uniform(0.9, 1.0)),
        turned=float(random.normal(0, turn)),
        right=float(random.normal(0, shift)),
        down=float(random.normal(0, shift)),
        distortion=1.6 if hard else 0.8,
        creases=int(random.poisson(1.5 + 5 * poor)),
    )


@lru_cache(maxsize=16)
def ridges_of(seed: int) -> Floats:
    """Return the ridge pattern of a finger, from -1 (valley) to 1 (ridge); always the same for a
    seed.
    """
    random = np.random.default_rng(seed)
    angles = _orientation(random)
    stretch = 1 + _noise(random, (_HALF_HEIGHT, _HALF_WIDTH), 25, 0.07)
    periods = np.clip(random.normal(4.5, 0.22) * stretch, _PERIODS[0], _PERIODS[-1])
    by_angle = np.rint(angles / np.pi * _ORIENTATIONS).astype(int) % _ORIENTATIONS
    by_period = np.abs(np.log(periods[..., None] / np.array(_PERIODS))).argmin(-1)
    chosen = by_period * _ORIENTATIONS + by_angle
    wanted = np.unique(chosen)
    kernels = _kernels()
    pattern = random.standard_normal((_HALF_HEIGHT, _HALF_WIDTH)).astype(np.float32)
    for _ in range(_ROUNDS):
        filtered = np.zeros_like(pattern)
        for index in wanted:
            here = chosen == index
            answer = cv2.filter2D(pattern, -1, kernels[index], borderType=cv2.BORDER_REFLECT)
            filtered[here] = answer[here]
        strength = np.sqrt(cv2.GaussianBlur(filtered * filtered, (0, 0), 5)) + 1e-6
        pattern = np.tanh(1.6 * filtered / strength).astype(np.float32)
    large = cv2.resize(pattern, (_PAD_WIDTH, _PAD_HEIGHT), interpolation=cv2.INTER_CUBIC)
    ridges: Floats = np.tanh(1.8 * large).astype(np.float32)
    return ridges


@lru_cache(maxsize=1)
def _kernels() -> Sequence[Floats]:
    """Return a kernel for each period and orientation that keeps ridges of it and nothing flat."""
    reach = 8
    rows, columns = np.mgrid[-reach : reach + 1, -reach : reach + 1].astype(np.float32)
    kernels = []
    for period in _PERIODS:
        for orientation in range(_ORIENTATIONS):
            angle = np.pi * orientation / _ORIENTATIONS
            across = -columns * np.sin(angle) - rows * np.cos(angle)
            bell = np.exp(-(columns**2 + rows**2) / (2 * (0.5 * period) ** 2))
            kernel = bell * np.cos(2 * np.pi * across / period)
            kernel -= bell * (kernel.sum() / bell.sum())
            kernels.append((kernel / np.abs(kernel).sum()).astype(np.float32))
    return kernels


def _noise(
    random: np.random.Generator, shape: tuple[int, int], grain: float, size: float
) -> Floats:
    """Return smooth noise; ``grain`` is its width in pixels, ``size`` its standard deviation."""
    step = max(1, int(grain / 3))
    small: Floats = random.standard_normal((shape[0] // step + 4, shape[1] // step + 4)).astype(
        np.float32
    )
    small = cv2.GaussianBlur(small, (0, 0), grain / step)
    if step > 1:
        small = cv2.resize(small, None, fx=step, fy=step, interpolation=cv2.INTER_LINEAR)
    cut = small[: shape[0], : shape[1]]
    return cut * np.float32(size / (cut.std() + 1e-9))


Points = list[tuple[float, float]]


def _arch(random: np.random.Generator, right: Floats, up: Floats) -> Floats:
    bend = random.uniform(0.9, 1.4)
    middle, spread = random.uniform(-70, -10), random.uniform(110, 150)
    profile = np.exp(-(((up - middle) / spread) ** 2))
    wave = np.sin(np.pi * np.clip(right / (0.55 * _PAD_WIDTH), -1, 1))
    return np.arctan(-bend * profile * wave).astype(np.float32)


def _singular_points(random: np.random.Generator, kind: str) -> tuple[Points, Points]:
    """Return the cores and deltas of a kind of pattern, from the middle of the pad, up being
    positive.
    """
    x, y = random.uniform(-18, 18), random.uniform(-20, 50)
    if kind == "whorl":
        gap, tilt = random.uniform(10, 55), random.uniform(-0.9, 0.9)
        dx, dy = -gap * np.sin(tilt) / 2, gap * np.cos(tilt) / 2
        left = (x - random.uniform(100, 140), y - random.uniform(105, 160))
        right = (x + random.uniform(100, 140), y - random.uniform(105, 160))
        return [(x + dx, y + dy), (x - dx, y - dy)], [left, right]
    if kind == "tented arch":
        return [(x, y)], [(x + random.uniform(-12, 12), y - random.uniform(60, 100))]
    side = 1 if kind == "left loop" else -1
    return [(x, y)], [(x + side * random.uniform(85, 135), y - random.uniform(110, 165))]


# shares of the kinds of pattern among people, from memory of Cappelli and others
_KINDS = {
    "arch": 0.037,
    "tented arch": 0.029,
    "left loop": 0.338,
    "right loop": 0.317,
    "whorl": 0.279,
}


def _orientation(random: np.random.Generator) -> Floats:
    """Return the direction of the ridges, 0 to pi, at half the resolution; up is positive."""
    kind = str(random.choice(list(_KINDS), p=list(_KINDS.values())))
    rows, columns = np.mgrid[0:_HALF_HEIGHT, 0:_HALF_WIDTH].astype(np.float32) * 2
    right, up = columns - _PAD_WIDTH / 2, _PAD_HEIGHT / 2 - rows
    if kind == "arch":
        angles = _arch(random, right, up)
    else:
        cores, deltas = _singular_points(random, kind)
        angles = np.zeros(right.shape, np.float32)
        for points, sign in ((cores, 1), (deltas, -1)):
            for x, y in points:
                seen = np.arctan2(up - y, right - x)
                a, b, c, d = random.uniform(-1, 1, 4) * (0.18, 0.18, 0.09, 0.09)
                bent = seen + a * np.cos(seen) + b * np.sin(seen)
                bent += c * np.cos(2 * seen) + d * np.sin(2 * seen)
                angles += sign * 0.5 * bent
        # ridges arch above the core
        x, y = cores[0]
        above = 1 / (1 + np.exp(-(up - y + 20) / 45))
        angles += -random.uniform(0.55, 0.85) * np.tanh((right - x) / 95) * above
    wavy = angles + _noise(random, (_HALF_HEIGHT, _HALF_WIDTH), 22, 0.05)
    return (np.angle(np.exp(2j * wavy)) / 2 % np.pi).astype(np.float32)


def pressed(ridges: Floats, how: Press, seed: int) -> Picture:
    """Return what a scanner sees: dark ridges on a light ground, 400 by 500 pixels."""
    random = np.random.default_rng(seed)
    noise: Callable[[float, float], Floats] = lambda grain, size: _noise(  # noqa: E731
        random, (HEIGHT, WIDTH), grain, size
    )
    u, v = _on_the_pad(random, how, noise)
    ridge = cv2.remap(ridges, u, v, cv2.INTER_LINEAR, borderValue=0)
    rough = noise(1.6, 0.28 + 0.55 * how.roughness) + noise(22, 0.15 + 0.35 * how.roughness)
    ink = 1 / (1 + np.exp(-(ridge + np.float32(how.wetness) + rough) * 5))
    across, along = random.uniform(145, 165) * how.area, random.uniform(190, 225) * how.area
    # a small part of the pad may be any part of it
    x = _PAD_WIDTH / 2 + random.normal(0, 11 / how.area**2)
    y = _PAD_HEIGHT / 2 + random.normal(0, 15 / how.area**2)
    edge = 1 - (((u - x) / across) ** 2 + ((v - y) / along) ** 2) + noise(14, 0.05)
    ink *= 1 / (1 + np.exp(-np.clip(edge, -2, 2) * 22)) * (1 - 0.2 * how.roughness)
    ink *= _creases(random, how.creases)
    light = 238 - 200 * cv2.GaussianBlur(ink.astype(np.float32), (0, 0), 0.7)
    light += random.normal(0, 4, (HEIGHT, WIDTH)).astype(np.float32) + noise(80, 4)
    picture: Picture = np.clip(light, 0, 255).astype(np.uint8)
    return picture


def _on_the_pad(
    random: np.random.Generator, how: Press, noise: Callable[[float, float], Floats]
) -> tuple[Floats, Floats]:
    """Return for each pixel of the window which pixel of the pad lies on it: turned, moved, and
    drawn out as skin is.
    """
    rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    right, down = columns - WIDTH / 2 - how.right, rows - HEIGHT / 2 - how.down
    turn, size = np.radians(how.turned), 1 + random.normal(0, 0.008)
    u = (np.cos(turn) * right + np.sin(turn) * down) / size + _PAD_WIDTH / 2
    v = (-np.sin(turn) * right + np.cos(turn) * down) / size + _PAD_HEIGHT / 2
    from_middle = ((u - _PAD_WIDTH / 2) / 150) ** 2 + ((v - _PAD_HEIGHT / 2) / 200) ** 2
    drawn = np.clip(from_middle, 0, 1.6)
    pull_x, pull_y = random.normal(0, 3.0 * how.distortion, 2)
    u = u + pull_x * drawn + noise(60, 1.2 * how.distortion)
    v = v + pull_y * drawn + noise(60, 1.2 * how.distortion)
    return u.astype(np.float32), v.astype(np.float32)


def _creases(random: np.random.Generator, count: int) -> Floats:
    """Return how much of the ink creases and scratches leave, from 0 to 1."""
    rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    left = np.ones((HEIGHT, WIDTH), np.float32)
    for _ in range(count):
        x, y, angle = random.uniform(60, 340), random.uniform(60, 440), random.uniform(0, np.pi)
        along = (columns - x) * np.cos(angle) + (rows - y) * np.sin(angle)
        aside = -(columns - x) * np.sin(angle) + (rows - y) * np.cos(angle)
        is_here = np.abs(along) < random.uniform(20, 90) / 2
        left *= (1 - 0.85 * np.exp(-((aside / 1.3) ** 2)) * is_here).astype(np.float32)
    return left

"""Compare two templates: do these minutiae come from one finger?

Each minutia is described by what lies around it, whatever way the finger was turned (after Cappelli,
Ferrara and Maltoni's cylinders, 2010). Pairs that look alike propose how one print lies on the other;
the score is what then lies together, relative to what could.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from cadrin.core.credentials.finger.minutiae import Minutia
from cadrin.core.credentials.finger.ridges import Floats

_RADIUS = 84.0
"""Pixels around a minutia that describe it."""
_SECTORS, _RINGS, _TURNS = 8, 3, 6
DIMENSIONS = _SECTORS * _RINGS * _TURNS
_PROPOSALS = 14
_NEAR = 14.0
_ALIKE = np.radians(24)
_FEWEST = 6
"""Minutiae without which nothing is said."""
_LEAST_COMMON = 18.0

_FULL = 2 * np.pi


class Prints(NamedTuple):
    """Minutiae made ready to be compared: ``points`` has a row for each with x, y and direction in
    radians, ``described`` a unit row of `DIMENSIONS` numbers; zeros where too little lies around.
    """

    points: Floats
    described: Floats


def prints_of(minutiae: Sequence[Minutia]) -> Prints:
    """Make minutiae ready to be compared."""
    rows = [(minutia.x, minutia.y, minutia.angle * _FULL / 256) for minutia in minutiae]
    points = np.array(rows, np.float32).reshape(-1, 3)
    return Prints(points, _described(points))


def _wrapped(angle: Floats) -> Floats:
    wrapped: Floats = (angle + np.pi) % _FULL - np.pi
    return wrapped


def _described(points: Floats) -> Floats:
    count = len(points)
    if count < _FEWEST - 1:
        return np.zeros((count, DIMENSIONS), np.float32)
    right = points[None, :, 0] - points[:, None, 0]
    up = points[:, None, 1] - points[None, :, 1]
    apart = np.hypot(right, up)
    is_near = (apart < _RADIUS) & (apart > 1e-6)
    seen_at = (np.arctan2(up, right) - points[:, None, 2]) % _FULL
    turned = (points[None, :, 2] - points[:, None, 2]) % _FULL
    sectors = np.arange(_SECTORS, dtype=np.float32) * _FULL / _SECTORS
    rings = (np.arange(_RINGS, dtype=np.float32) + 0.5) * _RADIUS / _RINGS
    turns = np.arange(_TURNS, dtype=np.float32) * _FULL / _TURNS
    # the same shift of a pixel is a larger angle close by
    spread = np.clip(13.0 / np.maximum(apart, 8), 0.22, 0.8)[..., None]
    by_sector = np.exp(-0.5 * (_wrapped(seen_at[..., None] - sectors) / spread) ** 2)
    by_ring = np.exp(-0.5 * ((apart[..., None] - rings) / 12.0) ** 2)
    by_turn = np.exp(-0.5 * (_wrapped(turned[..., None] - turns) / 0.42) ** 2)
    by_sector *= is_near[..., None]
    by_both = (by_ring[..., :, None] * by_turn[..., None, :]).reshape(count, count, -1)
    bins = np.matmul(by_sector.transpose(0, 2, 1), by_both).reshape(count, -1)
    bins = np.minimum(bins, 1.0)
    bins[is_near.sum(1) < 4] = 0
    length = np.maximum(np.linalg.norm(bins, axis=1, keepdims=True), 1e-9)
    described: Floats = (bins / length).astype(np.float32)
    return described


def similarity(a: Prints, b: Prints) -> float:
    """Return how alike two prints are, from 0 to 1; it is the same both ways round."""
    if len(a.points) > len(b.points):
        a, b = b, a
    if min(len(a.points), len(b.points)) < _FEWEST:
        return 0.0
    alike = a.described @ b.described.T
    best = np.argpartition(-alike.ravel(), min(_PROPOSALS, alike.size - 1))[:_PROPOSALS]
    of_a, of_b = np.unravel_index(best, alike.shape)
    turn = _wrapped(b.points[of_b, 2] - a.points[of_a, 2])
    x, y = _laid_on(a.points, b.points, of_a, of_b, turn)
    near = (x[:, :, None] - b.points[:, 0]) ** 2 + (y[:, :, None] - b.points[:, 1]) ** 2
    turned = np.abs(_wrapped(b.points[:, 2] - (a.points[:, 2] + turn[:, None])[..., None]))
    weight = np.exp(-near / (2 * _NEAR**2)) * (0.25 + 0.75 * np.maximum(alike, 0))
    weight *= (near < (_NEAR * 1.6) ** 2) & (turned < _ALIKE)
    # each minutia counts with the one that fits it best, and only if that one says the same
    is_mutual = (weight == weight.max(2, keepdims=True)) & (weight == weight.max(1, keepdims=True))
    scores = (weight * is_mutual).sum((1, 2))
    place = int(scores.argmax())
    common = _common(x[place], y[place], b.points)
    return min(1.0, float(scores[place]) / max(_LEAST_COMMON, common))


def _laid_on(
    a: Floats, b: Floats, of_a: NDArray[np.intp], of_b: NDArray[np.intp], turn: Floats
) -> tuple[Floats, Floats]:
    """Return where the points of one print lie on the other, for each proposal."""
    cosine, sine = np.cos(turn)[:, None], np.sin(turn)[:, None]
    right, down = a[None, :, 0] - a[of_a, None, 0], a[None, :, 1] - a[of_a, None, 1]
    x = right * cosine + down * sine + b[of_b, None, 0]
    y = -right * sine + down * cosine + b[of_b, None, 1]
    return x, y


def _common(x: Floats, y: Floats, b: Floats) -> float:
    """Return how many minutiae of each lie where the other has some, as one mean number."""

    def inside(px: Floats, py: Floats, qx: Floats, qy: Floats) -> int:
        across = (px > qx.min() - 10) & (px < qx.max() + 10)
        return int((across & (py > qy.min() - 10) & (py < qy.max() + 10)).sum())

    of_a = inside(x, y, b[:, 0], b[:, 1])
    of_b = inside(b[:, 0], b[:, 1], x, y)
    return float(np.sqrt(max(of_a, 1) * max(of_b, 1)))

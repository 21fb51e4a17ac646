"""Minutiae: where ridges end and where they fork."""

from collections.abc import Iterable
from enum import IntEnum
from typing import NamedTuple

import cv2
import numpy as np

from cadrin.core.credentials.finger.ridges import Floats, Picture, Ridges, ridges_in
from cadrin.core.credentials.finger.skeleton import (
    CROSSINGS,
    NEIGHBOURS,
    Lines,
    clear_ridges,
    lines_of,
    neighbours_of,
)


class MinutiaKind(IntEnum):
    """As ISO/IEC 19794-2:2005, 7.3.2.1 numbers them."""

    OTHER = 0
    ENDING = 1
    FORK = 2


class Minutia(NamedTuple):
    """A minutia: pixels from the upper left corner; ``angle`` in 256ths of a turn,
    counter-clockwise from the right; ``quality`` from 1 to 100, 0 for not known.
    """

    kind: MinutiaKind
    x: int
    y: int
    angle: int
    quality: int = 0


_FOLLOWED = 16
"""Pixels along which a ridge is followed."""
_SHORTEST = 9
"""Pixels below which a ridge between two minutiae is a fault of the picture."""
_FROM_EDGE = 14
_GAP = 11
"""Pixels across which two ends that look at each other are one ridge, broken."""
_TOO_MANY = 7
"""Minutiae within two ridges around, where there is no finger but a blotch."""
_MOST = 254


def minutiae_in(picture: Picture) -> tuple[Minutia, ...]:
    """Return the minutiae in a picture of a finger, best first."""
    ridges = ridges_in(picture)
    return () if ridges is None else minutiae_of(clear_ridges(picture, ridges), ridges)


def minutiae_of(clear: Floats, ridges: Ridges) -> tuple[Minutia, ...]:
    """Return the minutiae of ridges that were made clear, best first, without those that the
    picture's faults made.
    """
    lines = lines_of(clear, ridges)
    from_edge = cv2.distanceTransform(ridges.is_finger.astype(np.uint8), cv2.DIST_L2, 3)
    clarity = _clarity(clear, ridges)
    found = _true_ones(_traced(lines))
    kept = [
        Minutia(end.kind, end.x, end.y, end.angle, _quality_of(end, clarity))
        for end in found
        if from_edge[end.y, end.x] >= _FROM_EDGE
    ]
    return tuple(sorted(kept, key=lambda minutia: -minutia.quality)[:_MOST])


def _clarity(clear: Floats, ridges: Ridges) -> Floats:
    """Return how clear the ridges are around each pixel, from 0 to 1."""
    strength = cv2.GaussianBlur(np.abs(clear), (0, 0), 6)
    usual = float(np.percentile(strength[ridges.is_finger], 90)) + 1e-6
    clarity: Floats = np.minimum(strength / usual, 1) * ridges.coherence
    return clarity


def _quality_of(end: "_End", clarity: Floats) -> int:
    return int(np.clip(round(100 * float(clarity[end.y, end.x])), 1, 100))


class _End(NamedTuple):
    """A minutia as it was traced, with the points at which the ridges from it were left."""

    kind: MinutiaKind
    x: int
    y: int
    angle: int
    lengths: tuple[int, ...]


def _traced(lines: Lines) -> list[_End]:
    """Return every end and fork of the lines, with its direction."""
    around = neighbours_of(lines)
    crossings = CROSSINGS[around] * lines
    padded = [bytearray(row) for row in np.pad(lines, 1)]
    kinds = {1: MinutiaKind.ENDING, 3: MinutiaKind.FORK}
    found = []
    marked = np.pad((crossings == 1) | (crossings >= 3), 1).astype(np.uint8)
    is_minutia = [bytearray(row) for row in marked]
    for y, x in np.argwhere((crossings == 1) | (crossings == 3)):
        kind = kinds[int(crossings[y, x])]
        branches = [
            _follow(padded, is_minutia, int(y), int(x), step)
            for step in _first_steps(int(around[y, x]))
        ]
        angle = _direction(branches, int(y), int(x))
        lengths = tuple(len(branch) if is_cut else -len(branch) for branch, is_cut in branches)
        found.append(_End(kind, int(x), int(y), angle, lengths))
    return found


def _first_steps(bits: int) -> list[int]:
    """Return one neighbour for each line that leaves a pixel; straight ones before slanting ones."""
    steps = []
    for n in range(8):
        if bits >> n & 1 and not bits >> (n - 1) % 8 & 1:
            run = [n]
            while bits >> (run[-1] + 1) % 8 & 1 and len(run) < 8:
                run.append((run[-1] + 1) % 8)
            steps.append(next((m for m in run if m % 2 == 0), run[0]))
    return steps


Branch = tuple[list[tuple[int, int]], bool]


def _follow(
    padded: list[bytearray], is_minutia: list[bytearray], y: int, x: int, step: int
) -> Branch:
    """Follow a line from a minutia; return its points, and whether it came to another minutia."""
    points = [(y + NEIGHBOURS[step][0], x + NEIGHBOURS[step][1])]
    before = (y, x)
    while len(points) < _FOLLOWED:
        row, column = points[-1]
        if is_minutia[row + 1][column + 1]:
            return points, True
        for down, right in _NEAREST_FIRST:
            there = (row + down, column + right)
            if (
                padded[there[0] + 1][there[1] + 1]
                and there != before
                and max(abs(there[0] - before[0]), abs(there[1] - before[1])) > 1
            ):
                before = points[-1]
                points.append(there)
                break
        else:
            return points, True
    return points, False


_NEAREST_FIRST = sorted(NEIGHBOURS, key=lambda step: abs(step[0]) + abs(step[1]))


def _angle_to(points: list[tuple[int, int]], y: int, x: int) -> float:
    row, column = points[min(len(points), _FOLLOWED - 4) - 1]
    return float(np.arctan2(y - row, column - x))


def _direction(branches: Iterable[Branch], y: int, x: int) -> int:
    """Return the direction of a minutia: along the ridge from where it ends; from a fork along the
    valley between the two arms that are closest (ISO/IEC 19794-2:2005, 5.2.3).
    """
    angles = [_angle_to(points, y, x) for points, _ in branches]
    if len(angles) == 1:
        angle = angles[0]
    else:
        pairs = [(i, j) for i in range(len(angles)) for j in range(i)]
        first, second = min(pairs, key=lambda pair: abs(_turn(angles[pair[0]] - angles[pair[1]])))
        angle = angles[first] + _turn(angles[second] - angles[first]) / 2
    return round(angle / (2 * np.pi) * 256) % 256


def _turn(angle: float) -> float:
    return (angle + np.pi) % (2 * np.pi) - np.pi


def _true_ones(ends: list[_End]) -> list[_End]:
    """Leave out short spurs, bridges and islands, ridges that are broken, and blotches."""
    kept = [end for end in ends if not any(0 < length < _SHORTEST for length in end.lengths)]
    if not kept:
        return []
    x = np.array([end.x for end in kept])
    y = np.array([end.y for end in kept])
    angle = np.array([end.angle for end in kept]) * (2 * np.pi / 256)
    is_ending = np.array([end.kind is MinutiaKind.ENDING for end in kept])
    apart = np.hypot(x[:, None] - x, y[:, None] - y)
    np.fill_diagonal(apart, np.inf)
    faces_away = np.cos(angle[:, None] - angle) < -0.7
    # from one end to the other, against the way the ridge runs
    towards = np.arctan2(-(y[None, :] - y[:, None]), x[None, :] - x[:, None])
    is_ahead = np.cos(towards - angle[:, None]) < -0.5
    is_broken = (apart < _GAP) & faces_away & is_ahead & is_ahead.T
    is_broken &= is_ending[:, None] & is_ending
    is_blotch = (apart < 20).sum(1) >= _TOO_MANY
    is_pair = (apart < 6).any(1)
    is_false = is_broken.any(1) | is_blotch | is_pair
    return [end for end, false in zip(kept, is_false, strict=True) if not false]

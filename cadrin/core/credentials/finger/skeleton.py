"""Ridges made clear and thinned to lines one pixel wide."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from cadrin.core.credentials.finger.ridges import Floats, Picture, Ridges

Lines = NDArray[np.uint8]
"""1 on a ridge's line, 0 beside it."""

NEIGHBOURS = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))
"""Row and column of the eight neighbours of a pixel, clockwise from above; neighbour n has bit n."""
_BITS = np.array([[128, 1, 2], [64, 0, 4], [32, 16, 8]], np.float32)
_REACH = 8
"""Pixels to each side that a wave is looked at, and is made even over."""
_SPECK = 40
"""Pixels of a ridge or a hole that is too small to be one."""


def clear_ridges(picture: Picture, ridges: Ridges) -> Floats:
    """Return ridges as positive numbers and valleys as negative ones: waves of the local period
    across the ridges, made even along them (Gabor's filter, turned at every pixel).
    """
    flat = (ridges.ground - picture.astype(np.float32)) / (ridges.contrast + 4)
    clear: Floats = np.zeros_like(flat)
    part = _around(ridges.is_finger)
    clear[part] = _even_waves(flat[part], ridges.direction[part], ridges.period[part])
    return clear


def _around(is_finger: NDArray[np.bool_]) -> tuple[slice, slice]:
    """Return the rows and columns that a finger lies in, with what is looked at beside it."""
    x, y, width, height = cv2.boundingRect(is_finger.astype(np.uint8))
    return (
        slice(max(y - 3 * _REACH, 0), y + height + 3 * _REACH),
        slice(max(x - 3 * _REACH, 0), x + width + 3 * _REACH),
    )


def _even_waves(flat: Floats, direction: Floats, period: Floats) -> Floats:
    rows, columns = np.mgrid[0 : flat.shape[0], 0 : flat.shape[1]].astype(np.float32)
    sine, cosine = np.sin(direction), np.cos(direction)
    # the wave is the same on both sides: by how far away it is
    step = np.cos(2 * np.pi / period)
    waves = [np.ones_like(step), step]
    while len(waves) <= _REACH:  # cos nx from those before it
        waves.append(2 * step * waves[-1] - waves[-2])
    weights = [
        np.float32(np.exp(-(away**2) / (2 * 4.0**2))) * wave for away, wave in enumerate(waves)
    ]
    mean = (2 * sum(weights) - weights[0]) / (2 * _REACH + 1)  # what is flat is no wave
    wave = (weights[0] - mean) * flat
    for away, weight in enumerate(weights[1:], start=1):
        right, down = away * sine, away * cosine
        both: Any = cv2.remap(flat, columns - right, rows - down, cv2.INTER_LINEAR)
        both += cv2.remap(flat, columns + right, rows + down, cv2.INTER_LINEAR)
        wave += (weight - mean) * both
    even: Floats = wave.copy()
    for away in range(1, _REACH + 1):
        right, down = away * cosine, away * sine
        along: Any = cv2.remap(wave, columns + right, rows - down, cv2.INTER_LINEAR)
        along += cv2.remap(wave, columns - right, rows + down, cv2.INTER_LINEAR)
        even += np.float32(np.exp(-(away**2) / (2 * 4.0**2))) * along
    return even


def lines_of(clear: Floats, ridges: Ridges) -> Lines:
    """Return the ridges of a finger as lines one pixel wide."""
    is_ridge = ((clear > 0) & ridges.is_finger).astype(np.uint8)
    is_ridge = _without_specks(is_ridge)
    is_ridge = 1 - _without_specks(1 - is_ridge)
    return thinned(is_ridge)


def _without_specks(found: Lines) -> Lines:
    _, labels, facts, _ = cv2.connectedComponentsWithStats(found, connectivity=4)
    is_kept = facts[:, cv2.CC_STAT_AREA] >= _SPECK
    is_kept[0] = False
    kept: Lines = is_kept[labels].astype(np.uint8)
    return kept


def neighbours_of(lines: Lines) -> NDArray[np.uint8]:
    """Return for each pixel which neighbours are on a line, a bit for each."""
    around: Any = cv2.filter2D(lines, cv2.CV_8U, _BITS, borderType=cv2.BORDER_CONSTANT)
    found: Lines = around
    return found


def _crossings(bits: int) -> int:
    around = [bits >> n & 1 for n in range(8)]
    return sum(not around[n] and around[(n + 1) % 8] for n in range(8))


CROSSINGS = np.array([_crossings(bits) for bits in range(256)], np.uint8)
"""How many lines leave a pixel, by which of its neighbours are on a line (Rutovitz 1966)."""


def _removable(is_second: bool) -> NDArray[np.uint8]:
    """Return the neighbourhoods in which Guo and Hall (1989) take a pixel away, in each half of a
    round.
    """
    table = np.zeros(256, np.uint8)
    for bits in range(256):
        p2, p3, p4, p5, p6, p7, p8, p9 = (bool(bits >> n & 1) for n in range(8))
        parts = (
            (not p2 and (p3 or p4))
            + (not p4 and (p5 or p6))
            + (not p6 and (p7 or p8))
            + (not p8 and (p9 or p2))
        )
        first = (p9 or p2) + (p3 or p4) + (p5 or p6) + (p7 or p8)
        second = (p2 or p3) + (p4 or p5) + (p6 or p7) + (p8 or p9)
        edge = ((p6 or p7 or not p9) and p8) if not is_second else ((p2 or p3 or not p5) and p4)
        table[bits] = parts == 1 and 2 <= min(first, second) <= 3 and not edge
    return table


_HALVES = (_removable(False), _removable(True))


def thinned(found: Lines) -> Lines:
    """Thin what is found to lines one pixel wide, that hang together as before."""
    lines = found.copy()
    while True:
        before = int(lines.sum())
        for table in _HALVES:
            lines &= 1 - table[neighbours_of(lines)]
        if int(lines.sum()) == before:
            return lines

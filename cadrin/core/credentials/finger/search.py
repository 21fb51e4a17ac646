"""Whose finger is this: one print against many."""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from cadrin.core.credentials.finger.comparison import DIMENSIONS, Prints, similarity
from cadrin.core.credentials.finger.ridges import Floats

_DESCRIBED = 24
"""Minutiae of each finger, the best, by which many are looked through."""
_LOOKED_UP = 12
"""Minutiae, those that fit best, that speak for a finger."""
_SHORTLIST = 40
_AT_ONCE = 2_000
"""Fingers in one step, so that a search needs no more than some 200 MB."""


class Match(NamedTuple):
    """A finger that was found, by its key, and how alike it is."""

    key: int
    score: float


class Gallery:
    """Prints of many fingers, ready to be searched. It is added to and taken from, and compares
    those that look most alike in full.
    """

    def __init__(self, prints: Mapping[int, Prints]) -> None:
        self._prints = dict(prints)
        self._keys = list(self._prints)
        self._described = _stacked([self._prints[key] for key in self._keys])

    def __len__(self) -> int:
        return len(self._keys)

    def search(self, probe: Prints, threshold: float, besides: Iterable[int] = ()) -> list[Match]:
        """Return the fingers that reach a threshold, the most alike first, without those named."""
        left_out = set(besides)
        likely = [key for key in self._most_alike(probe) if key not in left_out]
        found = [Match(key, similarity(probe, self._prints[key])) for key in likely]
        kept = [match for match in found if match.score >= threshold]
        return sorted(kept, key=lambda match: -match.score)

    def _most_alike(self, probe: Prints) -> list[int]:
        asked = probe.described[:_DESCRIBED]
        if not self._keys or len(asked) == 0:
            return []
        scores = np.concatenate(
            [
                _scores(asked, self._described[first : first + _AT_ONCE])
                for first in range(0, len(self._keys), _AT_ONCE)
            ]
        )
        count = min(_SHORTLIST, len(scores))
        places: NDArray[np.intp] = np.argpartition(-scores, count - 1)[:count]
        return [self._keys[place] for place in places]


def _stacked(prints: Sequence[Prints]) -> Floats:
    """Return the described minutiae of each finger, as many for each: (fingers, minutiae,
    dimensions).
    """
    stacked = np.zeros((len(prints), _DESCRIBED, DIMENSIONS), np.float32)
    for place, print_ in enumerate(prints):
        best = print_.described[:_DESCRIBED]
        stacked[place, : len(best)] = best
    return stacked


def _scores(asked: Floats, fingers: Floats) -> Floats:
    """Return for each finger how well its minutiae answer to those that are asked for."""
    alike = asked @ fingers.reshape(-1, DIMENSIONS).T
    nearest = alike.reshape(len(asked), len(fingers), _DESCRIBED).max(2)
    count = min(_LOOKED_UP, len(asked))
    best: Floats = np.partition(nearest, len(asked) - count, axis=0)[-count:].mean(0)
    return best

"""Exports on their way: each takes one of the server's threads for as long as its reader is slow."""

import threading
from collections import Counter
from collections.abc import Generator, Iterator

MOST_AT_ONCE, MOST_OF_ONE = 8, 2
"""So many in all, and of one operator: enough threads are left for everything else."""


class Sendings:
    """Counts the exports that are made or sent just now."""

    def __init__(self) -> None:
        self._of: Counter[str] = Counter()
        self._guard = threading.Lock()

    def begin(self, whose: str) -> bool:
        """Take a place, and say whether there was one; whoever has it must `end` it."""
        with self._guard:
            if self._of[whose] >= MOST_OF_ONE or self._of.total() >= MOST_AT_ONCE:
                return False
            self._of[whose] += 1
            return True

    def end(self, whose: str) -> None:
        with self._guard:
            self._of[whose] -= 1


class Sending:
    """The pieces of an export; it gives its place back when it is over, or its reader is gone."""

    def __init__(self, pieces: Iterator[bytes], sendings: Sendings, whose: str) -> None:
        self._pieces, self._sendings, self._whose = pieces, sendings, whose
        self._is_over = False

    def __iter__(self) -> Iterator[bytes]:
        return self

    def __next__(self) -> bytes:
        return next(self._pieces)

    def close(self) -> None:
        """End it; the server does, whatever becomes of its reader."""
        if self._is_over:
            return
        self._is_over = True
        self._sendings.end(self._whose)
        if isinstance(self._pieces, Generator):
            self._pieces.close()


SENDINGS = Sendings()

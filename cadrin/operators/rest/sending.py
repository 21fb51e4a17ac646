"""Files that are sent piece by piece: each takes one of the server's threads for as long as its reader
is slow.
"""

import threading
from collections import Counter
from collections.abc import Generator, Iterable, Iterator
from contextlib import contextmanager

from django.http import StreamingHttpResponse
from rest_framework.request import Request

from cadrin.core.errors import Invalid
from cadrin.operators.actor import name_of_user

MOST_AT_ONCE, MOST_OF_ONE = 8, 2
"""So many in all, and of one operator: enough threads are left for everything else."""


class Sendings:
    """Counts the files that are made or sent just now."""

    def __init__(self) -> None:
        self._of: Counter[str] = Counter()
        self._guard = threading.Lock()

    def begin(self, whose: str) -> "Sending":
        """Take a place. Raises Invalid when there is none."""
        with self._guard:
            if self._of[whose] >= MOST_OF_ONE or self._of.total() >= MOST_AT_ONCE:
                raise Invalid.of("export.too_many")
            self._of[whose] += 1
        return Sending(self, whose)

    def end(self, whose: str) -> None:
        with self._guard:
            self._of[whose] -= 1


SENDINGS = Sendings()


class Sending:
    """A file on its way; its place is given back when it is over, or its reader is gone."""

    def __init__(self, sendings: Sendings, whose: str) -> None:
        self._sendings, self._whose = sendings, whose
        self._pieces: Iterator[bytes | str] = iter(())
        self._is_over = False
        self.has_begun = False

    def answer(self, pieces: Iterable[bytes | str], content_type: str) -> StreamingHttpResponse:
        """Answer with the file; the server reads and closes it."""
        self._pieces, self.has_begun = iter(pieces), True
        return StreamingHttpResponse(self, content_type=content_type)

    def __iter__(self) -> Iterator[bytes | str]:
        return self

    def __next__(self) -> bytes | str:
        return next(self._pieces)

    def close(self) -> None:
        """End it; once more does nothing."""
        if self._is_over:
            return
        self._is_over = True
        self._sendings.end(self._whose)
        if isinstance(self._pieces, Generator):
            self._pieces.close()


@contextmanager
def sending(request: Request) -> Iterator[Sending]:
    """Within this a file is made, and answered with. Raises Invalid where too many are on their way."""
    place = SENDINGS.begin(name_of_user(request.user))
    try:
        yield place
    finally:
        if not place.has_begun:
            place.close()

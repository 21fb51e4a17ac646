"""A bell that rings when there are new reads: pages that wait for news wait for it, and none asks
by itself.
"""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from django.db.models import Max

from cadrin.activity.models import Read
from cadrin.config.database.asking import database

LOOKED_FOR_EVERY_SECONDS = 0.05
MOST_WAITING = 40
"""Each takes one of the server's threads: enough must be left for everything else."""
MOST_WAITING_OF_ONE = 4
"""Pages of one operator that wait at once."""


class Place:
    """Where one page waits, until a newer page of the same operator takes it."""

    def __init__(self, whose: str) -> None:
        self.whose = whose
        self.is_taken = False


class Bell:
    """One for the process: whoever waits has a place, and one thread looks for all of them."""

    def __init__(self) -> None:
        self._rung = threading.Condition()
        self._waiting: list[Place] = []
        self._watch: threading.Thread | None = None
        self.latest = 0
        """The id of the newest read, as far as anybody looked."""

    @contextmanager
    def place(self, whose: str) -> Iterator[Place | None]:
        """Take a place among those that wait; None when there is none left.

        Whoever has as many as one may have loses the oldest: nobody tells the server that a page is
        gone, and one that is loaded anew, or looked at again, must hear of a read at once.
        """
        place = Place(whose)
        with self._rung:
            own = [item for item in self._waiting if item.whose == whose]
            if len(own) >= MOST_WAITING_OF_ONE:
                own[0].is_taken = True
                self._waiting.remove(own[0])
                self._rung.notify_all()
            has_place = len(self._waiting) < MOST_WAITING
            if has_place:
                self._waiting.append(place)
                if self._watch is None:
                    self._watch = threading.Thread(target=self._look, name="bell", daemon=True)
                    self._watch.start()
        try:
            yield place if has_place else None
        finally:
            with self._rung:
                if place in self._waiting:
                    self._waiting.remove(place)

    def wait(self, place: Place, seen: int, seconds: float) -> int:
        """Wait until there is a read newer than the one seen, the place is taken, or for so long;
        return the newest.
        """
        with self._rung:
            self._rung.wait_for(lambda: self.latest > seen or place.is_taken, seconds)
            return self.latest

    def _look(self) -> None:
        """Look for new reads for as long as anybody waits. Asking whether anybody wrote costs some
        microseconds.
        """
        version = None
        try:
            while True:
                now = database().changes_version()
                latest = self.latest
                if now != version:
                    version = now
                    latest = Read.objects.aggregate(latest=Max("id"))["latest"] or 0
                with self._rung:
                    if latest != self.latest:
                        self.latest = latest
                        self._rung.notify_all()
                    if not self._waiting:
                        self._watch = None
                        return
                time.sleep(LOOKED_FOR_EVERY_SECONDS)
        except BaseException:
            with self._rung:
                self._watch = (
                    None  # whoever waits next starts another; those that wait now time out
                )
            raise
        finally:
            connection.close()


BELL = Bell()

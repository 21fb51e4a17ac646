"""A bell that rings when there are new reads: pages that wait for news wait for it, and none asks by itself."""

import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from django.db.models import Max

from cadrin.activity.models import Read

LOOKED_FOR_EVERY_SECONDS = 0.05
MOST_WAITING = 40
"""Each takes one of the server's threads: enough must be left for everything else."""
MOST_WAITING_OF_ONE = 4
"""Pages of one operator that wait at once."""


class Bell:
    """One for the process: whoever waits is counted, and one thread looks for all of them."""

    def __init__(self) -> None:
        self._rung = threading.Condition()
        self._waiting: Counter[str] = Counter()
        self._watch: threading.Thread | None = None
        self.latest = 0
        """The id of the newest read, as far as anybody looked."""

    @contextmanager
    def place(self, whose: str) -> Iterator[bool]:
        """Take a place among those that wait; False when there is none left, in all or for this one."""
        with self._rung:
            has_place = self._waiting.total() < MOST_WAITING and self._waiting[whose] < MOST_WAITING_OF_ONE
            if has_place:
                self._waiting[whose] += 1
                if self._watch is None:
                    self._watch = threading.Thread(target=self._look, name="bell", daemon=True)
                    self._watch.start()
        try:
            yield has_place
        finally:
            if has_place:
                with self._rung:
                    self._waiting[whose] -= 1
                    self._waiting += Counter()  # without those that have come to nothing

    def wait(self, seen: int, seconds: float) -> int:
        """Wait until there is a read newer than the one seen, or for so long; return the newest."""
        with self._rung:
            self._rung.wait_for(lambda: self.latest > seen, seconds)
            return self.latest

    def _look(self) -> None:
        """Look for new reads for as long as anybody waits. Asking whether anybody wrote costs some microseconds."""
        version = None
        try:
            while True:
                now = _data_version()
                latest = self.latest
                if now != version:
                    version = now
                    latest = Read.objects.aggregate(latest=Max("id"))["latest"] or 0
                with self._rung:
                    if latest != self.latest:
                        self.latest = latest
                        self._rung.notify_all()
                    if not self._waiting.total():
                        self._watch = None
                        return
                time.sleep(LOOKED_FOR_EVERY_SECONDS)
        except BaseException:
            with self._rung:
                self._watch = None  # whoever waits next starts another; those that wait now time out
            raise
        finally:
            connection.close()


BELL = Bell()


def _data_version() -> int:
    """Return a number that moves when another connection has written (SQLite, PRAGMA data_version)."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA data_version")
        return int(cursor.fetchone()[0])

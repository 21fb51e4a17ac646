"""Whose turn it is to write: one at a time, in the order in which they came, and nobody waits for
ever.
"""

import fcntl
import threading
import time
from collections import deque
from pathlib import Path
from typing import IO

from cadrin.config.database.busy import WriterBusy

LOOKED_FOR_EVERY_SECONDS = 0.001


class Queue:
    """The threads of one process that want to write: first come, first served."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._waiting: deque[threading.Event] = deque()
        self._is_taken = False
        self.had_by = ""
        """The thread whose turn it is, for whoever waited in vain."""

    def enter(self, seconds: float) -> bool:
        """Wait for one's turn for at most so long, and say whether it came."""
        with self._lock:
            if not self._is_taken:
                self._is_taken = True
                return True
            mine = threading.Event()
            self._waiting.append(mine)
        if mine.wait(seconds):
            return True
        with self._lock:
            if mine.is_set():  # it came just now
                return True
            self._waiting.remove(mine)
            return False

    def leave(self) -> None:
        with self._lock:
            if self._waiting:
                self._waiting.popleft().set()
            else:
                self._is_taken = False


_queues: dict[str, Queue] = {}


class Turn:
    """The right to write to a database file: among this process's threads by a queue, among
    processes by two locks.

    Whoever waits for the turn holds the gate meanwhile, and whoever had the turn must come through
    the gate again: so a process that writes without a pause lets another in after each write.
    """

    def __init__(self, database: str) -> None:
        self.database = database
        self._queue = _queues.setdefault(database, Queue())
        self._held: IO[bytes] | None = None

    @property
    def is_held(self) -> bool:
        return self._held is not None

    def take(self, patience_seconds: float) -> None:
        """Wait for the turn, in vain at most so long: then raise WriterBusy."""
        deadline = time.monotonic() + patience_seconds
        if not self._queue.enter(patience_seconds):
            raise WriterBusy(
                f"database is locked: {self._queue.had_by} has been writing for too long"
            )
        self._queue.had_by = threading.current_thread().name
        try:
            with self._locked("gate", deadline):
                self._held = self._locked("turn", deadline)
        except BaseException:
            self._queue.leave()
            raise

    def _locked(self, name: str, deadline: float) -> IO[bytes]:
        file = Path(f"{self.database}.{name}").open("ab")  # noqa: SIM115 - held until the turn ends
        while True:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                return file
            except BlockingIOError:
                if time.monotonic() >= deadline:
                    file.close()
                    raise WriterBusy(
                        "database is locked: another process has been writing for too long"
                    ) from None
                time.sleep(LOOKED_FOR_EVERY_SECONDS)

    def end(self) -> None:
        if self._held is not None:
            self._held.close()  # which lets go of the lock
            self._held = None
            self._queue.leave()

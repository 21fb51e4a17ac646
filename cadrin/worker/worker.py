"""The worker: turns marks into records, and keeps a line to every controller. Safe to stop at any
point.
"""

import logging
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterable
from datetime import UTC, datetime
from functools import partial
from typing import NamedTuple

from django.db import DatabaseError, OperationalError, connection, transaction

from cadrin.activity.commands.reads import take_events
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.config.database.asking import database
from cadrin.core.records.waiting import wait_after
from cadrin.delivery.beats import WORKER, beat
from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.delivery.incidents import note_incident
from cadrin.delivery.line import LINES_AT_WORK_AT_ONCE, Line
from cadrin.delivery.wanted import take_marks
from cadrin.delivery.wire import Wire
from cadrin.intake.work import IntakeWork
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.queries import controllers
from cadrin.worker.bells import Bells, Last, listen
from cadrin.worker.jobs import JOBS
from cadrin.worker.schedule import JobSchedule

logger = logging.getLogger("cadrin.worker")

MARKS, THE_JOBS, LISTS = "marks", "jobs", "lists"
"""What one worker does for all: where several work, whoever came first, until it ends."""
MARKS_ARE_TAKEN_EVERY_SECONDS = 1.0
JOBS_ARE_LOOKED_FOR_EVERY_SECONDS = 1.0
WRITERS_ARE_LOOKED_FOR_EVERY_SECONDS = 0.02
PAUSE_BETWEEN_STEPS_SECONDS = 0.002
"""Enough for whoever waits for the writer's lock to get it."""
LINES_TURN_EVERY_SECONDS = 1.0
"""Where nothing rings before: a controller that says nothing is heard of all the same."""
BEATS_EVERY_SECONDS = 1.0
THE_LOG_IS_EMPTIED_EVERY_SECONDS = 1.0
LINES_ARE_LOOKED_AFTER_EVERY_SECONDS = 2.0
INTAKES_ARE_LOOKED_FOR_EVERY_SECONDS = 0.3


class _End(NamedTuple):
    """Where a controller listens, and the key it knows, sealed."""

    address: str
    sealed_key: str


class Worker:
    def __init__(self, stop: threading.Event) -> None:
        self._stop = stop
        self._lines: dict[int, threading.Thread] = {}
        self._ends: dict[int, _End] = {}
        self._bells = Bells()
        self._last: dict[int, Last] = {}
        self._listeners: dict[int, threading.Thread] = {}
        # the controllers whose lines no other worker has
        self._own: set[int] = set()
        # of each line, how often there was something new for it
        self._news: Counter[int] = Counter()
        self._turnstile = threading.Semaphore(LINES_AT_WORK_AT_ONCE)
        self._done_at: dict[object, float] = {}

    def run(self) -> None:
        """Work until told to stop."""
        beside = [
            threading.Thread(target=self._do_jobs, name="jobs"),
            threading.Thread(target=self._do_intakes, name="intakes"),
            threading.Thread(target=self._empty_the_log, name="log"),
        ]
        for thread in beside:
            thread.start()
        while not self._stop.is_set():
            if self._is_due(self._open_lines, LINES_ARE_LOOKED_AFTER_EVERY_SECONDS):
                self._guard(self._open_lines)
            before = _version()
            is_done = not self._guard(self._take_marks)
            if self._is_due(beat, BEATS_EVERY_SECONDS):
                self._guard(_beat)
            if is_done:
                self._wait_for_writers(before, MARKS_ARE_TAKEN_EVERY_SECONDS)
            else:
                self._stop.wait(PAUSE_BETWEEN_STEPS_SECONDS)
        self._ring()
        for thread in (*beside, *self._lines.values(), *self._listeners.values()):
            thread.join()
        connection.close()

    def _take_marks(self) -> int:
        """Weigh what was marked, and go on with bulk changes. Where another worker does it, the lines of
        this one look for themselves.
        """
        if not database().holds(MARKS):
            self._ring()
            return 0
        return take_marks(utc_now(), ring=self._ring) + work_on_bulk_changes(utc_now())

    def _ring(self, controller_ids: Iterable[int] | None = None) -> None:
        """Tell lines that there is something new for them; all of them where nobody says which."""
        for id_ in list(self._lines) if controller_ids is None else controller_ids:
            self._news[id_] += 1
            self._bells.ring(id_)

    def _wait_for_writers(self, before: int | None, seconds: float) -> None:
        """Wait until somebody wrote to the database since a version of it, which takes some
        microseconds to ask, or for so long.
        """
        until = time.monotonic() + seconds
        while time.monotonic() < until and before == _version():
            if self._stop.wait(WRITERS_ARE_LOOKED_FOR_EVERY_SECONDS):
                return

    def _do_jobs(self) -> None:
        """Do what is due, beside the deliveries: a mail server that does not answer holds up no
        door.
        """
        schedule: JobSchedule | None = None

        def run_due() -> int:
            nonlocal schedule
            if not database().holds(THE_JOBS):
                schedule = None
                return 0
            schedule = schedule or JobSchedule(JOBS, utc_now)
            schedule.run_due()
            return 1

        try:
            while not self._stop.wait(JOBS_ARE_LOOKED_FOR_EVERY_SECONDS):
                self._guard(run_due)
        finally:
            connection.close()

    def _do_intakes(self) -> None:
        """Judge, write and take back lists, beside the deliveries: a long one holds up no door."""
        work = IntakeWork()

        def step() -> int:
            if not database().holds(LISTS):
                return 0
            return work.step(utc_now, lambda: not self._stop.is_set())

        try:
            while not self._stop.is_set():
                is_done = not self._guard(step)
                self._stop.wait(
                    INTAKES_ARE_LOOKED_FOR_EVERY_SECONDS if is_done else PAUSE_BETWEEN_STEPS_SECONDS
                )
        finally:
            connection.close()

    def _empty_the_log(self) -> None:
        """Checkpoint, in a thread of its own: it waits for the disk, and nothing else shall."""
        try:
            while not self._stop.wait(THE_LOG_IS_EMPTIED_EVERY_SECONDS):
                self._guard(database().checkpoint)
        finally:
            connection.close()

    def _is_due(self, work: object, every_seconds: float) -> bool:
        now = time.monotonic()
        if now < self._done_at.get(work, float("-inf")) + every_seconds:
            return False
        self._done_at[work] = now
        return True

    def _open_lines(self) -> int:
        """Keep a line to every controller that is there: new ones come, others listen elsewhere or know
        another key, and those that are taken out of use are left.
        """
        self._ends = {one.pk: _End(one.address, one.sealed_key) for one in controllers()}
        for controller_id in self._ends:
            kept = self._lines.get(controller_id)
            if kept is None or not kept.is_alive():
                line = threading.Thread(
                    target=self._keep_line, args=(controller_id,), name=f"line {controller_id}"
                )
                self._lines[controller_id] = line
                line.start()
        return len(self._ends)

    def _has_line(self, controller_id: int) -> bool:
        """Say whether the line of a controller is this worker's, and listen to the controller if so.
        Call it in the thread of the line.
        """
        if not database().holds(f"line {controller_id}"):
            self._own.discard(controller_id)
            return False
        self._own.add(controller_id)
        listens = self._listeners.get(controller_id)
        if listens is None or not listens.is_alive():
            listener = threading.Thread(
                target=self._listen, args=(controller_id,), name=f"events {controller_id}"
            )
            self._listeners[controller_id] = listener
            listener.start()
        return True

    def _listen(self, controller_id: int) -> None:
        """Ring when a controller has something to tell, for as long as it listens where it does."""
        end = self._ends.get(controller_id)
        if end is None:
            return
        wire = Wire(end.address, key_of_controller(controller_id))
        try:
            listen(
                wire,
                lambda: self._last.get(controller_id),
                lambda: self._bells.ring(controller_id),
                lambda: (
                    self._stop.is_set()
                    or self._ends.get(controller_id) != end
                    or controller_id not in self._own
                ),
                self._stop.wait,
            )
        finally:
            wire.close()
            connection.close()

    def _keep_line(self, controller_id: int) -> None:
        wire: Wire | None = None
        line: Line | None = None
        end = self._ends.get(controller_id)

        seen, silent = -1, 0

        def turn() -> bool:
            nonlocal end, line, seen, wire
            if wire and end != self._ends.get(controller_id):
                wire.close()
                wire = line = None
            end = self._ends.get(controller_id)
            if end is None:
                return True
            if not self._has_line(controller_id):
                self._stop.wait(LINES_TURN_EVERY_SECONDS)
                return True
            wire = wire or Wire(end.address, key_of_controller(controller_id))
            line = line or Line(controller_id, wire, take_events, self._turnstile)
            if not (silent or line.is_busy) and seen != -1:
                self._bells.wait(controller_id, LINES_TURN_EVERY_SECONDS)
            news = self._news[controller_id]
            is_news, seen = news != seen, news
            try:
                answered = line.turn(utc_now, is_news=is_news)
                self._last[controller_id] = Last(*line.last)
                return answered
            except Exception:
                seen = -1
                raise

        def tell(error: Exception) -> int:
            if isinstance(error, OperationalError):  # the database was busy: that mends itself
                return 0
            note_incident(controller_id, IncidentKind.FAILED, type(error).__name__, utc_now())
            return 1

        try:
            while not self._stop.is_set() and controller_id in self._ends:
                silent = 0 if self._guard(turn, tell) else silent + 1
                if silent:
                    self._stop.wait(wait_after(silent))
        finally:
            if wire:
                wire.close()
            connection.close()

    def _guard(
        self, work: Callable[[], int], tell: Callable[[Exception], int] | None = None
    ) -> int:
        """Do a step; one that fails is logged, told, and tried again in the next round, and the
        others go on.
        """
        try:
            return work()
        except Exception as error:
            logger.exception("a step of the worker failed and will be tried again")
            _let_go_of_what_broke()
            if tell:
                self._guard(partial(tell, error))
            return 0


def _beat() -> int:
    with transaction.atomic():
        beat(WORKER, utc_now())
    return 1


def _version() -> int | None:
    """Return the version of the database; None where it does not answer."""
    try:
        return database().changes_version()
    except DatabaseError:
        _let_go_of_what_broke()
        return None


def _let_go_of_what_broke() -> None:
    """Close a connection that no longer answers, so that the next step makes another."""
    if not connection.in_atomic_block:
        connection.close_if_unusable_or_obsolete()


def utc_now() -> datetime:
    """Return the clock of a job; everything below takes the instant as an argument."""
    return datetime.now(UTC)

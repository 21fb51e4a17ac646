"""The worker: turns marks into records, and keeps a line to every controller. Safe to stop at any point."""

import logging
import threading
from collections.abc import Callable

from django.db import connection

from cadrin.access.commands.cards import return_temporary_cards
from cadrin.access.queries import controllers
from cadrin.activity.commands.reads import take_events
from cadrin.cards.keypad import forget_typed
from cadrin.delivery.line import Line, utc_now
from cadrin.delivery.wanted import take_marks
from cadrin.delivery.wire import Wire
from cadrin.photos.commands import forget_unsaved
from cadrin.register.batches.steps import work_on_batches

logger = logging.getLogger("cadrin.worker")

MARKS_ARE_TAKEN_EVERY_SECONDS = 0.1
PAUSE_BETWEEN_STEPS_SECONDS = 0.002
"""Enough for whoever waits for the writer's lock to get it."""
EVENTS_ARE_AWAITED_SECONDS = 0.5
SILENCE_IS_TRIED_EVERY_SECONDS = 1.0
CONTROLLERS_ARE_READ_EVERY_ROUNDS = 50


class Worker:
    def __init__(self, stop: threading.Event) -> None:
        self._stop = stop
        self._lines: dict[int, threading.Thread] = {}
        self._steps = 0  # in which marks were taken: the lines have something to do when it moves

    def run(self) -> None:
        """Work until told to stop."""
        rounds = 0
        while not self._stop.is_set():
            if rounds % CONTROLLERS_ARE_READ_EVERY_ROUNDS == 0:
                self._guard(self._open_lines)
                self._guard(lambda: forget_unsaved(utc_now()))
                self._guard(lambda: forget_typed(utc_now()))
                self._guard(lambda: return_temporary_cards(utc_now()))
            rounds += 1
            is_done = not self._guard(lambda: take_marks(utc_now()) + work_on_batches(utc_now()))
            self._steps += not is_done
            self._stop.wait(MARKS_ARE_TAKEN_EVERY_SECONDS if is_done else PAUSE_BETWEEN_STEPS_SECONDS)
        for line in self._lines.values():
            line.join()

    def _open_lines(self) -> int:
        for controller in controllers():
            if controller.pk not in self._lines:
                line = threading.Thread(
                    target=self._keep_line, args=(controller.pk, controller.address), name=controller.name
                )
                self._lines[controller.pk] = line
                line.start()
        return len(self._lines)

    def _keep_line(self, controller_id: int, address: str) -> None:
        wire = Wire(address)
        line: Line | None = None

        seen = -1

        def turn() -> bool:
            nonlocal line, seen
            line = line or Line(controller_id, wire, take_events)
            is_news, seen = self._steps != seen, self._steps
            return line.turn(utc_now, EVENTS_ARE_AWAITED_SECONDS, is_news=is_news)

        try:
            while not self._stop.is_set():
                if not self._guard(turn):
                    self._stop.wait(SILENCE_IS_TRIED_EVERY_SECONDS)
        finally:
            wire.close()
            connection.close()

    def _guard(self, work: Callable[[], int]) -> int:
        """Do a step; one that fails is logged and tried again in the next round, and the others go on."""
        try:
            return work()
        except Exception:
            logger.exception("a step of the worker failed and will be tried again")
            return 0

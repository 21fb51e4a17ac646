"""A bell for the line of each controller: it is rung when there is something to send, and when the
controller has something to tell.
"""

import threading
from collections.abc import Callable
from typing import NamedTuple

from cadrin.core.records.waiting import wait_after
from cadrin.delivery.wire import NoAnswer, Wire

EVENTS_ARE_AWAITED_SECONDS = 1.0
PAUSE_AFTER_RINGING_SECONDS = 0.05
"""The line fetches in this time what it was rung for."""


class Last(NamedTuple):
    """The memory of a controller, and the last event of it that was taken."""

    store: str
    event: int


class Bells:
    """One bell for each line; whoever waits for it hears that it was rung meanwhile too."""

    def __init__(self) -> None:
        self._bells: dict[int, threading.Event] = {}
        self._guard = threading.Lock()

    def _of(self, controller_id: int) -> threading.Event:
        with self._guard:
            return self._bells.setdefault(controller_id, threading.Event())

    def ring(self, controller_id: int) -> None:
        self._of(controller_id).set()

    def wait(self, controller_id: int, seconds: float) -> None:
        """Wait until the bell is rung, or for so long."""
        bell = self._of(controller_id)
        bell.wait(seconds)
        bell.clear()


def listen(
    wire: Wire,
    last: Callable[[], Last | None],
    ring: Callable[[], None],
    is_over: Callable[[], bool],
    pause: Callable[[float], object],
) -> None:
    """Wait at a controller for events, and ring; the line then fetches them in a round of its own.

    Goes on until ``is_over``; ``last`` is what the line has taken, None while it has not begun.
    """
    failures = 0
    while not is_over():
        taken = last()
        if taken is None:
            pause(PAUSE_AFTER_RINGING_SECONDS)
            continue
        try:
            answer, events = wire.events(*taken, EVENTS_ARE_AWAITED_SECONDS)
        except NoAnswer:
            failures += 1
            pause(wait_after(failures))
            continue
        failures = 0
        if events or answer.store != taken.store:
            ring()
            pause(PAUSE_AFTER_RINGING_SECONDS)

"""Who is not ready, kept by the process: to look at everybody anew takes a second where they are many,
and the Desk asks each time.

What one lacks is a matter of the plan, of what is theirs, and of the hour. The plan has its version;
the journal says to whom anything was done since; and when something of somebody begins or ends is
written beside it. So only those are looked at again whom one of the three concerns.
"""

import threading
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection

from cadrin.access.queries import turns_of_memberships
from cadrin.biometrics.queries import turns_of_biometrics
from cadrin.config.database.instants import Turn, Window
from cadrin.credentials.queries import holders_of_limited_cards, turns_of_credentials
from cadrin.journal.queries import Place, last_place, touched_since
from cadrin.outbox.queries import plan_version
from cadrin.people.queries import turns_of_people

LOOKED_AHEAD = timedelta(hours=1)
"""Turns are read for so long; then everybody is looked at anew."""
MOST_LOOKED_AT_AGAIN = 2_000
"""For more it is quicker to look at everybody."""
ABOUT_NOW = timedelta(seconds=10)
"""Requests beside each other do not come in the order of their clocks."""

Ask = Callable[[datetime, frozenset[int] | None], set[int]]
"""Asks the database who lacks something at an instant: everybody, or of some."""


@dataclass
class _Kept:
    """Who lacks something at ``at``, and when the next of those named in ``turns`` may."""

    ids: set[int]
    at: datetime
    until: datetime
    place: Place
    version: str
    turns: set[Turn]


class KeptAnswer:
    """The answer to ``ask``, kept and renewed."""

    def __init__(self, ask: Ask) -> None:
        self._ask = ask
        self._kept: _Kept | None = None
        self._lock = threading.Lock()

    def at(self, at: datetime) -> set[int]:
        """Return who lacks something at ``at``, which is now. Within a transaction, whose changes may
        never come to be, everybody is asked about, and nothing kept.
        """
        if connection.in_atomic_block:
            return self._ask(at, None)
        with self._lock:
            kept = self._kept
            is_near = kept is not None and kept.at - ABOUT_NOW <= at < kept.until
            if kept is None or not is_near or not self._renew(kept, max(at, kept.at)):
                kept = self._begin(at)
            return set(kept.ids)

    def _begin(self, at: datetime) -> _Kept:
        # where the journal ends and the version come first: what is done meanwhile is seen later
        place, version = last_place(), plan_version()
        window = Window(at, at + LOOKED_AHEAD)
        kept = _Kept(
            self._ask(at, None),
            at,
            window.until,
            place or Place(0, ""),
            version,
            set(_turns(window)),
        )
        # without an entry there is nothing by which to see that it is still the same house
        self._kept = kept if place else None
        return kept

    def _renew(self, kept: _Kept, at: datetime) -> bool:
        """Bring what is kept up to now; False where everybody is to be looked at."""
        place, touched = last_place(), touched_since(kept.place, "cardholder")
        if place is None or touched is None or plan_version() != kept.version:
            return False
        due = {turn for turn in kept.turns if turn.at <= at}
        again = frozenset({*touched, *(turn.who for turn in due), *holders_of_limited_cards()})
        if len(again) > MOST_LOOKED_AT_AGAIN:
            return False
        if again:
            kept.ids = (kept.ids - again) | self._ask(at, again)
        if touched:
            others = {turn for turn in kept.turns if turn.who not in touched}
            kept.turns = others.union(_turns(Window(at, kept.until, frozenset(touched))))
        kept.turns -= due
        kept.at, kept.place = at, place
        return True


def _turns(window: Window) -> Iterator[Turn]:
    yield from turns_of_people(window)
    yield from turns_of_memberships(window)
    yield from turns_of_credentials(window)
    yield from turns_of_biometrics(window)

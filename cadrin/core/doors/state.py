"""What changes at doors from read to read: which are open, who waits for a second person, who is
where. It is passed in, and what becomes of it is handed back.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import NamedTuple, Protocol


class Whereabouts(NamedTuple):
    """The area somebody went into last, and when; `OUTSIDE` for outside, None where nobody knows."""

    area_id: int | None
    since: datetime


class Waiting(NamedTuple):
    """Somebody who may come in once another person, or an operator, says so."""

    holder_id: int
    at: datetime
    is_out: bool
    open_seconds: int
    also: int | None = None
    """Whoever came before them and comes in with them."""


@dataclass(frozen=True, slots=True)
class DoorState:
    """One door as it is now. ``granted_at`` is when somebody was last let in."""

    released_until: datetime | None = None
    granted_at: datetime | None = None
    open_since: datetime | None = None
    held_told: bool = False
    first: Waiting | None = None
    asks_consent: Waiting | None = None


SHUT = DoorState()


class House(Protocol):
    """What a decision knows of the state of doors and people."""

    def door(self, door_id: int) -> DoorState: ...
    def where(self, holder_id: int) -> Whereabouts | None: ...
    def count_in(self, area_id: int, since: datetime | None) -> int:
        """Return how many are in an area, without those who went in before an instant."""


class Change(NamedTuple):
    """What a read or a movement of a door changed."""

    doors: Mapping[int, DoorState] = {}
    people: Mapping[int, Whereabouts] = {}


NO_CHANGE = Change()


@dataclass(frozen=True, slots=True)
class Snapshot:
    """A house as plain facts."""

    doors: Mapping[int, DoorState] = field(default_factory=dict)
    people: Mapping[int, Whereabouts] = field(default_factory=dict)

    def door(self, door_id: int) -> DoorState:
        return self.doors.get(door_id, SHUT)

    def where(self, holder_id: int) -> Whereabouts | None:
        return self.people.get(holder_id)

    def count_in(self, area_id: int, since: datetime | None) -> int:
        return sum(
            where.area_id == area_id and (since is None or where.since > since)
            for where in self.people.values()
        )

    def after(self, change: Change) -> "Snapshot":
        """Return the house after a change."""
        return replace(
            self,
            doors={**self.doors, **change.doors},
            people={**self.people, **change.people},
        )


NOBODY_THERE = Snapshot()

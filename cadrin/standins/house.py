"""What a simulated controller knows of its doors and of where people are, and what it does to them."""

from datetime import datetime
from enum import StrEnum
from typing import Any

from cadrin.core.access.plan import Plan
from cadrin.core.decision.events import went
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.locks import lock_at
from cadrin.core.doors.passing import (
    Happening,
    after_consent,
    after_opening,
    after_read,
    after_release,
    after_shutting,
    held_open,
)
from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.doors.state import SHUT, Change, DoorState, Whereabouts
from cadrin.core.records.held import HeldRecords
from cadrin.standins.store import Event, Store


class Move(StrEnum):
    """What somebody does to a door by hand."""

    OPEN = "open"
    SHUT = "shut"
    BUTTON = "button"


class HouseHere:
    """Doors as they are now, and where people are: as it saw itself, or was told, whatever is later.

    Where people are outlives a power cut. Doors are looked at anew: after it they are shut.
    """

    def __init__(self, held: HeldRecords, store: Store) -> None:
        self._store = store
        self._doors: dict[int, DoorState] = {}
        self._asking: dict[int, Event] = {}
        self.renew(held)

    def renew(self, held: HeldRecords) -> None:
        """Go by other records, and by where people were seen last; doors stay as they are."""
        self._held = held
        self._seen = self._store.whereabouts()

    # -- what a decision asks ----------------------------------------------------------------

    def door(self, door_id: int) -> DoorState:
        return self._doors.get(door_id, SHUT)

    def where(self, holder_id: int) -> Whereabouts | None:
        found = (self._seen.get(holder_id), self._held.told.get(holder_id))
        return max(filter(None, found), key=lambda where: where.since, default=None)

    def count_in(self, area_id: int, since: datetime | None) -> int:
        people = self._seen.keys() | self._held.told.keys()
        return sum(
            where is not None
            and where.area_id == area_id
            and (since is None or where.since > since)
            for where in map(self.where, people)
        )

    # -- what happens ------------------------------------------------------------------------

    def follow(self, verdict: Verdict, reader_id: int, at: datetime, event: Event) -> Change:
        """Do what follows from a read; ``event`` is told again if an operator lets them in."""
        change = after_read(verdict, reader_id, self._plan, self, at)
        self._apply(change)
        if verdict.reason is Reason.CONSENT_AWAITED:
            self._asking[self._plan.door_of_reader[reader_id]] = event
        return change

    def release(self, door_id: int, at: datetime) -> None:
        """Unlock a door once, as an operator asked, or whoever pressed the button on the way out."""
        rules = self._plan.doors.get(door_id, ANY_DOOR)
        self._apply(after_release(door_id, rules.open_seconds, self, at))

    def consent(self, door_id: int, at: datetime) -> bool:
        """Let in whoever asked for it, and say whether anybody still did."""
        change = after_consent(door_id, self._plan, self, at)
        asked = self._asking.pop(door_id, None)
        if change is None or asked is None:
            return False
        self._apply(change)
        let_in = {"at": at.isoformat(), "reason": Reason.GRANTED.value, "went": went(change)}
        self._store.add_event({**asked, **let_in})
        return True

    def who_asks(self, door_id: int) -> int | None:
        """Return the cardholder who asks to be let in at a door, as far as it can tell."""
        asked = self._asking.get(door_id, {})
        return int(asked["cardholder"]) if asked.get("cardholder") is not None else None

    def move(self, door_id: int, move: Move, at: datetime) -> None:
        """Open or shut a door, or press the button on its way out."""
        if move is Move.BUTTON:
            if self._plan.doors.get(door_id, ANY_DOOR).has_exit_button:
                self.release(door_id, at)
            return
        happened = (
            after_opening(door_id, self._plan, self, at)
            if move is Move.OPEN
            else after_shutting(door_id, self)
        )
        self._apply(happened.change)
        if happened.happening is not None:
            self._tell(door_id, happened.happening, at)

    def tell_of_held_doors(self, at: datetime) -> bool:
        """Tell of doors that are open for too long, and say whether there were any."""
        found = held_open(tuple(self._doors), self._plan, self, at)
        for door_id, change in found:
            self._apply(change)
            self._tell(door_id, Happening.HELD, at)
        return bool(found)

    # -- for the test bench ------------------------------------------------------------------

    def has_door(self, door_id: int) -> bool:
        return door_id in self._plan.door_of_reader.values()

    def shown(self, at: datetime) -> list[dict[str, Any]]:
        """Tell how each door is now."""
        return [
            {
                "id": door_id,
                "lock": lock_at(door_id, self._plan, self, at).value,
                "is_open": self.door(door_id).open_since is not None,
                "has_exit_button": self._plan.doors.get(door_id, ANY_DOOR).has_exit_button,
            }
            for door_id in sorted(set(self._plan.door_of_reader.values()))
        ]

    @property
    def _plan(self) -> Plan:
        return self._held.plan

    def _apply(self, change: Change) -> None:
        self._doors.update(change.doors)
        self._seen.update(change.people)
        self._store.write_whereabouts(change.people)

    def _tell(self, door_id: int, happening: Happening, at: datetime) -> None:
        self._store.add_event({"at": at.isoformat(), "door": door_id, "happening": happening.value})

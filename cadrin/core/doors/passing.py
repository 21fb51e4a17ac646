"""What becomes of doors and people: after a read, an operator's word, a door that moves, and time."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime, timedelta
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.access.plan import Plan
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.judging import first_of_two, way_at
from cadrin.core.doors.locks import last_hours_ended, lock_at
from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.doors.state import NO_CHANGE, Change, House, Waiting, Whereabouts


class Happening(StrEnum):
    """What a controller tells of a door beside reads."""

    OPENED = "opened"
    SHUT = "shut"
    FORCED = "forced"
    """Opened while it was locked."""
    HELD = "held"
    """Open for too long."""


class Happened(NamedTuple):
    """What happened, and what it changed."""

    happening: Happening | None
    change: Change


def after_read(verdict: Verdict, reader_id: int, plan: Plan, house: House, at: datetime) -> Change:
    """Return what a read changes. Whoever is let in counts as inside (common practice: not every door
    tells whether it was opened).
    """
    door_id = plan.door_of_reader.get(reader_id)
    if door_id is None or verdict.holder is None:
        return NO_CHANGE
    rules, state = plan.doors.get(door_id, ANY_DOOR), house.door(door_id)
    is_out = reader_id in plan.readers_out
    first = first_of_two(state.first, rules, at, is_out=is_out)
    also = first.holder_id if first and first.holder_id != verdict.holder.id else None
    needed = rules.extended_open_seconds if verdict.holder.extended_time else rules.open_seconds
    waiting = Waiting(verdict.holder.id, at, is_out, needed, also)
    match verdict.reason:
        case Reason.GRANTED:
            return _let_through(waiting, door_id, plan, house, at)
        case Reason.SECOND_PERSON_AWAITED:
            return Change({door_id: replace(state, first=waiting)})
        case Reason.CONSENT_AWAITED:
            return Change({door_id: replace(state, first=None, asks_consent=waiting)})
        case _:
            return NO_CHANGE


def _let_through(waiting: Waiting, door_id: int, plan: Plan, house: House, at: datetime) -> Change:
    rules, state = plan.doors.get(door_id, ANY_DOOR), house.door(door_id)
    until = at + timedelta(seconds=waiting.open_seconds)
    opened = replace(
        state,
        released_until=max(until, state.released_until or until),
        granted_at=at,
        first=None,
        asks_consent=None,
        held_told=False,
    )
    destination = way_at(rules, is_out=waiting.is_out).destination
    people = (waiting.holder_id, *(() if waiting.also is None else (waiting.also,)))
    moved = {} if destination is None else dict.fromkeys(people, Whereabouts(destination, at))
    return Change({door_id: opened}, moved)


def after_consent(door_id: int, plan: Plan, house: House, at: datetime) -> Change | None:
    """Let in whoever asked for it; None when nobody asks any more."""
    limit, asked = (
        plan.doors.get(door_id, ANY_DOOR).consent_seconds,
        house.door(door_id).asks_consent,
    )
    if asked is None or limit is None or at - asked.at >= timedelta(seconds=limit):
        return None
    return _let_through(asked, door_id, plan, house, at)


def after_release(door_id: int, seconds: int, house: House, at: datetime) -> Change:
    """Unlock a door once, for nobody in particular: by an operator, or by the button on the way out."""
    state, until = house.door(door_id), at + timedelta(seconds=seconds)
    return Change(
        {
            door_id: replace(
                state, released_until=max(until, state.released_until or until), held_told=False
            )
        }
    )


def after_opening(door_id: int, plan: Plan, house: House, at: datetime) -> Happened:
    """Open a door: it was unlocked, or it was forced. One that is open stays so."""
    state = house.door(door_id)
    if state.open_since is not None:
        return Happened(None, NO_CHANGE)
    opened = Change({door_id: replace(state, open_since=at, held_told=False)})
    is_unlocked = lock_at(door_id, plan, house, at).is_unlocked
    tells = plan.doors.get(door_id, ANY_DOOR).tells_forced
    return Happened(Happening.FORCED if tells and not is_unlocked else Happening.OPENED, opened)


def after_shutting(door_id: int, house: House) -> Happened:
    """Shut a door. It locks at once, so that nobody follows (common practice)."""
    state = house.door(door_id)
    if state.open_since is None:
        return Happened(None, NO_CHANGE)
    shut = replace(state, open_since=None, released_until=None, held_told=False)
    return Happened(Happening.SHUT, Change({door_id: shut}))


def held_open(
    door_ids: Iterable[int], plan: Plan, house: House, at: datetime
) -> tuple[tuple[int, Change], ...]:
    """Return the doors that are open for longer than they may be, and of which nobody was told yet.

    A door may be open while it is unlocked, and for its time after that.
    """
    found = []
    for door_id in door_ids:
        rules, state = plan.doors.get(door_id, ANY_DOOR), house.door(door_id)
        if rules.held_seconds is None or state.open_since is None or state.held_told:
            continue
        if lock_at(door_id, plan, house, at).is_unlocked:
            continue
        since = max(state.open_since, state.released_until or state.open_since)
        since = max(since, last_hours_ended(rules, at) or since)
        if at - since >= timedelta(seconds=rules.held_seconds):
            found.append((door_id, Change({door_id: replace(state, held_told=True)})))
    return tuple(found)

"""When a door is unlocked, and why."""

from datetime import datetime, timedelta

from cadrin.core.access.plan import Plan
from cadrin.core.doors.rules import ANY_DOOR, DoorRules, Lock, Ordered
from cadrin.core.doors.state import DoorState, House
from cadrin.core.schedules import Schedule
from cadrin.core.validity import Span, bounds

_LOOKS_BACK = timedelta(days=8)


def lock_of(rules: DoorRules, state: DoorState, at: datetime) -> Lock:
    """Return why a door is locked or unlocked at an instant. An order comes before all hours."""
    ordered = rules.order_at(at)
    if ordered is Ordered.OPEN:
        return Lock.KEPT_OPEN
    if state.released_until is not None and at < state.released_until:
        return Lock.RELEASED
    if nobody := rules.lets_nobody_in(at):
        return nobody
    if rules.unlocked is None or not rules.unlocked.is_open(at):
        return Lock.LOCKED
    if rules.first_person and not _was_granted_within(rules.unlocked, state, at):
        return Lock.LOCKED
    return Lock.BY_HOURS


def _was_granted_within(hours: Schedule, state: DoorState, at: datetime) -> bool:
    """Say whether somebody was let in since the hours that hold now began."""
    if state.granted_at is None:
        return False
    last = hours.open_spans(Span(at - _LOOKS_BACK, at + timedelta(minutes=1)))
    return bool(last) and bounds(last[-1])[0] <= state.granted_at <= at


def last_hours_ended(rules: DoorRules, at: datetime) -> datetime | None:
    """Return when unlocked hours, or an order to keep it open, ended last, within the days before."""
    ends = [rules.ordered_until] if rules.ordered is Ordered.OPEN else []
    if rules.unlocked is not None:
        ends += [span.end for span in rules.unlocked.open_spans(Span(at - _LOOKS_BACK, at))]
    return max((end for end in ends if end is not None and end <= at), default=None)


def lock_at(door_id: int, plan: Plan, house: House, at: datetime) -> Lock:
    return lock_of(plan.doors.get(door_id, ANY_DOOR), house.door(door_id), at)


def is_in_the_way(door_id: int, plan: Plan, house: House, at: datetime) -> bool:
    """Say whether a door of an interlock is open, or may be opened just now."""
    state = house.door(door_id)
    if state.open_since is not None:
        return True
    rules = plan.doors.get(door_id, ANY_DOOR)
    if rules.unlocked is None and rules.ordered is None:  # nearly always: a read alone unlocks it
        return state.released_until is not None and at < state.released_until
    return lock_of(rules, state, at).is_unlocked

"""How somebody could get from one area to another, and by which doors."""

from collections import deque
from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.reach import reason_at_door
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.rules import ANY_DOOR, OUTSIDE
from cadrin.core.doors.state import SHUT


class Doorway(NamedTuple):
    """A door between two areas; `OUTSIDE` is one of them too."""

    door_id: int
    origin: int
    destination: int


class Passage(NamedTuple):
    """One door on a way, in or out of it, and what stands against going through: GRANTED for nothing."""

    door_id: int
    is_out: bool
    into: int
    reason: Reason


def way_to(
    holder: Holder,
    doorways: Iterable[Doorway],
    plan: Plan,
    at: datetime,
    goal: int,
    start: int = OUTSIDE,
) -> tuple[Passage, ...] | None:
    """Return the way with the fewest doors that are shut to somebody at an instant, and of those the
    shortest; nothing to go through where they are there already, None where no door leads there.

    A way out without a reader is free; so is a door that is unlocked for everybody.
    """
    from_area: dict[int, list[Passage]] = {}
    for door in doorways:
        for is_out in (False, True):
            here, into = (
                (door.destination, door.origin) if is_out else (door.origin, door.destination)
            )
            reason = _reason(holder, door.door_id, plan, at, is_out=is_out)
            from_area.setdefault(here, []).append(Passage(door.door_id, is_out, into, reason))
    # fewest shut doors first: those that open cost nothing to look at (0-1 breadth-first search)
    best: dict[int, tuple[int, int]] = {start: (0, 0)}
    came: dict[int, tuple[int, Passage]] = {}
    waiting = deque([start])
    while waiting:
        area = waiting.popleft()
        shut, length = best[area]
        for passage in from_area.get(area, ()):
            is_shut = passage.reason is not Reason.GRANTED
            cost = (shut + is_shut, length + 1)
            if passage.into not in best or cost < best[passage.into]:
                best[passage.into] = cost
                came[passage.into] = (area, passage)
                (waiting.append if is_shut else waiting.appendleft)(passage.into)
    if goal not in best:
        return None
    way: list[Passage] = []
    area = goal
    while area != start:
        area, passage = came[area]
        way.append(passage)
    return tuple(reversed(way))


def _reason(holder: Holder, door_id: int, plan: Plan, at: datetime, *, is_out: bool) -> Reason:
    if lock_of(plan.doors.get(door_id, ANY_DOOR), SHUT, at).is_unlocked:
        return Reason.GRANTED
    if is_out and not plan.policies_out_of(door_id):
        return Reason.GRANTED
    return reason_at_door(holder, door_id, plan, at, is_out=is_out).reason

"""What a door itself has against somebody who may open it: where they are, who else is there."""

from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.core.access.plan import Plan
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.locks import is_in_the_way
from cadrin.core.doors.rules import ANY_AREA, OUTSIDE, AreaRules, DoorRules, Passback
from cadrin.core.doors.state import House, Waiting, Whereabouts


class AtDoor(NamedTuple):
    """What a door says: GRANTED or a reason, and whether somebody is where they could not have come
    to.
    """

    reason: Reason
    is_passed_back: bool = False


_FREE, _FLAGGED = AtDoor(Reason.GRANTED), AtDoor(Reason.GRANTED, is_passed_back=True)


class Way(NamedTuple):
    """From which area a read leads into which; None where neither counts people."""

    origin: int | None
    destination: int | None


def way_at(rules: DoorRules, *, is_out: bool) -> Way:
    way = Way(rules.from_area, rules.to_area)
    return Way(way.destination, way.origin) if is_out else way


def judge_door(
    holder_id: int, reader_id: int, rules: DoorRules, plan: Plan, house: House, at: datetime
) -> AtDoor:
    """Judge somebody whom a group lets in at an instant by what the door asks for beside it."""
    is_out = reader_id in plan.readers_out
    passback = Passback.NONE
    if rules.to_area is not None:
        where = house.where(holder_id)
        if where is not None:
            passback = _passback(way_at(rules, is_out=is_out), where, plan, at)
            if passback is Passback.HARD:
                return AtDoor(Reason.PASSED_BACK, is_passed_back=True)
        area_id = (rules.from_area if is_out else rules.to_area) or OUTSIDE
        area = plan.areas.get(area_id, ANY_AREA)
        if area.most is not None and not _has_room(area_id, area, where, rules, house, at):
            return AtDoor(Reason.AREA_FULL)
    is_flagged = passback is Passback.SOFT
    for door_id in rules.interlock:
        if is_in_the_way(door_id, plan, house, at):
            return AtDoor(Reason.INTERLOCKED, is_flagged)
    if rules.second_seconds is not None:
        door_id = plan.door_of_reader[reader_id]
        first = first_of_two(house.door(door_id).first, rules, at, is_out=is_out)
        if first is None or first.holder_id == holder_id:
            return AtDoor(Reason.SECOND_PERSON_AWAITED, is_flagged)
    if rules.consent_seconds is not None:
        return AtDoor(Reason.CONSENT_AWAITED, is_flagged)
    return _FLAGGED if is_flagged else _FREE


def first_of_two(
    first: Waiting | None, rules: DoorRules, at: datetime, *, is_out: bool
) -> Waiting | None:
    """Return who waits for a second person on the same side, while they still do."""
    if first is None or rules.second_seconds is None or first.is_out is not is_out:
        return None
    return first if at - first.at < timedelta(seconds=rules.second_seconds) else None


def _is_known(where: Whereabouts, rules: AreaRules, at: datetime) -> bool:
    """Say whether somebody is held to where they were last."""
    if where.area_id is None:
        return False
    limit = rules.forgiven_after_seconds
    return limit is None or at - where.since < timedelta(seconds=limit)


def _passback(way: Way, where: Whereabouts, plan: Plan, at: datetime) -> Passback:
    """Say how a way is judged: into an area where somebody is already, or out of one where they are
    not.
    """
    into = plan.areas.get(way.destination or OUTSIDE, ANY_AREA)
    out_of = plan.areas.get(way.origin or OUTSIDE, ANY_AREA)
    found = Passback.NONE
    for rules, is_amiss in (
        (into, where.area_id == way.destination),
        (out_of, where.area_id != way.origin),
    ):
        if is_amiss and rules.passback is not Passback.NONE and _is_known(where, rules, at):
            found = rules.passback if found is not Passback.HARD else found
    return found


def _has_room(
    area_id: int,
    area: AreaRules,
    where: Whereabouts | None,
    rules: DoorRules,
    house: House,
    at: datetime,
) -> bool:
    """Say whether an area has room for one more; where two come in together, for both of them."""
    if area.most is None or (where is not None and where.area_id == area_id):
        return True
    limit = area.forgiven_after_seconds
    since = None if limit is None else at - timedelta(seconds=limit)
    coming = 1 if rules.second_seconds is None else 2
    return house.count_in(area_id, since) + coming <= area.most

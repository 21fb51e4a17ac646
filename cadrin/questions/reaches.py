"""What a person or a group opens, and what is not alike."""

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from operator import ne

from cadrin.access.queries import get_group
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.plan import AccessGroup, Holder, Membership
from cadrin.core.access.reach import A_WEEK, DoorReach, reach
from cadrin.core.access.rights import judge_memberships, spans_of_memberships
from cadrin.core.decision.reasons import Reason
from cadrin.core.validity import Span
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.questions.lines import Answer, Answered, hours_in
from cadrin.questions.then import House
from cadrin.sites.queries import doors_within


def of_a_person(actor: Actor, cardholder_id: int, at: datetime, now: datetime) -> Answered:
    """Return what somebody may open at an instant and in the week from it on: every door that opens
    for them at some time, or why none does at a door that one of their groups names. Raises NotFound.
    """
    get_cardholder(actor, cardholder_id)
    house, hidden = House.at_instant(at, now), group_ids_hidden(actor)
    holder = house.people([cardholder_id]).get(cardholder_id)
    if holder is None:
        return Answered([])
    doors = _doors_seen(actor)
    named = house.plan.doors_of(holder.memberships)
    answers = []
    for door in reach(holder, doors, house.plan, at, Span(at, at + A_WEEK)):
        if not (door.open_spans or door.door_id in named):
            continue
        group_id = door.group_id
        group = house.plan.groups.get(group_id) if group_id and group_id not in hidden else None
        told = doors[door.door_id]
        answers.append(
            told._replace(
                group=group.name if group else "",
                reason=door.reason,
                hours=hours_in(door.open_spans),
            )
        )
        if _has_way_out_of_its_own(door):
            hours = hours_in(door.open_spans_out)
            answers.append(told._replace(reason=door.reason_out, hours=hours, is_way_out=True))
    first = sorted(answers, key=lambda one: (one.reason is not Reason.GRANTED, one.door))
    return Answered(first, as_now=frozenset(house.as_now))


def of_a_group(actor: Actor, group_id: int, at: datetime, now: datetime) -> Answered:
    """Return the doors that an access group opens: whether it does at an instant, and for how many
    hours of the week from it on. Raises NotFound.
    """
    get_group(actor, group_id)
    house = House.at_instant(at, now)
    plan = house.plan
    group = plan.groups.get(group_id)
    doors = _doors_seen(actor)
    member, week = (Membership(group_id),), Span(at, at + A_WEEK)
    answers = [
        doors[id_]._replace(
            reason=judge_memberships(member, id_, plan, at, is_out=is_out).reason,
            hours=hours_in(spans_of_memberships(member, id_, plan, week, is_out=is_out)),
            is_way_out=is_out,
        )
        for id_ in (group.schedules_of_door if group else ())
        if group and id_ in doors
        for is_out in _ways_to_tell(group, id_)
    ]
    first = sorted(answers, key=lambda one: (one.reason is not Reason.GRANTED, one.door))
    return Answered(first, as_now=frozenset(house.as_now))


def _ways_to_tell(group: AccessGroup, door_id: int) -> Iterable[bool]:
    """Yield the ways of a door that a group opens: going out only where it does so otherwise."""
    ways_in, ways_out = (group.schedules_at(door_id, is_out=is_out) for is_out in (False, True))
    if ways_in:
        yield False
    if ways_out and set(ways_out) != set(ways_in):
        yield True


def _has_way_out_of_its_own(door: DoorReach) -> bool:
    """Say whether going out through a door is another matter than coming in."""
    return door.reason_out is not None and (door.reason_out, door.open_spans_out) != (
        door.reason,
        door.open_spans,
    )


def compared(actor: Actor, one_id: int, other_id: int, at: datetime, now: datetime) -> Answered:
    """Return every door that two people do not have alike in the week from an instant on: whether it
    opens for each then, and for how many hours. Raises NotFound.
    """
    for id_ in (one_id, other_id):
        get_cardholder(actor, id_)
    house = House.at_instant(at, now)
    people = house.people([one_id, other_id])
    one, other = (_reach_then(actor, people.get(id_), house) for id_ in (one_id, other_id))
    return Answered(_not_alike(actor, one, other, ne), as_now=frozenset(house.as_now))


def at_two_instants(
    actor: Actor, cardholder_id: int, at: datetime, other_at: datetime, now: datetime
) -> Answered:
    """Return every door that somebody does not have alike at two instants and in the weeks from them
    on. Raises NotFound.
    """
    get_cardholder(actor, cardholder_id)
    houses = [House.at_instant(instant, now) for instant in (at, other_at)]
    one, other = [
        _reach_then(actor, house.people([cardholder_id]).get(cardholder_id), house)
        for house in houses
    ]
    # weeks from other instants on: their spans lie elsewhere, and only their sums can be compared
    found = _not_alike(actor, one, other, lambda these, those: hours_in(these) != hours_in(those))
    return Answered(found, as_now=frozenset(houses[0].as_now | houses[1].as_now))


def _reach_then(actor: Actor, holder: Holder | None, house: House) -> tuple[DoorReach, ...]:
    span = Span(house.at, house.at + A_WEEK)
    return reach(holder or Holder(0, "", ""), _doors_seen(actor), house.plan, house.at, span)


def _doors_seen(actor: Actor) -> dict[int, Answer]:
    """Return the doors within reach, by name, each as the beginning of a line."""
    rows = doors_within(actor).order_by("name", "id").values_list("id", "name", "area__name")
    return {id_: Answer(door_id=id_, door=name, area=area) for id_, name, area in rows}


def _not_alike(
    actor: Actor,
    these: Sequence[DoorReach],
    those: Sequence[DoorReach],
    is_other: Callable[[tuple[Span, ...], tuple[Span, ...]], bool],
) -> list[Answer]:
    """Return the doors that are open for one and shut for the other, or whose time is another."""
    doors = _doors_seen(actor)
    found = []
    for one, other in zip(these, those, strict=True):
        sides: list[tuple[bool, Reason | None, tuple[Span, ...], Reason | None, tuple[Span, ...]]]
        sides = [(False, one.reason, one.open_spans, other.reason, other.open_spans)]
        if _has_way_out_of_its_own(one) or _has_way_out_of_its_own(other):
            outs = (one.reason_out, one.open_spans_out, other.reason_out, other.open_spans_out)
            sides.append((True, *outs))
        found += [
            doors[one.door_id]._replace(
                reason=reason,
                other_reason=other_reason,
                hours=hours_in(spans),
                other_hours=hours_in(other_spans),
                is_way_out=is_out,
            )
            for is_out, reason, spans, other_reason, other_spans in sides
            if (reason is Reason.GRANTED) is not (other_reason is Reason.GRANTED)
            or is_other(spans, other_spans)
        ]
    return found

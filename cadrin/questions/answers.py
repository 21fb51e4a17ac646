"""Questions about who can open what, each answered by the same core that the doors decide with."""

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import members_of_any, only_members
from cadrin.access.scoping import group_ids_hidden
from cadrin.activity.queries import last_granted
from cadrin.core.access.plan import Holder
from cadrin.core.access.reach import A_WEEK, reach
from cadrin.core.access.rights import judge_memberships
from cadrin.core.access.ways import Doorway, way_to
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.rules import OUTSIDE
from cadrin.core.errors import NotFound
from cadrin.core.validity import Span, Standing
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.people.scoping import people_seen
from cadrin.register.listing import who_may_open
from cadrin.sites.queries import area_ids, area_names, doors_within


class Answer(NamedTuple):
    """One line of an answer; what does not belong to it stays empty."""

    cardholder_id: int | None = None
    name: str = ""
    number: str = ""
    department: str = ""
    door_id: int | None = None
    door: str = ""
    area: str = ""
    group: str = ""
    reason: Reason | None = None
    other_reason: Reason | None = None
    hours: float | None = None
    other_hours: float | None = None
    last_at: datetime | None = None


def at_a_door(actor: Actor, door_id: int, at: datetime) -> list[Answer]:
    """Return who may open a door at an instant, and by which access group. Raises NotFound."""
    ids = who_may_open(actor, door_id, at)
    plan, people, hidden = access_plan(), holders(ids), group_ids_hidden(actor)
    told = _told(actor, ids)
    answers = []
    for id_ in ids:
        holder = people[id_]
        group_id = judge_memberships(holder.memberships, door_id, plan, at).group_id
        is_shown = group_id is not None and group_id not in hidden
        group = plan.groups[group_id].name if is_shown and group_id else ""
        answers.append(Answer(id_, *told[id_], group=group))
    return answers


def unused(actor: Actor, door_ids: Iterable[int], days: int, at: datetime) -> list[Answer]:
    """Return who has groups for some of these doors and was let in at none of them for so many days.

    Whoever was never let in comes first. Raises NotFound.
    """
    doors = _doors_seen(actor, door_ids)
    plan = access_plan()
    opening = [id_ for id_, group in plan.groups.items() if doors & group.schedules_of_door.keys()]
    people = holders(members_of_any(opening))
    having = [
        id_
        for id_, holder in people.items()
        if holder.standing is not Standing.DEPARTED and _doors_now(holder, doors, at)
    ]
    last = last_granted(actor, having, doors)
    told = _told(actor, having)
    found = [
        Answer(id_, *told[id_], last_at=last.get(id_))
        for id_ in told
        if last.get(id_) is None or last[id_] < at - timedelta(days=days)
    ]
    return sorted(found, key=lambda one: (one.last_at is not None, one.last_at or at, one.name))


def _doors_now(holder: Holder, doors: set[int], at: datetime) -> frozenset[int]:
    """Return those of the doors for which a membership counts at an instant, whatever its hours."""
    counting = tuple(membership for membership in holder.memberships if at in membership.span)
    return access_plan().doors_of(counting) & doors


def alone_in_a_group(actor: Actor) -> list[Answer]:
    """Return whoever is the only one in an access group, for each door that they have by it alone."""
    plan, hidden = access_plan(), group_ids_hidden(actor)
    alone = {
        group_id: holder_id
        for group_id, holder_id in only_members().items()
        if group_id in plan.groups and group_id not in hidden
    }
    people = holders(alone.values())
    told = _told(actor, people)
    doors = {row["id"]: row["name"] for row in doors_within(actor).values("id", "name")}
    answers = []
    for group_id, holder_id in alone.items():
        if holder_id not in told:
            continue
        others = tuple(m for m in people[holder_id].memberships if m.group_id != group_id)
        had = plan.doors_of(others)
        for door_id in plan.groups[group_id].schedules_of_door:
            if door_id not in had and door_id in doors:
                name = doors[door_id]
                group = plan.groups[group_id].name
                answers.append(Answer(holder_id, *told[holder_id], door_id, name, group=group))
    return sorted(answers, key=lambda one: (one.name, one.door))


def way_of(actor: Actor, cardholder_id: int, area_id: int, at: datetime) -> list[Answer] | None:
    """Return the doors on the way of somebody from outside into an area, and what stands against each;
    None where no door leads there. Raises NotFound.
    """
    get_cardholder(actor, cardholder_id)
    if area_id not in area_ids(actor):
        raise NotFound.of("area.not_found")
    rows = doors_within(actor).values("id", "name", "area_id", "from_area_id")
    doors = {row["id"]: row for row in rows}
    doorways = [
        Doorway(id_, row["from_area_id"] or OUTSIDE, row["area_id"]) for id_, row in doors.items()
    ]
    holder = holders([cardholder_id])[cardholder_id]
    way = way_to(holder, doorways, access_plan(), at, area_id)
    if way is None:
        return None
    names = area_names()
    return [
        Answer(
            door_id=step.door_id,
            door=doors[step.door_id]["name"],
            area=names.get(step.into, ""),
            reason=step.reason,
        )
        for step in way
    ]


def compared(actor: Actor, one_id: int, other_id: int, at: datetime) -> list[Answer]:
    """Return every door that two people do not have alike in the week from an instant on: whether it
    opens for each then, and for how many hours. Raises NotFound.
    """
    for id_ in (one_id, other_id):
        get_cardholder(actor, id_)
    people = holders([one_id, other_id])
    rows = {row["id"]: row for row in doors_within(actor).values("id", "name", "area__name")}
    span, plan = Span(at, at + A_WEEK), access_plan()
    pairs = zip(
        reach(people[one_id], rows, plan, at, span),
        reach(people[other_id], rows, plan, at, span),
        strict=True,
    )
    return [
        Answer(
            door_id=one.door_id,
            door=rows[one.door_id]["name"],
            area=rows[one.door_id]["area__name"],
            reason=one.reason,
            other_reason=other.reason,
            hours=_hours(one.open_spans),
            other_hours=_hours(other.open_spans),
        )
        for one, other in pairs
        if one.open_spans != other.open_spans or one.is_open is not other.is_open
    ]


def _hours(spans: Sequence[Span]) -> float:
    seconds = sum((s.end - s.start).total_seconds() for s in spans if s.start and s.end)
    return round(seconds / 3600, 2)


def _doors_seen(actor: Actor, door_ids: Iterable[int]) -> set[int]:
    wanted = set(door_ids)
    if doors_within(actor).filter(pk__in=wanted).count() < len(wanted):
        raise NotFound.of("door.not_found")
    return wanted


def _told(actor: Actor, ids: Iterable[int]) -> dict[int, tuple[str, str, str]]:
    """Return the name, number and department of those whom the actor may see, by name."""
    seen = people_seen(actor).filter(pk__in=list(ids)).order_by("sort_name", "id")
    rows = seen.values_list("id", "display_name", "number", "department__name")
    return {id_: (name, number, department or "") for id_, name, number, department in rows}

"""Access that nobody uses, or that hangs on one person."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import members_of_any, only_members
from cadrin.access.scoping import group_ids_hidden
from cadrin.activity.queries import last_granted
from cadrin.core.access.plan import Holder
from cadrin.core.errors import NotFound
from cadrin.core.validity import Standing
from cadrin.operators.actor import Actor
from cadrin.questions.lines import Answer, Answered, people_told
from cadrin.sites.queries import doors_within


def unused(actor: Actor, door_ids: Iterable[int], days: int, at: datetime) -> Answered:
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
    told = people_told(actor, having)
    found = [
        Answer(id_, *told[id_], last_at=last.get(id_))
        for id_ in told
        if last.get(id_) is None or last[id_] < at - timedelta(days=days)
    ]
    first = sorted(found, key=lambda one: (one.last_at is not None, one.last_at or at, one.name))
    return Answered(first)


def _doors_now(holder: Holder, doors: set[int], at: datetime) -> frozenset[int]:
    """Return those of the doors for which a membership counts at an instant, whatever its hours."""
    counting = tuple(membership for membership in holder.memberships if at in membership.span)
    return access_plan().doors_of(counting) & doors


def alone_in_a_group(actor: Actor) -> Answered:
    """Return whoever is the only one in an access group, for each door that they have by it alone."""
    plan, hidden = access_plan(), group_ids_hidden(actor)
    alone = {
        group_id: holder_id
        for group_id, holder_id in only_members().items()
        if group_id in plan.groups and group_id not in hidden
    }
    people = holders(alone.values())
    told = people_told(actor, people)
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
    return Answered(sorted(answers, key=lambda one: (one.name, one.door)))


def _doors_seen(actor: Actor, door_ids: Iterable[int]) -> set[int]:
    wanted = set(door_ids)
    if doors_within(actor).filter(pk__in=wanted).count() < len(wanted):
        raise NotFound.of("door.not_found")
    return wanted

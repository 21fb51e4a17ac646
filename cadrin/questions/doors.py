"""Who may open a door, who could come into an area, and how."""

from datetime import datetime

from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.plan import Holder
from cadrin.core.access.rights import judge_memberships
from cadrin.core.access.ways import Doorway, way_to
from cadrin.core.doors.rules import OUTSIDE
from cadrin.core.errors import NotFound
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.people.scoping import only_seen
from cadrin.questions.lines import Answer, Answered, people_told
from cadrin.questions.then import House
from cadrin.sites.queries import area_ids, area_names, doors_within, is_door_within

MOST_WAYS = 500
"""People whose way is worked out for an answer; of the others it is said that there is one."""


def at_a_door(
    actor: Actor, door_id: int, at: datetime, now: datetime, most: int | None = None
) -> Answered:
    """Return who may open a door at an instant, and by which access group: the first ``most`` by name,
    or all. Raises Invalid or NotFound.
    """
    if not is_door_within(actor, door_id):
        raise NotFound.of("door.not_found")
    house, hidden = House.at_instant(at, now), group_ids_hidden(actor)
    plan = house.plan
    opening = [id_ for id_, group in plan.groups.items() if door_id in group.schedules_of_door]
    people, roster = house.members_of_any(opening)
    ids = roster.who_may_open(door_id, plan, at)
    answers = []
    for id_, told in people_told(actor, ids, most).items():
        group_id = judge_memberships(people[id_].memberships, door_id, plan, at).group_id
        is_shown = group_id is not None and group_id not in hidden
        group = plan.groups[group_id].name if is_shown and group_id else ""
        answers.append(Answer(id_, *told, group=group))
    return Answered(
        answers, as_now=frozenset(house.as_now), more=len(only_seen(actor, ids)) - len(answers)
    )


def into_an_area(actor: Actor, area_id: int, at: datetime, now: datetime) -> Answered:
    """Return who could come from outside into an area at an instant, and by which doors. Raises Invalid
    or NotFound.
    """
    house = House.at_instant(at, now)
    names, doorways = _doorways(actor, area_id)
    people, roster = house.members_of_any(house.plan.groups)
    ids = roster.who_gets_into(area_id, doorways, house.plan, at)
    told = people_told(actor, ids)
    answers = []
    for place, id_ in enumerate(told):
        way = () if place >= MOST_WAYS else way_to(people[id_], doorways, house.plan, at, area_id)
        doors = " → ".join(names[step.door_id] for step in way or ())
        answers.append(Answer(id_, *told[id_], door=doors))
    return Answered(answers, as_now=frozenset(house.as_now))


def way_of(actor: Actor, cardholder_id: int, area_id: int, at: datetime, now: datetime) -> Answered:
    """Return the doors on the way of somebody from outside into an area, and what stands against each.
    Raises NotFound.
    """
    get_cardholder(actor, cardholder_id)
    doors, doorways = _doorways(actor, area_id)
    house = House.at_instant(at, now)
    holder = house.people([cardholder_id]).get(cardholder_id, Holder(0, "", ""))
    way = way_to(holder, doorways, house.plan, at, area_id)
    names = area_names()
    answers = [
        Answer(
            door_id=step.door_id,
            door=doors[step.door_id],
            area=names.get(step.into, ""),
            reason=step.reason,
        )
        for step in way or ()
    ]
    return Answered(answers, way is not None, frozenset(house.as_now))


def _doorways(actor: Actor, area_id: int) -> tuple[dict[int, str], list[Doorway]]:
    """Return the names of the doors, and between which areas they are. Raises NotFound for an area out
    of reach.
    """
    if area_id not in area_ids(actor):
        raise NotFound.of("area.not_found")
    rows = list(doors_within(actor).values("id", "name", "area_id", "from_area_id"))
    doorways = [Doorway(row["id"], row["from_area_id"] or OUTSIDE, row["area_id"]) for row in rows]
    return {row["id"]: row["name"] for row in rows}, doorways

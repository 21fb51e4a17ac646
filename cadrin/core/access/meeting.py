"""Where two access groups of one cardholder lead to the same door: their hours are joined there, or
may not meet where a controller knows one group of each cardholder.
"""

from collections.abc import Collection, Sequence
from itertools import combinations
from typing import NamedTuple

from cadrin.core.access.plan import AccessGroup, Membership, Plan
from cadrin.core.validity import overlap


class Meeting(NamedTuple):
    """Two groups, in the order in which they were given, and the doors that both open at some time
    in which somebody is in both.
    """

    one: int
    other: int
    door_ids: tuple[int, ...]


def meetings(memberships: Sequence[Membership], plan: Plan) -> tuple[Meeting, ...]:
    """Return every two memberships that are in force together and lead to the same doors."""
    found = []
    for one, other in combinations(memberships, 2):
        here, there = plan.groups.get(one.group_id), plan.groups.get(other.group_id)
        if here is None or there is None or not overlap(one.span, other.span):
            continue
        both = [
            door_id
            for door_id in plan.doors_of((one,)) & plan.doors_of((other,))
            if _share_a_way(here, there, door_id)
        ]
        if both:
            found.append(Meeting(one.group_id, other.group_id, tuple(sorted(both))))
    return tuple(found)


def apart(group: AccessGroup, plan: Plan, door_ids: Collection[int]) -> dict[int, int]:
    """Return the other groups that lead to one of these doors as this one does, each with the first
    such door: at doors where groups may not meet, nobody is in one of them and in this one at once.
    """
    found: dict[int, int] = {}
    for door_id in sorted(group.schedules_of_door.keys() & set(door_ids)):
        for other in plan.groups_at(door_id):
            if other.id != group.id and _share_a_way(group, other, door_id):
                found.setdefault(other.id, door_id)
    return found


def _share_a_way(one: AccessGroup, other: AccessGroup, door_id: int) -> bool:
    """Say whether both open a door on its way in, or both on its way out."""
    return any(
        one.schedules_at(door_id, is_out=is_out) and other.schedules_at(door_id, is_out=is_out)
        for is_out in (False, True)
    )

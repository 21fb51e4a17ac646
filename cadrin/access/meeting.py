"""Groups that may not meet: at doors whose controllers know one group of each cardholder."""

from collections.abc import Iterable, Mapping, Sequence

from cadrin.access.models import Membership
from cadrin.access.plan import access_plan
from cadrin.core.access.meeting import apart, meetings
from cadrin.core.access.plan import AccessGroup as CoreGroup
from cadrin.core.access.plan import Membership as CoreMembership
from cadrin.core.errors import Problem
from cadrin.core.validity import ALWAYS, Span, overlap
from cadrin.sites.queries import doors_of_one_group


def groups_apart(group_id: int, group: CoreGroup | None = None) -> dict[int, int]:
    """Return the groups whose people may not be in this one at once, each with a door at which they
    would meet; ``group`` is this one as it would be.
    """
    doors, plan = doors_of_one_group(), access_plan()
    after = group or plan.groups.get(group_id)
    return apart(after, plan, doors) if doors and after else {}


def who_meet(group_id: int, others: Iterable[int]) -> dict[int, int]:
    """Return those of the groups in which somebody of this one is at once, each with how many."""
    theirs = Membership.objects.filter(group=group_id)
    spans = dict[int, Span]()
    for holder_id, start, end in theirs.values_list("cardholder_id", "activation_at", "expiry_at"):
        spans[holder_id] = Span(start, end)
    found: dict[int, int] = {}
    also = Membership.objects.filter(
        group__in=list(others), cardholder__in=theirs.values("cardholder")
    )
    for other_id, holder_id, start, end in also.values_list(
        "group", "cardholder_id", "activation_at", "expiry_at"
    ):
        if overlap(spans[holder_id], Span(start, end)):
            found[other_id] = found.get(other_id, 0) + 1
    return found


def told_of(one: int, other: int, door_id: int) -> dict[str, str | int | None]:
    """Return what is said of two groups that would meet at a door."""
    groups, doors = access_plan().groups, doors_of_one_group()
    return {"one": groups[one].name, "other": groups[other].name, "door": doors.get(door_id, "")}


def problems_where_they_meet(
    of_people: Sequence[Sequence[tuple[int, Span]]],
) -> list[tuple[Problem, ...]]:
    """Return, for each of several people, their groups that may not meet and would, each beside its
    membership.
    """
    doors = doors_of_one_group()
    return [tuple(_where_they_meet(theirs, doors)) if doors else () for theirs in of_people]


def _where_they_meet(
    memberships: Sequence[tuple[int, Span]], doors: Mapping[int, str]
) -> Iterable[Problem]:
    place_of = {group_id: place for place, (group_id, _) in enumerate(memberships)}
    for met in meetings([CoreMembership(*one) for one in memberships], access_plan()):
        if here := doors.keys() & set(met.door_ids):
            field = f"memberships.{place_of[met.other]}.group"
            yield Problem("membership.meets", field, told_of(met.one, met.other, min(here)))


def problem_with_newcomers(
    group_id: int, had: Mapping[int, Iterable[tuple[int, Span]]], span: Span = ALWAYS
) -> Problem | None:
    """Return what stands against putting people into a group for a time, by what they are in already."""
    others = groups_apart(group_id)
    for memberships in had.values() if others else ():
        for other_id, theirs in memberships:
            if other_id in others and overlap(theirs, span):
                told = told_of(other_id, group_id, others[other_id])
                return Problem("membership.meets", None, told)
    return None


def first_who_meet(doors: Mapping[int, str]) -> Problem | None:
    """Return two groups in which somebody is at once and that meet at one of these doors; None where
    nobody's do.
    """
    plan = access_plan()
    for group_id in {group.id for door_id in doors for group in plan.groups_at(door_id)}:
        others = apart(plan.groups[group_id], plan, doors)
        for other_id, count in who_meet(group_id, others).items():
            door_id = others[other_id]
            told = {**told_of(group_id, other_id, door_id), "door": doors[door_id], "count": count}
            return Problem("controller.groups_meet", "knows_one_group", told)
    return None

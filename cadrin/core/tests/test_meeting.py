"""Where two groups of somebody meet, held against asking each door at each of its edges."""

from dataclasses import replace
from itertools import combinations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.meeting import apart, meetings
from cadrin.core.access.plan import AccessGroup, Membership, Plan
from cadrin.core.tests.builders import ALWAYS_OPEN, MONDAY_NOON, a_plan, spans
from cadrin.core.validity import Span

GROUPS = st.dictionaries(st.integers(1, 4), st.sets(st.integers(10, 14)), max_size=4)
MEMBERSHIPS = st.lists(
    st.builds(Membership, st.integers(1, 5), spans()),
    max_size=4,
    unique_by=lambda one: one.group_id,
)


def plan_of(doors_of_group: dict[int, set[int]]) -> Plan:
    return replace(
        a_plan(),
        groups={
            id_: AccessGroup(id_, f"Group {id_}", dict.fromkeys(sorted(doors), (ALWAYS_OPEN,)))
            for id_, doors in doors_of_group.items()
        },
    )


def share_an_instant(one: Span, other: Span) -> bool:
    """Look at every edge of both, and long before and after."""
    edges = [edge for span in (one, other) for edge in (span.start, span.end) if edge]
    return any(at in one and at in other for at in (MONDAY_NOON.replace(year=1990), *edges))


class Meetings(TestCase):
    @given(GROUPS, MEMBERSHIPS)
    def test_are_all_pairs_in_force_together_with_all_doors_of_both(
        self, doors_of_group: dict[int, set[int]], memberships: list[Membership]
    ) -> None:
        found = {
            (met.one, met.other): set(met.door_ids)
            for met in meetings(memberships, plan_of(doors_of_group))
        }
        expected = {
            (one.group_id, other.group_id): both
            for one, other in combinations(memberships, 2)
            if share_an_instant(one.span, other.span)
            and (
                both := doors_of_group.get(one.group_id, set())
                & doors_of_group.get(other.group_id, set())
            )
        }
        self.assertEqual(found, expected)

    def test_that_follow_one_another_are_none(self) -> None:
        plan = plan_of({1: {10}, 2: {10}})
        before, after = Span(None, MONDAY_NOON), Span(MONDAY_NOON, None)
        self.assertEqual(meetings([Membership(1, before), Membership(2, after)], plan), ())

    @given(GROUPS, st.sets(st.integers(10, 14)))
    def test_groups_are_apart_where_people_in_both_would_meet_at_one_of_the_doors(
        self, doors_of_group: dict[int, set[int]], door_ids: set[int]
    ) -> None:
        plan = plan_of(doors_of_group)
        for group in plan.groups.values():
            found = apart(group, plan, door_ids)
            for other in plan.groups.values():
                both = [Membership(group.id), Membership(other.id)]
                met = [m for m in meetings(both, plan) if group is not other]
                where = {door for one in met for door in one.door_ids} & door_ids
                self.assertEqual(other.id in found, bool(where))
                self.assertIn(found.get(other.id), where or {None})

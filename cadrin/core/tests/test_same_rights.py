"""Two groups that give the same rights are told of; ones that do not are not."""

from collections.abc import Sequence
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.plan import AccessGroup, Way
from cadrin.core.tests.builders import ALWAYS_OPEN, FRONT, LAB_DOOR, OFFICE_HOURS

Grants = Sequence[tuple[int, int, Way]]

GRANTS = st.lists(
    st.tuples(
        st.sampled_from((FRONT, LAB_DOOR)),
        st.sampled_from((ALWAYS_OPEN, OFFICE_HOURS)),
        st.sampled_from(Way),
    ),
    max_size=5,
)


def rights(grants: Grants) -> set[tuple[int, int, bool]]:
    """Every door, schedule and way of the grants, one by one."""
    return {
        (door_id, schedule_id, is_out)
        for door_id, schedule_id, way in grants
        for is_out in (False, True)
        if way is Way.BOTH or (way is Way.OUT) is is_out
    }


class SameRights(TestCase):
    @given(GRANTS, GRANTS)
    def test_two_groups_are_alike_where_every_right_of_one_is_the_others(
        self, some: Grants, others: Grants
    ) -> None:
        one = AccessGroup.of_grants(1, "One", some)
        other = AccessGroup.of_grants(2, "Other", others)

        self.assertIs(one.gives_as(other), rights(some) == rights(others))

    def test_one_that_overrides_closed_hours_is_another(self) -> None:
        group = AccessGroup.of_grants(1, "One", [(FRONT, ALWAYS_OPEN, Way.BOTH)])

        self.assertFalse(group.gives_as(replace(group, id=2, overrides=True)))
        self.assertTrue(group.gives_as(replace(group, id=2, name="Another name")))

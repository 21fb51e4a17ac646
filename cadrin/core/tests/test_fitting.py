"""Which groups give what is wanted, against every set there is."""

from datetime import UTC, datetime, timedelta
from itertools import combinations
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.access.fitting import (
    Openings,
    Year,
    beyond,
    fits,
    joined,
    likeness,
    minutes_of,
    nearly_alike,
    size,
    smallest_cover,
)
from cadrin.core.access.plan import AccessGroup, Membership
from cadrin.core.schedules import Schedule
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    FRONT,
    LAB_DOOR,
    MONDAY_NOON,
    OFFICE,
    a_plan,
    instants,
    schedules_with_holidays,
)
from cadrin.core.validity import Span

MINUTE = timedelta(minutes=1)
openings = st.dictionaries(st.integers(1, 3), st.integers(1, 31), max_size=3)
groups_of_some = st.dictionaries(st.integers(1, 7), openings, max_size=7)


def by_every_set(wanted: Openings, groups: dict[int, dict[int, int]]) -> tuple[int, int]:
    """Return how many groups are needed and the least beside what is wanted, by trying every set."""
    possible = beyond(wanted, beyond(wanted, joined(groups.values())))
    for count in range(len(groups) + 1):
        excesses = [
            size(beyond(together, wanted))
            for chosen in combinations(groups.values(), count)
            if not beyond(possible, together := joined(chosen))
        ]
        if excesses:
            return count, min(excesses)
    raise AssertionError("all of them together cover what any of them gives")


class SmallestCover(TestCase):
    @settings(max_examples=300)
    @given(openings, groups_of_some)
    def test_is_that_of_trying_every_set(
        self, wanted: dict[int, int], groups: dict[int, dict[int, int]]
    ) -> None:
        cover = smallest_cover(wanted, groups)

        self.assertTrue(cover.is_smallest)
        self.assertEqual((len(cover.group_ids), size(cover.more)), by_every_set(wanted, groups))
        together = joined(groups[id_] for id_ in cover.group_ids)
        self.assertEqual(beyond(wanted, together), cover.lacking)

    def test_covers_all_where_the_search_is_given_up_and_says_so(self) -> None:
        wanted = {1: 0b111111}
        groups = {1: {1: 0b001111}, 2: {1: 0b010101}, 3: {1: 0b101010}}
        cover = smallest_cover(wanted, groups, steps=1)
        self.assertFalse(cover.is_smallest)
        self.assertEqual(joined(groups[id_] for id_ in cover.group_ids), wanted)
        # whoever takes the largest first takes one too many
        self.assertEqual(smallest_cover(wanted, groups).group_ids, (2, 3))


class Fitting(TestCase):
    def test_puts_exact_groups_first_then_more_then_less(self) -> None:
        wanted = {1: 0b11, 2: 0b1}
        groups = {
            4: {1: 0b11},  # less
            3: {1: 0b111, 2: 0b1},  # one minute more
            2: {1: 0b11, 2: 0b1},  # exactly
            1: {1: 0b11111, 2: 0b1},  # three minutes more
            5: {3: 0b1},  # nothing of it
        }
        found = fits(wanted, groups)
        self.assertEqual([one.group_id for one in found], [2, 3, 1, 4])
        self.assertEqual([one.is_exact for one in found], [True, False, False, False])
        self.assertEqual((found[1].more, found[3].less), ({1: 0b100}, {2: 0b1}))

    @given(groups_of_some)
    def test_finds_every_pair_that_is_alike_enough(self, groups: dict[int, dict[int, int]]) -> None:
        found = {(one, other) for one, other, _ in nearly_alike(groups, 0.6)}
        expected = {
            pair
            for pair in combinations(sorted(groups), 2)
            if groups[pair[0]]
            and groups[pair[1]]
            and likeness(groups[pair[0]], groups[pair[1]]) >= 0.6
        }
        self.assertEqual(found, expected)


class Minutes(TestCase):
    @settings(max_examples=40)
    @given(schedules_with_holidays(), instants(days=20))
    def test_are_those_in_which_the_schedule_is_open(
        self, schedule: Schedule, start: datetime
    ) -> None:
        start = start.replace(second=0, microsecond=0)
        minutes = minutes_of(schedule, Span(start, start + timedelta(days=3)))
        for count in range(0, 3 * 24 * 60, 7):
            self.assertEqual(
                bool(minutes >> count & 1), schedule.is_open(start + count * MINUTE), count
            )

    def test_of_memberships_are_those_that_count_now(self) -> None:
        start = datetime(2026, 6, 1, tzinfo=UTC)
        span = Span(start, start + timedelta(days=7))
        year = Year(a_plan(), span)
        now, over = Membership(EVERYWHERE), Membership(EVERYWHERE, Span(None, MONDAY_NOON))
        self.assertEqual(year.of_memberships((over,), MONDAY_NOON), {})
        given_now = year.of_memberships((now,), MONDAY_NOON)
        self.assertEqual(given_now[FRONT].bit_count(), 7 * 24 * 60)
        self.assertEqual(
            year.of_group(AccessGroup(0, "", {LAB_DOOR: (ALWAYS_OPEN,)}))[LAB_DOOR],
            given_now[FRONT],
        )
        self.assertEqual(
            minutes_of(OFFICE, span).bit_count(),
            sum(OFFICE.is_open(start + n * MINUTE) for n in range(7 * 24 * 60)),
        )

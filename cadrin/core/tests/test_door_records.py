"""What is kept of doors: their records, and how they stand."""

from dataclasses import replace
from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.doors.passing import (
    Happening,
)
from cadrin.core.doors.rules import AreaRules, DoorRules, Ordered, Passback
from cadrin.core.doors.standing import Stands, after_telling
from cadrin.core.doors.state import Whereabouts
from cadrin.core.records.doors import (
    decode_area,
    decode_door,
    decode_presence,
    encode_area,
    encode_door,
    encode_presence,
)
from cadrin.core.tests.builders import (
    LAB_DOOR,
    MONDAY_NOON,
    instants,
    schedules_with_holidays,
)


def door_rules() -> st.SearchStrategy[DoorRules]:
    """Rules of every kind, together or alone."""
    hours = st.none() | schedules_with_holidays()
    seconds = st.none() | st.integers(1, 300)
    area = st.none() | st.integers(0, 3)
    return st.builds(
        DoorRules,
        st.integers(1, 60),
        st.integers(60, 255),
        seconds,
        st.booleans(),
        hours,
        hours,
        st.booleans(),
        seconds,
        st.lists(st.sampled_from([LAB_DOOR, 12]), unique=True).map(lambda ids: tuple(sorted(ids))),
        seconds,
        st.booleans(),
        area,
        area,
        st.none() | st.sampled_from(Ordered),
        st.none() | instants(),
    )


class Records(TestCase):
    @given(door_rules())
    def test_of_a_door_reads_back_as_it_was_written(self, rules: DoorRules) -> None:
        if rules.ordered is None:
            rules = replace(rules, ordered_until=None)
        self.assertEqual(decode_door(encode_door(rules)), rules)

    @given(
        st.builds(
            AreaRules,
            st.sampled_from(Passback),
            st.none() | st.integers(1, 10**6),
            st.none() | st.integers(1, 500),
        )
    )
    def test_of_an_area_reads_back_as_it_was_written(self, rules: AreaRules) -> None:
        self.assertEqual(decode_area(encode_area(rules)), rules)

    @given(st.builds(Whereabouts, st.none() | st.integers(0, 9), instants()))
    def test_of_a_presence_reads_back_as_it_was_written(self, where: Whereabouts) -> None:
        self.assertEqual(decode_presence(encode_presence(where)), where)


class Standing(TestCase):
    """How a door stands, by what its controller told of it, in any order."""

    def told(self, *happenings: tuple[Happening, int]) -> Stands | None:
        stands = None
        for happening, second in happenings:
            at = MONDAY_NOON + timedelta(seconds=second)
            stands = after_telling(stands, happening, at) or stands
        return stands

    def test_keeps_what_was_amiss_first_until_it_is_shut(self) -> None:
        forced = self.told((Happening.FORCED, 0), (Happening.HELD, 30))
        self.assertEqual(
            forced, Stands(True, MONDAY_NOON + timedelta(seconds=30), Happening.FORCED)
        )
        shut = self.told((Happening.FORCED, 0), (Happening.SHUT, 30), (Happening.OPENED, 40))
        self.assertEqual(shut, Stands(True, MONDAY_NOON + timedelta(seconds=40)))

    def test_goes_by_the_latest_whatever_comes_after_it(self) -> None:
        stands = self.told((Happening.SHUT, 30), (Happening.FORCED, 0))
        self.assertEqual(stands, Stands(False, MONDAY_NOON + timedelta(seconds=30)))

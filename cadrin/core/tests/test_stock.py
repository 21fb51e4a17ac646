from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.stock import CardRange, count_of, problems_with_range


class Boxes(TestCase):
    def test_that_cannot_be_are_refused_beside_each_field(self) -> None:
        cases = {
            CardRange(12, 1, 100): set(),
            CardRange(256, 1, 100): {("facility_code", "card.out_of_range")},
            CardRange(12, 100, 1): {("last", "box.ends_before_it_begins")},
            CardRange(12, 60_000, 70_000): {("last", "card.out_of_range")},
            CardRange(12, -1, 65_535): {("first", "card.out_of_range"), ("last", "box.too_large")},
        }
        for wanted, expected in cases.items():
            with self.subTest(wanted):
                found = {
                    (problem.field, problem.code)
                    for problem in problems_with_range(wanted, STANDARD_26_BIT)
                }
                self.assertEqual(found, expected)

    @given(st.dictionaries(st.sampled_from(CardStatus), st.integers(0, 1000)), st.integers(0, 1000))
    def test_every_card_of_a_box_is_counted_once(
        self, by_status: dict[CardStatus, int], missing: int
    ) -> None:
        found = count_of(sum(by_status.values()) + missing, by_status)

        self.assertEqual(found.held + found.free + found.gone, sum(by_status.values()))
        self.assertEqual(found.missing, missing)

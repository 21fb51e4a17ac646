"""What a controller can hold: entered, told, and the smaller of both."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.limits import LIMITS, narrower, problems_with_limits

COUNTS = st.none() | st.integers(0, 2**31)


class Limits(TestCase):
    def test_from_the_lowest_to_the_highest_are_taken_and_nothing_else(self) -> None:
        for name, allowed in LIMITS.items():
            for count in (allowed[0], allowed[-1]):
                self.assertEqual(list(problems_with_limits({name: count})), [], name)
            for count in (allowed[0] - 1, allowed[-1] + 1):
                (problem,) = problems_with_limits({name: count})
                self.assertEqual(
                    (problem.code, problem.field), ("input.out_of_range", f"limits.{name}")
                )
                self.assertEqual(
                    dict(problem.params), {"lowest": allowed[0], "highest": allowed[-1]}
                )
        (unknown,) = problems_with_limits({"colour": 3})
        self.assertEqual(unknown.field, "limits.colour")

    @given(COUNTS, COUNTS)
    def test_the_smaller_counts_whoever_says_it(
        self, told: int | None, entered: int | None
    ) -> None:
        found = narrower(told, entered)
        self.assertEqual(found, narrower(entered, told))
        self.assertIn(found, (told, entered))
        for one in (told, entered):
            if one is not None:
                self.assertIsNotNone(found)
                self.assertLessEqual(found or 0, one)

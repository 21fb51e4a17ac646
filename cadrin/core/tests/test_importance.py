"""Who has a place at a full controller; the order itself is Cadrin's own."""

from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.records.importance import Claim, least_important
from cadrin.core.tests.builders import MONDAY_NOON, instants
from cadrin.core.validity import Standing

CLAIMS = st.lists(
    st.builds(Claim, st.integers(1, 99), st.sampled_from(Standing), st.none() | instants()),
    max_size=9,
    unique_by=lambda claim: claim.holder_id,
)


class Places(TestCase):
    def test_go_to_who_is_let_in_for_longest_and_then_to_who_came_first(self) -> None:
        soon, later = MONDAY_NOON, MONDAY_NOON + timedelta(days=9)
        by_importance = [
            Claim(7),
            Claim(9),
            Claim(4, expiry_at=later),
            Claim(2, expiry_at=soon),
            Claim(1, Standing.SUSPENDED),
            Claim(3, Standing.BARRED, later),
        ]
        for room in range(len(by_importance) + 2):
            left = least_important(reversed(by_importance), room)
            self.assertEqual(left, {claim.holder_id for claim in by_importance[room:]})

    @given(CLAIMS, st.integers(0, 9))
    def test_are_all_taken_and_nobody_loses_theirs_when_somebody_else_goes(
        self, claims: list[Claim], room: int
    ) -> None:
        left = least_important(claims, room)
        self.assertEqual(len(left), max(0, len(claims) - room))
        for gone in claims:
            rest = [claim for claim in claims if claim != gone]
            self.assertLessEqual(least_important(rest, room), left)

"""When a group is to be looked through again; the rhythm itself is Cadrin's own."""

from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.reviewing import SOON, ReviewState, due_at, review_state
from cadrin.core.tests.builders import MONDAY_NOON, instants

RHYTHMS = st.integers(1, 3650)


class Reviews(TestCase):
    def test_are_due_when_their_days_are_over_and_said_two_weeks_before(self) -> None:
        last, days = MONDAY_NOON, 90
        due = last + timedelta(days=days)
        for before, state in (
            (timedelta(days=15), ReviewState.DONE),
            (SOON, ReviewState.SOON),
            (timedelta(seconds=1), ReviewState.SOON),
            (timedelta(0), ReviewState.OVERDUE),
            (timedelta(days=-30), ReviewState.OVERDUE),
        ):
            self.assertIs(review_state(last, days, due - before), state, before)

    def test_that_were_never_done_are_overdue_and_those_not_asked_for_are_none(self) -> None:
        self.assertIs(review_state(None, 30, MONDAY_NOON), ReviewState.OVERDUE)
        for last in (None, MONDAY_NOON):
            self.assertIs(review_state(last, None, MONDAY_NOON), ReviewState.NONE)
            self.assertIsNone(due_at(last, None))

    @given(instants(), RHYTHMS, instants(), st.timedeltas(timedelta(0), timedelta(days=400)))
    def test_never_stand_better_as_time_goes_by(
        self, last: datetime, days: int, at: datetime, later: timedelta
    ) -> None:
        order = [ReviewState.DONE, ReviewState.SOON, ReviewState.OVERDUE]
        now = order.index(review_state(last, days, at))
        then = order.index(review_state(last, days, at + later))
        self.assertLessEqual(now, then)

from datetime import datetime, timedelta
from itertools import pairwise
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.life import CardStatus, card_state_at
from cadrin.core.tests.builders import MONDAY_NOON, instants, spans
from cadrin.core.validity import (
    ALWAYS,
    Span,
    Standing,
    State,
    as_one,
    intersection,
    merged,
    problems_with_span,
    span_in_force,
    state_at,
    state_in_span,
)

HOUR = timedelta(hours=1)
standings = st.sampled_from(Standing)
maybe_instants = st.none() | instants()


class Spans(TestCase):
    def test_a_span_holds_its_beginning_and_not_its_end(self) -> None:
        span = Span(MONDAY_NOON, MONDAY_NOON + HOUR)

        self.assertTrue(MONDAY_NOON in span)
        self.assertFalse(MONDAY_NOON + HOUR in span)

    def test_an_expiry_not_after_the_activation_is_refused(self) -> None:
        for end in (MONDAY_NOON, MONDAY_NOON - HOUR):
            with self.subTest(end=end):
                self.assertEqual(len(problems_with_span(Span(MONDAY_NOON, end))), 1)
        self.assertEqual(problems_with_span(Span(MONDAY_NOON, MONDAY_NOON + HOUR)), ())

    @given(spans(), spans(), instants())
    def test_the_meeting_of_two_spans_is_the_time_in_both(
        self, one: Span, other: Span, at: datetime
    ) -> None:
        self.assertEqual(at in intersection(one, other), at in one and at in other)

    @given(
        st.lists(st.tuples(instants(), instants()).map(lambda pair: Span(*sorted(pair)))),
        instants(),
    )
    def test_joining_keeps_every_instant_and_leaves_gaps_between(
        self, pieces: list[Span], at: datetime
    ) -> None:
        joined = merged(pieces)

        self.assertEqual(any(at in piece for piece in pieces), any(at in piece for piece in joined))
        self.assertTrue(all(a.end < b.start for a, b in pairwise(joined)))  # type: ignore[operator]

    @given(spans(), spans(), instants())
    def test_two_are_one_where_nothing_is_between_them(
        self, one: Span, other: Span, at: datetime
    ) -> None:
        both = as_one(one, other)
        if both is not None:
            self.assertEqual(at in both, at in one or at in other)
        else:
            between = min(span.end for span in (one, other) if span.end)
            self.assertFalse(between in one or between in other)

    def test_two_are_one_for_ever_where_one_of_them_has_no_end(self) -> None:
        later = MONDAY_NOON + timedelta(days=1)
        self.assertEqual(as_one(Span(later, None), Span(None, later)), Span(None, None))
        self.assertIsNone(as_one(Span(None, MONDAY_NOON), Span(later, None)))


class States(TestCase):
    def test_each_standing_has_its_state_within_the_span(self) -> None:
        expected = {
            Standing.ACTIVE: State.IN_FORCE,
            Standing.SUSPENDED: State.SUSPENDED,
            Standing.BARRED: State.BARRED,
            Standing.DEPARTED: State.DEPARTED,
        }

        for standing in Standing:
            with self.subTest(standing=standing):
                self.assertIs(state_at(standing, ALWAYS, MONDAY_NOON).state, expected[standing])

    def test_a_suspension_ends_by_itself_when_it_has_an_end(self) -> None:
        until = MONDAY_NOON + HOUR

        self.assertEqual(
            state_at(Standing.SUSPENDED, ALWAYS, MONDAY_NOON, until), (State.SUSPENDED, until)
        )
        self.assertIs(state_at(Standing.SUSPENDED, ALWAYS, until, until).state, State.IN_FORCE)

    @given(standings, spans(), instants(), maybe_instants)
    def test_nothing_changes_before_the_next_change_that_is_told(
        self, standing: Standing, span: Span, at: datetime, suspended_until: datetime | None
    ) -> None:
        now = state_at(standing, span, at, suspended_until)

        later = now.until or at + timedelta(days=400)
        self.assertGreater(later, at)
        for part in (0.0, 0.5, 0.999):
            moment = at + (later - at) * part
            self.assertIs(state_at(standing, span, moment, suspended_until).state, now.state)
        if now.until:
            self.assertIsNot(state_at(standing, span, now.until, suspended_until).state, now.state)

    @given(standings, spans(), instants(), maybe_instants)
    def test_the_span_in_force_and_the_state_tell_the_same(
        self, standing: Standing, span: Span, at: datetime, suspended_until: datetime | None
    ) -> None:
        in_force = span_in_force(standing, span, suspended_until)

        is_in_force = state_at(standing, span, at, suspended_until).state is State.IN_FORCE
        self.assertEqual(in_force is not None and at in in_force, is_in_force)

    def test_only_an_issued_card_counts(self) -> None:
        for status in CardStatus:
            with self.subTest(status=status):
                in_force = card_state_at(status, ALWAYS, MONDAY_NOON).state is State.IN_FORCE
                self.assertEqual(in_force, status is CardStatus.ISSUED)

    def test_an_empty_span_is_never_in_force(self) -> None:
        backwards = Span(MONDAY_NOON, MONDAY_NOON - HOUR)

        states = {
            state_in_span(backwards, MONDAY_NOON + offset * HOUR).state for offset in range(-3, 4)
        }

        self.assertEqual(states, {State.PENDING, State.EXPIRED})

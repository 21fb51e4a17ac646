"""Consent, fingers together, and being let in by card alone: what must hold, without a database."""

from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.biometric import Consent, problems_with_card_alone, time_covered
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.together import (
    FingerWanted,
    problems_with_fingers_together,
)
from cadrin.core.tests.builders import MONDAY_NOON
from cadrin.core.validity import Span

ENDS = st.none() | st.integers(-3, 3).map(lambda days: MONDAY_NOON + timedelta(days=days))
CONSENTS = st.lists(
    st.builds(Consent, st.sampled_from(sorted(BIOMETRIC)), ENDS.map(lambda end: Span(None, end)))
)


class ConsentInTime(TestCase):
    @given(CONSENTS, st.sampled_from(sorted(BIOMETRIC)), st.integers(-4, 4))
    def test_a_template_counts_exactly_while_any_consent_to_it_does(
        self, consents: list[Consent], factor: Factor, days: int
    ) -> None:
        at = MONDAY_NOON + timedelta(days=days)

        is_agreed = any(consent.factor is factor and at in consent.span for consent in consents)

        self.assertEqual(at in time_covered(consents, factor), is_agreed)


class FingersTogether(TestCase):
    def codes(self, *wanted: FingerWanted) -> list[tuple[str, str | None]]:
        return [(p.code, p.field) for p in problems_with_fingers_together(wanted)]

    def test_each_is_there_once_and_one_at_most_is_for_threat(self) -> None:
        thumb, index = FingerWanted(Finger.LEFT_THUMB), FingerWanted(Finger.LEFT_INDEX)
        threat = index._replace(is_duress=True)

        self.assertEqual(self.codes(thumb, threat), [])
        self.assertEqual(self.codes(thumb, index, thumb), [("finger.twice", "fingers.2.finger")])
        self.assertEqual(
            self.codes(thumb._replace(is_duress=True), threat), [("finger.one_duress", "fingers")]
        )
        self.assertEqual(self.codes(threat), [("finger.duress_needs_two", "fingers.0.is_duress")])


class CardAlone(TestCase):
    def test_needs_a_reason_of_some_words_and_not_too_many(self) -> None:
        lengths = {0: True, 4: True, 5: False, 200: False, 201: True}
        for length, is_refused in lengths.items():
            with self.subTest(length):
                found = list(problems_with_card_alone("x" * length))
                self.assertEqual(bool(found), is_refused)
        self.assertTrue(list(problems_with_card_alone("       ")))

from datetime import timedelta
from unittest import TestCase

from cadrin.core.credentials.factors import Factor
from cadrin.core.decision.afterwards import pin_typed, saw_the_pin
from cadrin.core.decision.reasons import Reason
from cadrin.core.tests.builders import MONDAY_NOON, a_holder, a_pin
from cadrin.core.validity import Span

OVER = Span(None, MONDAY_NOON - timedelta(days=1))


class WhichPinWasTyped(TestCase):
    def test_is_known_only_where_the_decision_came_past_it(self) -> None:
        holder = a_holder(pins=(a_pin(),))

        for reason, is_known in (
            (Reason.GRANTED, True),
            (Reason.NO_MEMBERSHIP, True),
            (Reason.PIN_EXPIRED, True),
            (Reason.PIN_WRONG, False),
            (Reason.PIN_MISSING, False),
            (Reason.CARD_LOST, False),
            (Reason.PIN_NOT_TAKEN, False),
        ):
            with self.subTest(reason):
                found = pin_typed(holder, (Factor.CARD, Factor.PIN), reason, MONDAY_NOON)
                self.assertEqual(found, 1 if is_known else None)
        self.assertTrue(saw_the_pin(Reason.PIN_WRONG), "it looked, and it was wrong")

    def test_by_itself_is_one_that_opens_alone(self) -> None:
        holder = a_holder(pins=(a_pin(1), a_pin(2, opens_alone=True)))

        self.assertEqual(pin_typed(holder, (Factor.PIN,), Reason.NO_MEMBERSHIP, MONDAY_NOON), 2)
        self.assertIsNone(pin_typed(holder, (Factor.CARD,), Reason.GRANTED, MONDAY_NOON))
        self.assertIsNone(pin_typed(None, (Factor.PIN,), Reason.PIN_WRONG, MONDAY_NOON))

    def test_of_two_the_one_that_fits_the_reason_is_meant(self) -> None:
        holder = a_holder(pins=(a_pin(1, span=OVER), a_pin(2)))

        self.assertEqual(
            pin_typed(holder, (Factor.CARD, Factor.PIN), Reason.PIN_EXPIRED, MONDAY_NOON), 1
        )
        self.assertEqual(
            pin_typed(holder, (Factor.CARD, Factor.PIN), Reason.OUTSIDE_HOURS, MONDAY_NOON), 2
        )

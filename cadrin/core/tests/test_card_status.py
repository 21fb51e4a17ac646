"""The life of a card: what it may become, who may be given it."""

from datetime import timedelta
from itertools import product
from unittest import TestCase

from cadrin.core.credentials.card.life import (
    ALIVE,
    FREE,
    HELD_STATUSES,
    LIFE,
    CardStatus,
    card_span_in_force,
    card_state_at,
    given_up,
)
from cadrin.core.tests.builders import MONDAY_NOON
from cadrin.core.validity import ALWAYS, State

IN_STOCK, RETURNED, DESTROYED = CardStatus.IN_STOCK, CardStatus.RETURNED, CardStatus.DESTROYED
REPORTED = {CardStatus.LOST, CardStatus.STOLEN, CardStatus.DAMAGED}


class LifeOfACard(TestCase):
    def test_each_status_has_its_row_and_is_not_two_things_at_once(self) -> None:
        self.assertEqual(set(LIFE), set(CardStatus))
        self.assertEqual(set(ALIVE), {CardStatus.ISSUED, CardStatus.SUSPENDED})
        self.assertEqual(set(HELD_STATUSES), set(ALIVE) | REPORTED)
        self.assertEqual(set(FREE), {IN_STOCK, RETURNED})

    def test_what_was_reported_is_not_free_by_being_given_up(self) -> None:
        for status in CardStatus:
            with self.subTest(status):
                if status not in HELD_STATUSES:
                    self.assertRaises(ValueError, given_up, status)
                    continue
                after = given_up(status)
                self.assertIs(after, status if status in REPORTED else RETURNED)
                self.assertIsNone(card_span_in_force(after, ALWAYS), "nobody's card works nowhere")

    def test_only_a_suspension_has_an_end_of_itself(self) -> None:
        until = MONDAY_NOON + timedelta(hours=1)

        for status in CardStatus:
            with self.subTest(status):
                state, ends = card_state_at(status, ALWAYS, MONDAY_NOON, until)
                self.assertEqual(ends, until if status is CardStatus.SUSPENDED else None)
                self.assertIs(state is State.IN_FORCE, status is CardStatus.ISSUED)

    def test_no_way_leads_from_destroyed_or_nobody_s_past_the_stock(self) -> None:
        for before, after in product(CardStatus, repeat=2):
            with self.subTest(f"{before} to {after}"):
                may = after in LIFE[before].may_become
                if before is DESTROYED:
                    self.assertEqual(may, after is IN_STOCK)
                elif after is RETURNED:
                    self.assertEqual(
                        may, before in ALIVE, "only a card that works comes back as it is"
                    )
                elif after in (IN_STOCK, DESTROYED):
                    self.assertEqual(
                        may, before not in ALIVE and before is not after, "somebody has it"
                    )
                else:
                    self.assertTrue(may, "whoever has it, or is given it, says what became of it")

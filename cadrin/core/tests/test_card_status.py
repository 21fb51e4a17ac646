"""The life of a card: what it may become, who may be given it."""

from unittest import TestCase

from cadrin.core.cards.status import ALIVE, FREE, HELD_STATUSES, WHEN_GIVEN_UP, CardStatus, card_span_in_force
from cadrin.core.validity import ALWAYS


class LifeOfACard(TestCase):
    def test_of_one_that_somebody_has_says_what_becomes_of_it(self) -> None:
        self.assertEqual(set(WHEN_GIVEN_UP), set(HELD_STATUSES))
        for before, after in WHEN_GIVEN_UP.items():
            with self.subTest(before):
                self.assertNotIn(after, ALIVE, "nobody's card works nowhere")
                self.assertIsNone(card_span_in_force(after, ALWAYS))
                # a card is free again only when it was in somebody's hands
                self.assertEqual(after in FREE, before in ALIVE)

    def test_has_no_status_that_is_two_things_at_once(self) -> None:
        self.assertFalse(set(FREE) & set(HELD_STATUSES))
        self.assertLessEqual(set(ALIVE), set(HELD_STATUSES))
        self.assertEqual(set(CardStatus) - set(FREE) - set(HELD_STATUSES), {CardStatus.DESTROYED})

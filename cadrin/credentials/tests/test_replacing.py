"""A card in place of another one."""

from dataclasses import fields, replace

from django.test import TestCase

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.replacing import STAYS_WITH_THE_OLD
from cadrin.core.schedules import Hours
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.replacing import IDENTITY, next_issue, replaced
from tests.house import NOON, House


class Replacing(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.old = CardDraft(
            self.house.format.pk, 12, 4751, CardStatus.SUSPENDED, NOON, None, NOON, "spare",
            is_watched=True, use_limit=3, hours=(Hours(0, 480, 1080),), zone="Europe/London",
        )  # fmt: skip

    def test_takes_over_what_is_not_the_old_cards_own(self) -> None:
        terms = {field.name for field in fields(CardDraft)} - {*IDENTITY, *STAYS_WITH_THE_OLD}

        old, new = replaced(self.old, (self.house.format.pk, 12, 9), CardStatus.LOST)

        self.assertEqual(old, replace(self.old, status=CardStatus.LOST, suspended_until=None))
        for name in terms:
            self.assertEqual(getattr(new, name), getattr(self.old, name), name)
        self.assertEqual((new.card_number, new.status), (9, CardStatus.ISSUED))
        self.assertEqual((new.suspended_until, new.issue_level), (None, None))
        self.assertEqual(
            replaced(self.old, (self.house.format.pk, 12, 9), CardStatus.RETURNED), (new,)
        )

    def test_has_no_next_issue_where_the_format_has_none(self) -> None:
        self.assertIsNone(next_issue(self.old))

"""The demo: the same every time but for the day, with each of its stories in it."""

from collections import Counter
from datetime import UTC, datetime

from django.test import TestCase

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.validity import Standing
from cadrin.credentials.models import Card
from cadrin.demo.loading import load_demo
from cadrin.demo.people import people
from cadrin.desk.queries import desk
from cadrin.people.models import Cardholder
from cadrin.sites.models import Area, Controller, Door, Reader, Site
from tests.house import ANYBODY

NOW = datetime(2026, 9, 3, 10, tzinfo=UTC)


class TheDemo(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load_demo(NOW)

    def test_is_as_large_as_it_should_be(self) -> None:
        self.assertTrue(175 <= Cardholder.objects.count() <= 190)
        counted = [model.objects.count() for model in (Site, Area, Door, Reader, Controller)]  # type: ignore[attr-defined]
        self.assertEqual(counted, [2, 10, 24, 30, 5])

    def test_is_the_same_every_time_and_moves_with_the_day(self) -> None:
        one, again, later = people(NOW), people(NOW), people(NOW.replace(day=10))

        self.assertEqual(one, again)
        self.assertEqual([p.last_name for p in one], [p.last_name for p in later])
        self.assertNotEqual([p.expiry_at for p in one], [p.expiry_at for p in later])
        names = Counter((p.first_name, p.last_name) for p in one)
        self.assertEqual([name for name, times in names.items() if times > 1], [])

    def test_tells_its_stories(self) -> None:
        standings = Counter(Cardholder.objects.values_list("standing", flat=True))
        statuses = Counter(Card.objects.values_list("status", flat=True))
        waiting = desk(ANYBODY, NOW)

        self.assertEqual(
            (
                standings[Standing.BARRED],
                standings[Standing.SUSPENDED],
                standings[Standing.DEPARTED],
            ),
            (1, 2, 4),
        )
        for status in (CardStatus.SUSPENDED, CardStatus.LOST, CardStatus.STOLEN):
            self.assertEqual(statuses[status], 1)
        self.assertGreaterEqual(waiting.not_ready.total, 4)
        self.assertGreaterEqual(waiting.starting_soon.total, 2)
        self.assertEqual(waiting.unknown_cards.rows[0]["card_number"], 9917)

    def test_a_contractor_ends_within_the_hour_that_the_clocks_repeat(self) -> None:
        person = Cardholder.objects.get(remarks__contains="clocks repeat")

        # the second 01:30 of 25 October 2026, in winter time (IANA time zone database)
        self.assertEqual(person.expiry_at, datetime(2026, 10, 25, 1, 30, tzinfo=UTC))

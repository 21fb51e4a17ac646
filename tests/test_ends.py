"""When something ends, as an operator says it: an instant, or a day through which it lasts."""

from datetime import UTC, datetime
from unittest.mock import patch
from zoneinfo import ZoneInfo

from django.test import TestCase
from rest_framework.exceptions import ValidationError

from cadrin.sites.rest.fields import SiteEndField


class Ends(TestCase):
    def read(self, written: object, zone: str) -> datetime:
        with patch.object(SiteEndField, "default_timezone", return_value=ZoneInfo(zone)):
            found: datetime = SiteEndField().run_validation(written)
        return found

    def test_on_a_day_alone_are_its_end_on_the_wall(self) -> None:
        # the IANA time zone database: winter and summer, a day on which clocks change, and Cairo,
        # where the first hour of 24 April 2026 is skipped
        for day, zone, expected in (
            ("2026-12-04", "Europe/London", datetime(2026, 12, 5, tzinfo=UTC)),
            ("2026-07-04", "Europe/London", datetime(2026, 7, 4, 23, tzinfo=UTC)),
            ("2026-10-25", "Europe/Berlin", datetime(2026, 10, 25, 23, tzinfo=UTC)),
            ("2026-04-23", "Africa/Cairo", datetime(2026, 4, 23, 22, tzinfo=UTC)),
        ):
            with self.subTest(day=day, zone=zone):
                self.assertEqual(self.read(day, zone), expected)

    def test_with_a_time_are_that_instant(self) -> None:
        self.assertEqual(
            self.read("2026-07-04T18:00", "Europe/London"), datetime(2026, 7, 4, 17, tzinfo=UTC)
        )

    def test_on_a_day_that_there_is_not_are_refused(self) -> None:
        for written in ("2026-02-30", "2026-13-01", "0000-01-01", "soon", 7):
            with self.subTest(written), self.assertRaises(ValidationError):
                self.read(written, "Europe/London")

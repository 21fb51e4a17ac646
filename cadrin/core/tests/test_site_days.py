from datetime import UTC, datetime, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.site_days import coming_morning, end_of_day

ZONES = [
    ZoneInfo(name)
    for name in ("Europe/London", "America/New_York", "Asia/Beirut", "America/Havana", "UTC")
]
HOUR = timedelta(hours=1)
seconds = st.integers(
    int(datetime(2020, 1, 1, tzinfo=UTC).timestamp()),
    int(datetime(2037, 1, 1, tzinfo=UTC).timestamp()),
)
instants = seconds.map(lambda at: datetime.fromtimestamp(at, UTC))


class SiteDays(TestCase):
    @given(instants, st.sampled_from(ZONES))
    def test_the_day_ends_when_the_wall_first_shows_another(
        self, at: datetime, zone: ZoneInfo
    ) -> None:
        end = end_of_day(at, zone)

        today = at.astimezone(zone).date()
        self.assertTrue(timedelta(0) < end - at <= 25 * HOUR)
        self.assertEqual((end - timedelta(seconds=1)).astimezone(zone).date(), today)
        self.assertEqual(end.astimezone(zone).date(), today + timedelta(days=1))

    @given(instants, st.sampled_from(ZONES))
    def test_the_coming_morning_is_the_next_six_o_clock(self, at: datetime, zone: ZoneInfo) -> None:
        morning = coming_morning(at, zone)

        wall = morning.astimezone(zone)
        self.assertEqual((wall.hour, wall.minute), (6, 0))
        self.assertTrue(timedelta(0) < morning - at <= 25 * HOUR)

    def test_in_the_hour_that_comes_twice_today_is_still_to_end(self) -> None:
        for minutes in range(0, 120, 5):  # from midnight on, when the clocks go back at two
            at = datetime(2026, 10, 24, 23, tzinfo=UTC) + timedelta(minutes=minutes)
            self.assertEqual(end_of_day(at, ZONES[0]), datetime(2026, 10, 26, tzinfo=UTC))
            self.assertEqual(coming_morning(at, ZONES[0]), datetime(2026, 10, 25, 6, tzinfo=UTC))

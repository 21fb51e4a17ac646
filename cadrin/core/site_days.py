"""Instants that a site names by its calendar: the end of today, the coming morning."""

from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

MORNING = time(6)


def end_of_day(at: datetime, zone: ZoneInfo) -> datetime:
    """Return when the day ends that the wall shows at an instant, in UTC.

    On the day the clocks go back a day has 25 hours:

    >>> end_of_day(datetime(2026, 10, 24, 23, 30, tzinfo=UTC), ZoneInfo("Europe/London")).isoformat()
    '2026-10-26T00:00:00+00:00'
    """
    return datetime.combine(
        at.astimezone(zone).date() + timedelta(days=1), time(), zone
    ).astimezone(UTC)


def coming_morning(at: datetime, zone: ZoneInfo) -> datetime:
    """Return the first six o'clock after an instant, in UTC.

    >>> coming_morning(datetime(2026, 6, 1, 3, tzinfo=UTC), ZoneInfo("Europe/London")).isoformat()
    '2026-06-01T05:00:00+00:00'
    """
    today = at.astimezone(zone).date()
    mornings = (
        datetime.combine(today + timedelta(days=days), MORNING, zone).astimezone(UTC)
        for days in (0, 1)
    )
    return next(morning for morning in mornings if morning > at)

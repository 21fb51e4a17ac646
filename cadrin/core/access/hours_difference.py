"""What another schedule opens and closes: each day on which its hours differ, and by how much."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import NamedTuple

from cadrin.core.schedules import Schedule, zone_named
from cadrin.core.validity import Span, bounds, minus

LOOKS_AHEAD = timedelta(days=366)


class DayDifference(NamedTuple):
    """A day of the clock on the wall, and how many minutes open and close on it."""

    day: date
    gained_minutes: int
    lost_minutes: int


def days_that_differ(before: Schedule, after: Schedule, at: datetime) -> tuple[DayDifference, ...]:
    """Return the days of the coming year on which hours are gained or lost, in order."""
    if before == after:
        return ()
    span = Span(at, at + LOOKS_AHEAD)
    old, new = before.open_spans(span), after.open_spans(span)
    found: dict[date, list[timedelta]] = {}
    for place, pieces in enumerate((minus(new, old), minus(old, new))):
        for start, end in map(bounds, pieces):
            for day, length in _by_days(start, end, after.zone):
                found.setdefault(day, [timedelta(), timedelta()])[place] += length
    return tuple(
        DayDifference(day, *(round(length.total_seconds() / 60) for length in lengths))
        for day, lengths in sorted(found.items())
    )


def _by_days(start: datetime, end: datetime, zone: str) -> Iterable[tuple[date, timedelta]]:
    wall = zone_named(zone)
    while start < end:
        local = start.astimezone(wall)
        midnight = datetime(local.year, local.month, local.day, tzinfo=wall) + timedelta(days=1)
        stop = min(end, midnight.astimezone(start.tzinfo))
        yield local.date(), stop - start
        start = stop

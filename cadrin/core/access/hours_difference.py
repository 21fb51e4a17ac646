"""What another schedule opens and closes: each day on which its hours differ, and by how much."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import NamedTuple

from cadrin.core.schedules import Schedule, zone_named
from cadrin.core.validity import Span, bounds

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
    for place, pieces in enumerate((_only_in_first(new, old), _only_in_first(old, new))):
        for start, end in pieces:
            for day, length in _by_days(start, end, after.zone):
                found.setdefault(day, [timedelta(), timedelta()])[place] += length
    return tuple(
        DayDifference(day, *(round(length.total_seconds() / 60) for length in lengths))
        for day, lengths in sorted(found.items())
    )


def _only_in_first(
    first: Iterable[Span], second: Iterable[Span]
) -> Iterable[tuple[datetime, datetime]]:
    """Yield the time of ordered spans that is not in others, which are ordered as well."""
    others = [bounds(span) for span in second]
    place = 0
    for start, end in map(bounds, first):
        while place < len(others) and others[place][1] <= start:
            place += 1
        here, n = start, place
        while n < len(others) and others[n][0] < end:
            if here < others[n][0]:
                yield here, others[n][0]
            here = max(here, others[n][1])
            n += 1
        if here < end:
            yield here, end


def _by_days(start: datetime, end: datetime, zone: str) -> Iterable[tuple[date, timedelta]]:
    wall = zone_named(zone)
    while start < end:
        local = start.astimezone(wall)
        midnight = datetime(local.year, local.month, local.day, tzinfo=wall) + timedelta(days=1)
        stop = min(end, midnight.astimezone(start.tzinfo))
        yield local.date(), stop - start
        start = stop

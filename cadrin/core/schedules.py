"""Weekly hours, to the minute, in a site's time zone.

Hours are what a clock on the wall shows: a window from 01:30 to 02:30 is open whenever that clock
reads so. On the day the clocks go forward it is therefore shorter, and on the day they go back the
repeated hour is open twice. A controller beside the door judges in the same way.
"""

from bisect import bisect_right
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from itertools import pairwise
from zoneinfo import ZoneInfo

from cadrin.core.errors import Invalid, Problem
from cadrin.core.holidays import Minutes, SpecialHours, within, without
from cadrin.core.validity import Span, bounds, merged

MINUTES_A_DAY = 24 * 60
MINUTES_A_WEEK = 7 * MINUTES_A_DAY
_EPOCH_MONDAY = datetime(1970, 1, 5, tzinfo=UTC)
_SECONDS_TO_MONDAY = int(_EPOCH_MONDAY.timestamp())
# A window that a clock change swallows comes back a week later: two weeks and a day show every
# change
_LOOK_AHEAD = timedelta(days=15)
# with holidays a season may lie between: a year and a day show the next opening, if there is one
_LOOK_FAR_AHEAD = timedelta(days=367)


@dataclass(frozen=True, slots=True, order=True)
class Hours:
    """One window of a week: ``weekday`` 0 is Monday; minutes are counted from that day's midnight.

    ``end_minute`` is not included and may pass midnight: 22:00 to 06:00 is (1320, 1800).
    """

    weekday: int
    start_minute: int
    end_minute: int


def zone_named(name: str) -> ZoneInfo:
    """Find a zone of the IANA database. Raises Invalid when there is none of that name."""
    try:
        return ZoneInfo(name)
    except (KeyError, ValueError, OSError):
        raise Invalid.of("schedule.unknown_zone", "zone", zone=name[:80]) from None


def is_skipped(wall: datetime, zone: ZoneInfo) -> bool:
    """Say whether the clock on the wall never shows this: the clocks go forward past it.

    >>> is_skipped(datetime(2026, 3, 29, 1, 30), ZoneInfo("Europe/London"))
    True
    """
    return wall.replace(tzinfo=zone).astimezone(UTC).astimezone(zone).replace(tzinfo=None) != wall


def problems_with_hours(hours: Iterable[Hours]) -> tuple[Problem, ...]:
    """Return every reason why these windows make no schedule: empty, too long, or
    overlapping ones.
    """
    windows = list(hours)
    problems = []
    if not windows:
        problems.append(Problem("schedule.no_hours", "hours"))
    stretches: list[tuple[int, int, int]] = []
    for place, window in enumerate(windows):
        if not (0 <= window.weekday <= 6 and 0 <= window.start_minute < MINUTES_A_DAY):
            problems.append(Problem("schedule.hours_outside", f"hours.{place}"))
        elif window.end_minute <= window.start_minute:
            problems.append(Problem("schedule.hours_empty", f"hours.{place}"))
        elif window.end_minute - window.start_minute > MINUTES_A_DAY:
            problems.append(Problem("schedule.hours_too_long", f"hours.{place}"))
        else:
            stretches += [(start, end, place) for start, end in _minutes_of_week(window)]
    stretches.sort()
    clashes = {
        max(first[2], after[2]) for first, after in pairwise(stretches) if after[0] < first[1]
    }
    problems += [Problem("schedule.hours_overlap", f"hours.{place}") for place in sorted(clashes)]
    return tuple(problems)


def _minutes_of_week(hours: Hours) -> list[tuple[int, int]]:
    start = hours.weekday * MINUTES_A_DAY + hours.start_minute
    end = hours.weekday * MINUTES_A_DAY + hours.end_minute
    if end <= MINUTES_A_WEEK:
        return [(start, end)]
    return [(start, MINUTES_A_WEEK), (0, end - MINUTES_A_WEEK)]


@dataclass(frozen=True, slots=True)
class Schedule:
    """Weekly hours in a zone, and others on holidays. Raises Invalid with everything that is wrong with
    them.
    """

    zone: str
    hours: tuple[Hours, ...]
    special: SpecialHours | None = None
    """What holds on holidays instead."""
    _zone: ZoneInfo = field(init=False, repr=False, compare=False)
    _starts: tuple[int, ...] = field(init=False, repr=False, compare=False)
    _ends: tuple[int, ...] = field(init=False, repr=False, compare=False)
    _stretch: tuple[float, float, float] = field(
        init=False, repr=False, compare=False, default=(0, 0, 0)
    )
    """Between which seconds the zone keeps its distance from UTC, and what turns them into those of
    the wall since a Monday's midnight: what was found last.
    """

    def __post_init__(self) -> None:
        zone = zone_named(self.zone)
        if problems := problems_with_hours(self.hours):
            raise Invalid(problems)
        windows = sorted(window for hours in self.hours for window in _minutes_of_week(hours))
        put = object.__setattr__
        if self.special is not None and not self.special.holidays:
            put(self, "special", None)
        put(self, "_zone", zone)
        put(self, "_starts", tuple(start for start, _ in windows))
        put(self, "_ends", tuple(end for _, end in windows))

    def is_open(self, at: datetime) -> bool:
        """Say whether the wall clock of the site stands within the hours."""
        if self.special is not None:
            local = at.astimezone(self._zone)
            of_day = local.hour * 60 + local.minute
            for part in self.special.parts_of(local.date()):
                if part.start <= of_day < part.end:
                    return any(start <= of_day < end for start, end in part.open)
        second = at.timestamp()
        begin, end, to_wall = self._stretch
        if not begin <= second < end:
            begin, end, to_wall = self._stretch_around(at)
            object.__setattr__(self, "_stretch", (begin, end, to_wall))
        minute = int((second + to_wall) // 60) % MINUTES_A_WEEK
        place = bisect_right(self._starts, minute) - 1
        return place >= 0 and minute < self._ends[place]

    def _stretch_around(self, at: datetime) -> tuple[float, float, float]:
        midnight = at.astimezone(UTC).replace(hour=0, minute=0, second=0, microsecond=0)
        for begin, end, offset in _stretches_of_one_offset(
            self._zone, midnight - _LOOK_AHEAD, midnight + _LOOK_AHEAD
        ):
            if begin <= at < end:
                to_wall = offset.total_seconds() - _SECONDS_TO_MONDAY
                return begin.timestamp(), end.timestamp(), to_wall
        raise AssertionError(at)

    def opens_after(self, at: datetime) -> datetime | None:
        """Return the first instant after ``at`` at which it opens; it must be closed at ``at``.

        None when it never opens.
        """
        if self.special is not None:
            spans = self.open_spans(Span(at, at + _LOOK_AHEAD)) or self.open_spans(
                Span(at, at + _LOOK_FAR_AHEAD)
            )
            return spans[0].start if spans else None
        local = at.astimezone(self._zone)
        minute = local.weekday() * MINUTES_A_DAY + local.hour * 60 + local.minute
        place = bisect_right(self._starts, minute)
        start = (
            self._starts[place] if place < len(self._starts) else self._starts[0] + MINUTES_A_WEEK
        )
        found = at + timedelta(0, (start - minute) * 60 - at.second, -at.microsecond)
        if found.astimezone(self._zone).utcoffset() == local.utcoffset():
            return found
        # the clocks change on the way: look at each stretch
        spans = self.open_spans(Span(at, at + _LOOK_AHEAD))
        return spans[0].start if spans else None

    def open_spans(self, span: Span) -> tuple[Span, ...]:
        """Return the open time within a bounded span, in order, joined where it touches."""
        begin, finish = bounds(span)
        lit: list[Span] = []
        for start, end, offset in _stretches_of_one_offset(self._zone, begin, finish):
            if self.special is not None:
                lit += self._spans_by_days(self.special, start, end, offset)
                continue
            week = start + offset - (start + offset - _EPOCH_MONDAY) % timedelta(weeks=1) - offset
            while week < end:
                for first, last in zip(self._starts, self._ends, strict=True):
                    opens = max(start, week + timedelta(minutes=first))
                    closes = min(end, week + timedelta(minutes=last))
                    if opens < closes:
                        lit.append(Span(opens, closes))
                week += timedelta(weeks=1)
        return merged(lit)

    def _spans_by_days(
        self, special: SpecialHours, start: datetime, end: datetime, offset: timedelta
    ) -> Iterator[Span]:
        """Yield the open time within a stretch of one offset, a day of the wall clock at a time."""
        midnight = (start + offset).replace(hour=0, minute=0, second=0, microsecond=0)
        while midnight - offset < end:
            for first, last in self._minutes_of_day(special, midnight):
                opens = max(start, midnight + timedelta(minutes=first) - offset)
                closes = min(end, midnight + timedelta(minutes=last) - offset)
                if opens < closes:
                    yield Span(opens, closes)
            midnight += timedelta(days=1)

    def _minutes_of_day(self, special: SpecialHours, midnight: datetime) -> Iterable[Minutes]:
        base = midnight.weekday() * MINUTES_A_DAY
        weekly = [
            (start - base, end - base)
            for start, end in zip(self._starts, self._ends, strict=True)
            if start < base + MINUTES_A_DAY and base < end
        ]
        usual = within(weekly, 0, MINUTES_A_DAY)
        parts = special.parts_of(midnight.date())
        if not parts:
            return usual
        lit = [window for part in parts for window in part.open]
        return sorted((*without(usual, [(part.start, part.end) for part in parts]), *lit))

    def next_change(self, at: datetime) -> datetime | None:
        """Return the first instant after ``at`` when it opens or closes; None when it
        never does.
        """
        ahead = _LOOK_AHEAD if self.special is None else _LOOK_FAR_AHEAD
        for start, end in map(bounds, self.open_spans(Span(at, at + ahead))):
            for edge in (start, end):
                if at < edge < at + ahead:
                    return edge
        return None


@lru_cache(maxsize=256)
def _stretches_of_one_offset(
    zone: ZoneInfo, start: datetime, end: datetime
) -> tuple[tuple[datetime, datetime, timedelta], ...]:
    """Cut a span where the zone's distance from UTC changes. Two changes within a day are not
    looked for.
    """

    def offset_at(at: datetime) -> timedelta:
        return at.astimezone(zone).utcoffset() or timedelta()

    start, end = start.astimezone(UTC), end.astimezone(UTC)
    stretches = []
    begin = here = start
    while here < end:
        there = min(here + timedelta(days=1), end)
        if offset_at(here) != offset_at(there):
            before, after = here, there
            while after - before > timedelta(seconds=1):
                middle = before + (after - before) / 2
                before, after = (
                    (middle, after) if offset_at(middle) == offset_at(here) else (before, middle)
                )
            change = after.replace(microsecond=0)
            stretches.append((begin, change, offset_at(here)))
            begin = change
        here = there
    stretches.append((begin, end, offset_at(begin)))
    return tuple(stretches)


def round_the_clock(zone: str) -> Schedule:
    """Return the schedule that never closes."""
    return Schedule(zone, tuple(Hours(day, 0, MINUTES_A_DAY) for day in range(7)))

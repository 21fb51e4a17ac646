"""Holidays: days on which other hours hold than those of the week, on the calendar of a site.

A day is one of the clock on the wall; part of it may be a holiday alone. Whatever the week says of a
minute, a holiday says it instead: a watch that began the evening before ends where one begins.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from cadrin.core.errors import Invalid, Problem

MINUTES_A_DAY = 24 * 60
LONGEST_DAYS = 366
MOST_HOLIDAYS = 2_000
Minutes = tuple[int, int]
"""From a minute of a day up to another, which is not included."""


@dataclass(frozen=True, slots=True, order=True)
class Holiday:
    """Days of one kind, from the first through the last, each from one minute up to another.

    ``is_yearly`` means the same days of every year; 29 February is then one of leap years alone.
    """

    first: date
    last: date
    kind: int
    is_yearly: bool = False
    start_minute: int = 0
    end_minute: int = MINUTES_A_DAY

    @property
    def length(self) -> int:
        """Count the days."""
        return (self.last - self.first).days + 1

    def days(self) -> Iterator[date]:
        for n in range(self.length):
            yield self.first + timedelta(days=n)


def problems_with_holidays(holidays: Iterable[Holiday]) -> tuple[Problem, ...]:
    """Return every reason why these make no calendar, each beside its holiday."""
    problems = []
    for place, one in enumerate(holidays):
        if one.last < one.first:
            problems.append(Problem("holiday.ends_before", f"days.{place}.last"))
        elif one.length > LONGEST_DAYS:
            told = {"most": LONGEST_DAYS}
            problems.append(Problem("holiday.too_long", f"days.{place}.last", told))
        if not 0 <= one.start_minute < one.end_minute <= MINUTES_A_DAY:
            problems.append(Problem("holiday.no_such_time", f"days.{place}.end_minute"))
        if place == MOST_HOLIDAYS:
            problems.append(Problem("input.too_many", "days", {"most": MOST_HOLIDAYS}))
            break
    return tuple(problems)


def problems_with_minutes(windows: Iterable[Minutes]) -> tuple[str, ...]:
    """Return the codes of what is wrong with hours of a holiday: outside of the day, empty, overlapping."""
    codes, last = [], 0
    for start, end in sorted(windows):
        if not 0 <= start <= end <= MINUTES_A_DAY:
            codes.append("schedule.hours_outside")
        elif start == end:
            codes.append("schedule.hours_empty")
        elif start < last:
            codes.append("schedule.hours_overlap")
        last = max(last, end)
    return tuple(codes)


class Part(NamedTuple):
    """Part of a day on which a holiday holds, and the hours that are open in it."""

    start: int
    end: int
    open: tuple[Minutes, ...]


@dataclass(frozen=True, slots=True)
class SpecialHours:
    """What holds on holidays: the days, and for each kind that matters the hours that are open on it.

    A kind without hours here leaves the week as it is; one with none at all is closed. Of several
    holidays at one minute the one with the fewest days counts, then the kind with the lower number.
    Raises Invalid.
    """

    holidays: tuple[Holiday, ...]
    # a schedule is a key of caches; two that differ in this alone are told apart by comparison
    hours: Mapping[int, tuple[Minutes, ...]] = field(hash=False)
    _once: dict[date, tuple[Part, ...]] = field(init=False, repr=False, compare=False)
    _yearly: dict[tuple[int, int], tuple[Holiday, ...]] = field(
        init=False, repr=False, compare=False
    )
    _dated: dict[date, tuple[Holiday, ...]] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        problems = [
            *problems_with_holidays(self.holidays),
            *(
                Problem(code, f"holiday_hours.{kind}")
                for kind, windows in self.hours.items()
                for code in problems_with_minutes(windows)
            ),
        ]
        if problems:
            raise Invalid(problems)
        put = object.__setattr__
        # only what matters is kept, in one order: two that say the same are the same
        put(self, "holidays", tuple(sorted(h for h in self.holidays if h.kind in self.hours)))
        kinds = sorted({holiday.kind for holiday in self.holidays})
        put(self, "hours", {kind: tuple(sorted(self.hours[kind])) for kind in kinds})
        dated: dict[date, list[Holiday]] = {}
        yearly: dict[tuple[int, int], list[Holiday]] = {}
        for holiday in self.holidays:
            for day in holiday.days():
                if holiday.is_yearly:
                    yearly.setdefault((day.month, day.day), []).append(holiday)
                else:
                    dated.setdefault(day, []).append(holiday)
        put(self, "_dated", {day: tuple(found) for day, found in dated.items()})
        put(self, "_yearly", {day: tuple(found) for day, found in yearly.items()})
        put(self, "_once", {})

    def parts_of(self, day: date) -> tuple[Part, ...]:
        """Return the parts of a day on which a holiday holds, in order, without overlap; mostly none."""
        found = self._once.get(day)
        if found is None:
            found = self._work_out(day)
            if len(self._once) > 4 * LONGEST_DAYS:
                self._once.clear()
            self._once[day] = found
        return found

    def _work_out(self, day: date) -> tuple[Part, ...]:
        here = (*self._dated.get(day, ()), *self._yearly.get((day.month, day.day), ()))
        if not here:
            return ()
        parts: list[Part] = []
        taken: list[Minutes] = []
        for holiday in sorted(here, key=lambda one: (one.length, one.kind)):
            for start, end in without(((holiday.start_minute, holiday.end_minute),), taken):
                lit = within(self.hours[holiday.kind], start, end)
                parts.append(Part(start, end, lit))
            taken.append((holiday.start_minute, holiday.end_minute))
        return tuple(sorted(parts))


def within(windows: Iterable[Minutes], start: int, end: int) -> tuple[Minutes, ...]:
    """Return the windows as far as they lie between two minutes, in order."""
    cut = ((max(start, first), min(end, last)) for first, last in sorted(windows))
    return tuple((first, last) for first, last in cut if first < last)


def without(windows: Iterable[Minutes], taken: Iterable[Minutes]) -> tuple[Minutes, ...]:
    """Return the windows without what is taken of them, in order.

    >>> without([(0, 100)], [(20, 30), (90, 120)])
    ((0, 20), (30, 90))
    """
    left = list(windows)
    for start, end in taken:
        left = [
            piece
            for first, last in left
            for piece in ((first, min(last, start)), (max(first, end), last))
            if piece[0] < piece[1]
        ]
    return tuple(sorted(left))

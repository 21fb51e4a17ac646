"""Days and instants as people write them. What could mean two days is asked about and never guessed."""

import re
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum
from typing import NamedTuple
from zoneinfo import ZoneInfo

from cadrin.core.errors import Problem
from cadrin.core.people.names import fold


class DateOrder(StrEnum):
    """In what order day and month stand; unsaid is asked for where it matters."""

    UNSAID = ""
    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"


class ShortYears(StrEnum):
    """Which century a year of two digits belongs to."""

    UNSAID = ""
    PAST = "past"
    NEAR = "near"


class Moment(NamedTuple):
    """A day, and the time of it where one was written."""

    day: date
    at: time | None = None


def instant_of(moment: Moment, zone: ZoneInfo, *, is_end: bool) -> datetime:
    """Return the instant of a day on the site's wall: its beginning, or its end; or the time said.

    >>> instant_of(Moment(date(2026, 3, 1)), ZoneInfo("UTC"), is_end=True).isoformat()
    '2026-03-02T00:00:00+00:00'
    """
    day = moment.day
    if moment.at is None and is_end and day.toordinal() < 3652059:
        day += timedelta(days=1)
    return datetime.combine(day, moment.at or time(), zone).astimezone(UTC)


class DateRule(NamedTuple):
    """How the dates of a column are read. ``this_year`` decides which century is past or near."""

    this_year: int
    order: DateOrder = DateOrder.UNSAID
    short_years: ShortYears = ShortYears.UNSAID


_YEAR_FIRST = re.compile(r"(\d{4})([-/.]?)(\d{1,2})\2(\d{1,2})")
_YEAR_LAST = re.compile(r"(\d{1,2})\s*([-/. ])\s*(\d{1,2})\s*\2\s*(\d{4}|\d\d)")
_DAY_NAMED = re.compile(r"(\d{1,2})(?:st|nd|rd|th|\.)?[-\s]*([^\W\d]+)\.?,?[-\s]*(\d{4}|\d\d)")
_NAMED_DAY = re.compile(r"([^\W\d]+)\.?\s*(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4}|\d\d)")
_TIME = re.compile(
    r"[T,\s]\s*(\d{1,2})[:.](\d\d)(?:[:.](\d\d)(?:\.(\d{1,6}))?)?\s*([ap]\.?m\.?)?$", re.IGNORECASE
)
_WEEKDAY = re.compile(r"^[^\W\d]{2,10}[.,]+\s+(?=\d)")
_MONTHS = (
    "january januar janvier januari januar enero gennaio styczen janeiro jan",
    "february februar fevrier februari febrero febbraio luty fevereiro feb",
    "march marz mars maart marts marzo marco mar mrz",
    "april avril abril aprile kwiecien apr",
    "may mai mei maj mayo maggio",
    "june juni juin junio giugno czerwiec junho jun",
    "july juli juillet julio luglio lipiec julho jul",
    "august aout augustus augusti agosto sierpien aug",
    "september septembre septiembre settembre wrzesien setembro sep sept",
    "october oktober octobre octubre ottobre pazdziernik outubro oct okt",
    "november novembre noviembre listopad novembro nov",
    "december dezember decembre desember diciembre dicembre grudzien dezembro dec dez des",
)
_MONTH_NAMED = {name: number for number, names in enumerate(_MONTHS, 1) for name in names.split()}


def read_moment(written: str, rule: DateRule) -> Moment | Problem:
    """Read a day with or without a time, or say what stands against it.

    >>> read_moment("1 Mar 2026 07:30", DateRule(2026))
    Moment(day=datetime.date(2026, 3, 1), at=datetime.time(7, 30))
    >>> read_moment("03/04/2026", DateRule(2026)).code, read_moment("30.02.2026", DateRule(2026)).code
    ('intake.date_ambiguous', 'intake.date_impossible')
    """
    text = " ".join(written.split())
    at: time | None = None
    if found := _TIME.search(text):
        at = _time_of(found)
        if at is None:
            return Problem("intake.time_impossible", None, {"text": written[:40]})
        text = text[: found.start()]
    day = read_day(_WEEKDAY.sub("", text), rule)
    return day if isinstance(day, Problem) else Moment(day, at)


def _time_of(found: re.Match[str]) -> time | None:
    hour, minute, second = int(found[1]), int(found[2]), int(found[3] or 0)
    half = (found[5] or "")[:1].lower()
    if half:
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if half == "p" else 0)
    try:
        return time(hour, minute, second, int((found[4] or "0").ljust(6, "0")))
    except ValueError:
        return None


def read_day(written: str, rule: DateRule) -> date | Problem:
    """Read a day, or say what stands against it."""
    text = written.strip()
    if found := _YEAR_FIRST.fullmatch(text):
        return _day(int(found[1]), int(found[3]), int(found[4]), written)
    if found := _YEAR_LAST.fullmatch(text):
        return _from_numbers(int(found[1]), int(found[3]), found[4], found[2], written, rule)
    if found := _DAY_NAMED.fullmatch(text):
        return _from_name(found[1], found[2], found[3], written, rule)
    if found := _NAMED_DAY.fullmatch(text):
        return _from_name(found[2], found[1], found[3], written, rule)
    return Problem("intake.date_not_readable", None, {"text": written[:40]})


def _from_numbers(
    first: int, second: int, year: str, between: str, written: str, rule: DateRule
) -> date | Problem:
    full = _full_year(year, written, rule)
    if isinstance(full, Problem):
        return full
    order = rule.order
    if order is DateOrder.UNSAID and between == ".":
        order = DateOrder.DAY_FIRST  # wherever dates are written with points, the day comes first
    if order is DateOrder.UNSAID:
        order = order_shown(first, second)
    if order is DateOrder.UNSAID and first != second:
        return Problem("intake.date_ambiguous", None, {"text": written[:40]})
    day, month = (second, first) if order is DateOrder.MONTH_FIRST else (first, second)
    return _day(full, month, day, written)


def order_shown(first: int, second: int) -> DateOrder:
    """Return the order that two numbers of a date show by themselves: there are twelve months."""
    if first > 12 >= second:
        return DateOrder.DAY_FIRST
    return DateOrder.MONTH_FIRST if second > 12 >= first else DateOrder.UNSAID


def order_in(values: list[str]) -> DateOrder:
    """Return the order that the dates of a column show, where all that show one show the same."""
    shown = {
        order_shown(int(found[1]), int(found[3]))
        for value in values
        if (found := _YEAR_LAST.match(value.strip())) and found[2] != "."
    } - {DateOrder.UNSAID}
    return shown.pop() if len(shown) == 1 else DateOrder.UNSAID


def _from_name(day: str, month: str, year: str, written: str, rule: DateRule) -> date | Problem:
    number = _MONTH_NAMED.get(fold(month))
    if number is None:
        return Problem("intake.date_not_readable", None, {"text": written[:40]})
    full = _full_year(year, written, rule)
    return full if isinstance(full, Problem) else _day(full, number, int(day), written)


def _full_year(year: str, written: str, rule: DateRule) -> int | Problem:
    if len(year) == 4:
        return int(year)
    if rule.short_years is ShortYears.UNSAID:
        return Problem("intake.year_short", None, {"text": written[:40]})
    latest = rule.this_year if rule.short_years is ShortYears.PAST else rule.this_year + 50
    century = latest - latest % 100
    return century + int(year) - (100 if century + int(year) > latest else 0)


def _day(year: int, month: int, day: int, written: str) -> date | Problem:
    try:
        return date(year, month, day)
    except ValueError:
        return Problem("intake.date_impossible", None, {"text": written[:40]})

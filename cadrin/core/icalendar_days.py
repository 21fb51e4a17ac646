"""Holidays from and to iCalendar files (RFC 5545), read by the `icalendar` package."""

from collections.abc import Iterable, Iterator
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, NamedTuple
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

from cadrin.core.errors import Invalid, Problem
from cadrin.core.holidays import LONGEST_DAYS, MINUTES_A_DAY, MOST_HOLIDAYS

LARGEST_BYTES = 2_000_000
LONGEST_NAME = 80
A_DAY = timedelta(days=1)


class NamedDay(NamedTuple):
    """A holiday without its kind, which a file does not say."""

    name: str
    first: date
    last: date
    is_yearly: bool = False
    start_minute: int = 0
    end_minute: int = MINUTES_A_DAY


class ReadDays(NamedTuple):
    """What a file says, and what in it is no holiday that Cadrin can keep."""

    days: tuple[NamedDay, ...]
    problems: tuple[Problem, ...]


def read_days(data: bytes, zone: ZoneInfo) -> ReadDays:
    """Read the events of a file as days on the clock of a zone. Raises Invalid for what is no such file.

    A rule of recurrence is understood where it says the same day of every year, without an end.
    """
    if len(data) > LARGEST_BYTES:
        raise Invalid.of("calendar_file.too_large", "file", most=LARGEST_BYTES // 1_000_000)
    try:
        found = Calendar.from_ical(data, multiple=True)
        events = [event for calendar in found for event in calendar.walk("VEVENT")]
    except (ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError):
        raise Invalid.of("calendar_file.not_one", "file") from None
    if not found or len(events) > MOST_HOLIDAYS:
        code = "input.too_many" if found else "calendar_file.not_one"
        raise Invalid.of(code, "file", most=MOST_HOLIDAYS)
    days, problems = [], []
    for event in events:
        name = " ".join(str(event.get("summary", "")).split())[:LONGEST_NAME]
        try:
            days.append(_day_of(event, name, zone))
        except (ValueError, KeyError, TypeError, AttributeError, OverflowError):
            problems.append(Problem("calendar_file.not_understood", "file", {"name": name}))
    return ReadDays(
        tuple(sorted(set(days), key=lambda day: (day.first, day.name))), tuple(problems)
    )


def _day_of(event: Any, name: str, zone: ZoneInfo) -> NamedDay:
    """Read one event. Raises ValueError for what is no day, and what the parser raises."""
    if event.errors or not name:
        raise ValueError("not readable")
    start, end = event.decoded("dtstart"), _end_of(event)
    is_yearly = _is_yearly(event, start)
    if not isinstance(start, datetime):
        if isinstance(end, datetime):
            raise ValueError("begins as a day and ends as an instant")
        last = max(start, end - A_DAY)  # RFC 5545, 3.6.1: the end is not included
        return _checked(NamedDay(name, start, last, is_yearly))
    if not isinstance(end, datetime):
        raise ValueError("begins as an instant and ends as a day")
    begins, ends = _on_the_wall(start, zone), _on_the_wall(end, zone)
    minutes = begins.hour * 60 + begins.minute
    if ends.date() == begins.date() + A_DAY and ends.time() == time():
        return _checked(NamedDay(name, begins.date(), begins.date(), is_yearly, minutes))
    if ends.date() != begins.date() or ends <= begins:
        raise ValueError("an event that lasts past midnight is no part of a day")
    last_minute = ends.hour * 60 + ends.minute
    return _checked(NamedDay(name, begins.date(), begins.date(), is_yearly, minutes, last_minute))


def _end_of(event: Any) -> date:
    start = event.decoded("dtstart")
    if "dtend" in event:
        return event.decoded("dtend")  # type: ignore[no-any-return]
    if "duration" in event:
        return start + event.decoded("duration")  # type: ignore[no-any-return]
    return start if isinstance(start, datetime) else start + A_DAY  # type: ignore[no-any-return]


def _on_the_wall(at: datetime, zone: ZoneInfo) -> datetime:
    """Return what the clock of the zone shows; an instant without a zone says it itself."""
    return at if at.tzinfo is None else at.astimezone(zone).replace(tzinfo=None)


def _is_yearly(event: Any, start: date) -> bool:
    if "rdate" in event or "exdate" in event or "recurrence-id" in event:
        raise ValueError("with exceptions")
    rule = event.get("rrule")
    if rule is None:
        return False
    told = {name.upper(): values for name, values in rule.items()}
    same_day = {"BYMONTH": [start.month], "BYMONTHDAY": [start.day], "INTERVAL": [1]}
    if told.pop("FREQ", None) != ["YEARLY"]:
        raise ValueError("not yearly")
    if any(name != "WKST" and same_day.get(name) != values for name, values in told.items()):
        raise ValueError("not the same day of every year")
    return True


def _checked(day: NamedDay) -> NamedDay:
    if (day.last - day.first).days >= LONGEST_DAYS or day.end_minute <= day.start_minute:
        raise ValueError("no holiday")
    return day


def write_days(name: str, days: Iterable[NamedDay], at: datetime) -> bytes:
    """Write days as a file that other programs read; times are those of the clock on the wall."""
    calendar = Calendar()
    calendar.add("prodid", "-//Cadrin//Holidays//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for n, event in enumerate(_events(days, at)):
        event.add("uid", f"{at:%Y%m%dT%H%M%S}-{n}@cadrin.invalid")
        calendar.add_component(event)
    data: bytes = calendar.to_ical()
    return data


def _events(days: Iterable[NamedDay], at: datetime) -> Iterator[Event]:
    for day in days:
        spans = [(day.first, day.last)]
        is_whole = (day.start_minute, day.end_minute) == (0, MINUTES_A_DAY)
        if not is_whole:  # part of each of several days is an event for each of them
            count = (day.last - day.first).days + 1
            spans = [(day.first + n * A_DAY, day.first + n * A_DAY) for n in range(count)]
        for first, last in spans:
            event = Event()
            event.add("summary", day.name)
            event.add("dtstamp", at.astimezone(UTC))
            if is_whole:
                event.add("dtstart", first)
                event.add("dtend", last + A_DAY)
            else:
                midnight = datetime.combine(first, time())
                event.add("dtstart", midnight + timedelta(minutes=day.start_minute))
                event.add("dtend", midnight + timedelta(minutes=day.end_minute))
            if day.is_yearly:
                event.add("rrule", {"freq": "yearly"})
            yield event

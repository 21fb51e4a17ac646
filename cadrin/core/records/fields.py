"""What the codecs share: named fields, unknown ones kept out, instants as whole seconds."""

from collections.abc import Iterable
from datetime import UTC, date, datetime

from cadrin.core.credentials.card.room import ANY_MEMORY, Memory
from cadrin.core.errors import Invalid
from cadrin.core.holidays import Holiday, SpecialHours
from cadrin.core.records.keys import Body
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.validity import ALWAYS, Span


def only(body: Body, fields: Iterable[str]) -> Body:
    """Return the body if every field of it is known. Raises Invalid for any other, TypeError for no
    object at all.

    What a newer Cadrin writes must not be half understood: a controller that leaves out a limit
    opens too much.
    """
    if not isinstance(body, dict):
        raise TypeError("a record is an object")
    if unknown := set(body) - set(fields):
        raise Invalid.of("record.unknown_field", min(unknown))
    return body


def without_defaults(body: Body) -> Body:
    """Leave out what says nothing."""
    return {
        name: value
        for name, value in body.items()
        if value is not None and value is not False and value != []
    }


def seconds(at: datetime | None) -> int | None:
    return None if at is None else int(at.timestamp())


def instant(value: int | None) -> datetime | None:
    return None if value is None else datetime.fromtimestamp(value, UTC)


def until(at: datetime | None, memory: Memory) -> int | None:
    """Write the end of a suspension; one that the calendar does not know lasts until an operator
    ends it.
    """
    found, latest = seconds(at), memory.latest
    return None if found is None or (latest is not None and found > latest) else found


def encode_span(span: Span, memory: Memory = ANY_MEMORY) -> Body:
    """Write a span; what begins after the calendar of a controller ends never begins there, and what is
    longer than it can hold ends sooner.
    """
    start, end, latest = seconds(span.start), seconds(span.end), memory.latest
    if memory.longest_span is not None and start is not None and end is not None:
        end = min(end, start + memory.longest_span)
    if latest is not None and start is not None and start > latest:
        start, end = latest, latest
    elif latest is not None and end is not None:
        end = min(end, latest)
    return {"from": start, "to": end}


def decode_span(body: Body) -> Span:
    start, end = instant(body.get("from")), instant(body.get("to"))
    return ALWAYS if start is None and end is None else Span(start, end)


def encode_schedule(schedule: Schedule) -> Body:
    """Write weekly hours: windows as weekday, first minute, and the minute at which they end."""
    windows = [
        [hours.weekday, hours.start_minute, hours.end_minute] for hours in sorted(schedule.hours)
    ]
    return {"zone": schedule.zone, "hours": windows} | _encode_special(schedule.special)


def decode_schedule(body: Body) -> Schedule:
    """Read weekly hours. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("zone", "hours", "holidays", "holiday_hours"))
    hours = tuple(Hours(*window) for window in body["hours"])
    return Schedule(body["zone"], hours, _decode_special(body))


def _encode_special(special: SpecialHours | None) -> Body:
    """Write the holidays that matter to a schedule: days of the calendar, the kind, whether yearly, and
    minutes of each day.
    """
    if special is None:
        return {}
    days = [
        [one.first.isoformat(), one.last.isoformat(), one.kind, one.is_yearly, one.start_minute, one.end_minute]
        for one in special.holidays
    ]  # fmt: skip
    hours = {str(kind): [list(window) for window in found] for kind, found in special.hours.items()}
    return {"holidays": days, "holiday_hours": hours}


def _decode_special(body: Body) -> SpecialHours | None:
    if "holidays" not in body:
        return None
    holidays = tuple(
        Holiday(
            date.fromisoformat(first), date.fromisoformat(last), int(kind), bool(yearly), start, end
        )
        for first, last, kind, yearly, start, end in body["holidays"]
    )
    hours = {
        int(kind): tuple((int(start), int(end)) for start, end in windows)
        for kind, windows in body["holiday_hours"].items()
    }
    return SpecialHours(holidays, hours)

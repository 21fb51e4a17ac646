"""Read schedules and holidays, as the screen shows them and as the core takes them."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import Count, Q

from cadrin.core.errors import NotFound
from cadrin.core.holidays import Holiday, SpecialHours
from cadrin.core.schedules import Hours
from cadrin.core.schedules import Schedule as CoreSchedule
from cadrin.outbox.rows import Rows
from cadrin.sites.models import (
    Door,
    HolidayCalendar,
    HolidayDay,
    HolidayKind,
    Reader,
    Schedule,
)


def schedules() -> Rows:
    """Return every schedule; ``holiday_hours`` are the kinds of holiday that matter to it, each with its
    hours.
    """
    rows = (
        Schedule.objects.order_by("name")
        .annotate(group_count=Count("grants__group", distinct=True))
        .values(
            "id", "name", "zone", "hours", "calendar_id", "holiday_hours", "version", "group_count"
        )
    )
    return [
        dict(row)
        | {
            "holiday_hours": [
                {"kind": int(kind), "hours": hours} for kind, hours in row["holiday_hours"].items()
            ]
        }
        for row in rows
    ]


def places_that_go_by(schedule_ids: Iterable[int]) -> list[str]:
    """Return the names of doors that are unlocked or closed by any of these schedules, and of readers
    that ask by them.
    """
    ids = set(schedule_ids)
    doors = Door.objects.filter(Q(unlocked_schedule__in=ids) | Q(closed_schedule__in=ids))
    readers = Reader.objects.exclude(policy_by_hours=[]).values_list("name", "policy_by_hours")
    return [
        *doors.order_by("name").values_list("name", flat=True),
        *(name for name, by_hours in readers if any(id_ in ids for id_, _ in by_hours)),
    ]


def get_schedule(schedule_id: int) -> Schedule:
    """Raises NotFound."""
    schedule = Schedule.objects.filter(pk=schedule_id).first()
    if schedule is None:
        raise NotFound.of("schedule.not_found")
    return schedule


def schedule_of(
    zone: str, hours: Iterable[Iterable[int]], special: SpecialHours | None = None
) -> CoreSchedule:
    """Read a schedule as the database keeps it. Raises Invalid."""
    return CoreSchedule(zone, tuple(Hours(*window) for window in hours), special)


def holidays_of(calendar_id: int | None) -> tuple[Holiday, ...]:
    """Return the holidays of a calendar as the core takes them."""
    return all_holidays().get(calendar_id or 0, ())


def all_holidays() -> dict[int, tuple[Holiday, ...]]:
    """Return the holidays of every calendar."""
    found: dict[int, list[Holiday]] = {}
    for row in HolidayDay.objects.order_by("first", "id").values_list(
        "calendar_id", "first", "last", "kind_id", "is_yearly", "start_minute", "end_minute"
    ):
        found.setdefault(row[0], []).append(Holiday(*row[1:]))
    return {calendar_id: tuple(days) for calendar_id, days in found.items()}


def special_hours(
    holidays: tuple[Holiday, ...], hours: Mapping[Any, Iterable[Iterable[int]]]
) -> SpecialHours | None:
    """Return what holds on holidays; None where no kind of them matters. Raises Invalid."""
    if not holidays or not hours:
        return None
    by_kind = {
        int(kind): tuple((start, end) for start, end in windows) for kind, windows in hours.items()
    }
    return SpecialHours(holidays, by_kind)


def following(calendar_id: int, holidays: tuple[Holiday, ...]) -> dict[int, CoreSchedule]:
    """Return the schedules that follow a calendar as they would be with other holidays. Raises Invalid."""
    return {
        s.pk: schedule_of(s.zone, s.hours, special_hours(holidays, s.holiday_hours))
        for s in Schedule.objects.filter(calendar_id=calendar_id)
    }


def calendars() -> Rows:
    """Return every calendar of holidays with its days, and how many schedules follow it."""
    days: dict[int, list[dict[str, Any]]] = {}
    for row in HolidayDay.objects.order_by("first", "id").values():
        days.setdefault(row["calendar_id"], []).append(dict(row))
    counted = HolidayCalendar.objects.annotate(schedule_count=Count("schedules"))
    rows = counted.order_by("name").values("id", "name", "site_id", "version", "schedule_count")
    return [dict(row) | {"days": days.get(row["id"], [])} for row in rows]


def holiday_kinds() -> Rows:
    return list(HolidayKind.objects.order_by("id").values("id", "name", "version"))


def schedules_of_the_core() -> dict[int, CoreSchedule]:
    """Return every schedule as the core takes it."""
    return as_core(schedules_as_kept())


def schedules_as_kept() -> dict[int, dict[str, Any]]:
    """Return every schedule as it is stored, by id."""
    rows = Schedule.objects.values("id", "zone", "hours", "calendar_id", "holiday_hours")
    return {row.pop("id"): row for row in map(dict[str, Any], rows)}


def as_core(kept: Mapping[int, Mapping[str, Any]]) -> dict[int, CoreSchedule]:
    """Return schedules that were stored so as the core takes them."""
    holidays = all_holidays()
    return {
        id_: schedule_of(
            s["zone"],
            s["hours"],
            special_hours(holidays.get(s["calendar_id"] or 0, ()), s["holiday_hours"]),
        )
        for id_, s in kept.items()
    }

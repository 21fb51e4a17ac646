"""Make, change and remove schedules."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction

from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.core.holidays import Minutes, problems_with_minutes
from cadrin.core.schedules import Hours, problems_with_hours, zone_named
from cadrin.core.schedules import Schedule as CoreSchedule
from cadrin.journal.commands import About, Act, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery, move_plan_version, tell_controllers
from cadrin.outbox.subjects import Subject
from cadrin.sites.hours import get_schedule, holidays_of, places_that_go_by, special_hours
from cadrin.sites.models import HolidayCalendar, HolidayKind, Schedule

SCHEDULE = "schedule"
KEPT = ("zone", "hours", "calendar_id", "holiday_hours")
"""What the journal keeps of a schedule that is removed, as it is stored."""
MOST_NAMED = 5


class ScheduleDraft(NamedTuple):
    """A schedule as an operator wants it. ``version`` is the one it was read at; 0 for a
    new one.
    """

    name: str
    zone: str
    hours: tuple[Hours, ...]
    version: int = 0
    calendar_id: int | None = None
    holiday_hours: Mapping[int, tuple[Minutes, ...]] = {}
    """For each kind of holiday that matters the hours that hold on it; none is closed."""

    def as_core(self) -> CoreSchedule:
        """Return it as the core takes it. Raises Invalid."""
        special = special_hours(holidays_of(self.calendar_id), self.holiday_hours)
        return CoreSchedule(self.zone, self.hours, special)


def problems_with_schedule(draft: ScheduleDraft, schedule_id: int | None) -> tuple[Problem, ...]:
    """Return everything against saving the schedule, each beside its field."""
    problems = list(problems_with_hours(draft.hours))
    if not draft.name.strip():
        problems.append(Problem("input.blank", "name"))
    if (
        Schedule.objects.filter(name__iexact=draft.name.strip())
        .exclude(pk=schedule_id or 0)
        .exists()
    ):
        problems.append(Problem("schedule.name_taken", "name", {"name": draft.name}))
    try:
        zone_named(draft.zone)
    except Invalid as error:
        problems += error.problems
    if draft.calendar_id is not None:
        if not HolidayCalendar.objects.filter(pk=draft.calendar_id).exists():
            problems.append(Problem("input.no_longer_there", "calendar_id"))
    elif draft.holiday_hours:
        problems.append(Problem("schedule.no_calendar", "calendar_id"))
    kinds = set(HolidayKind.objects.values_list("id", flat=True))
    for kind, windows in draft.holiday_hours.items():
        field = f"holiday_hours.{kind}"
        if kind not in kinds:
            problems.append(Problem("input.no_longer_there", field))
        problems += [Problem(code, field) for code in problems_with_minutes(windows)]
    return tuple(problems)


@transaction.atomic
def save_schedule(actor: Actor, schedule_id: int | None, draft: ScheduleDraft, at: datetime) -> int:
    """Make a schedule, or save one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.GROUPS)
    schedule = Schedule(version=0) if schedule_id is None else get_schedule(schedule_id)
    if schedule.version != draft.version:
        raise Stale(
            schedule.version, history_of(SCHEDULE, schedule.pk, after_version=draft.version)
        )
    if problems := problems_with_schedule(draft, schedule_id):
        raise Invalid(problems)
    after = {
        "name": draft.name.strip(),
        "zone": draft.zone,
        "hours": [list(window) for window in _plain(draft.hours)],
        "calendar_id": draft.calendar_id,
        "holiday_hours": {
            str(kind): sorted(map(list, windows))
            for kind, windows in sorted(draft.holiday_hours.items())
        },
    }
    changes: dict[str, tuple[Any, Any]] = {
        name: (getattr(schedule, name), value) for name, value in after.items()
    }
    changes = {name: pair for name, pair in changes.items() if pair[0] != pair[1]}
    raw: dict[str, tuple[Any, Any]] = {}
    if "calendar_id" in changes:
        names: dict[int | None, str | None] = {None: None}
        names.update(HolidayCalendar.objects.values_list("id", "name"))
        before = names.get(schedule.calendar_id)
        del changes["calendar_id"]
        changes["calendar"] = (before, names[draft.calendar_id])
        raw = {"calendar_id": (schedule.calendar_id, draft.calendar_id)}
    if not changes:
        return schedule.pk
    for name, value in after.items():
        setattr(schedule, name, value)
    schedule.version += 1
    schedule.save()
    action = "schedule.made" if schedule_id is None else "schedule.changed"
    record(
        actor, at, [Act(action, (About(SCHEDULE, schedule.pk, schedule.version),), changes, raw)]
    )
    tell_controllers()  # a reader may ask by it, and no group use it
    mark_for_delivery(Subject.GROUP, schedule.grants.values_list("group_id", flat=True))
    return schedule.pk


@transaction.atomic
def remove_schedule(actor: Actor, schedule_id: int, at: datetime) -> None:
    """Remove a schedule that no group, door or reader goes by. Raises Invalid when one does, NotFound
    or NotPermitted.
    """
    actor.require(Permission.GROUPS)
    schedule = get_schedule(schedule_id)
    if groups := schedule.grants.values("group").distinct().count():
        raise Invalid.of("schedule.in_use", None, count=groups)
    if places := places_that_go_by([schedule.pk]):
        raise Invalid.of("schedule.in_use_at_doors", None, names=", ".join(places[:MOST_NAMED]))
    if count := schedule.delivering.count():
        raise Invalid.of("schedule.in_use_for_sending", None, count=count)
    name = schedule.name
    raw = {key: (getattr(schedule, key), None) for key in KEPT}
    schedule.delete()
    about = (About(SCHEDULE, schedule_id),)
    record(actor, at, [Act("schedule.removed", about, {"name": (name, None)}, raw)])
    move_plan_version()


def _plain(hours: Iterable[Hours]) -> list[tuple[int, int, int]]:
    return [(h.weekday, h.start_minute, h.end_minute) for h in sorted(hours)]

"""Make, change and remove calendars of holidays, and the kinds of them."""

from collections.abc import Iterable
from datetime import date, datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.core.holidays import MINUTES_A_DAY, Holiday, problems_with_holidays
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.commands.keeping import keep, problems_with_name, refuse_stale, removed
from cadrin.sites.models import HolidayCalendar, HolidayDay, HolidayKind, Schedule, Site

CALENDAR, KIND = "holiday_calendar", "holiday_kind"
LONGEST_DAY_NAME = 80


class DayDraft(NamedTuple):
    """A holiday as an operator wants it: days from the first through the last, or part of each."""

    name: str
    kind_id: int
    first: date
    last: date
    is_yearly: bool = False
    start_minute: int = 0
    end_minute: int = MINUTES_A_DAY

    def as_core(self) -> Holiday:
        return Holiday(
            self.first, self.last, self.kind_id, self.is_yearly, self.start_minute, self.end_minute
        )

    def __str__(self) -> str:
        days = f"{self.first}" if self.first == self.last else f"{self.first} to {self.last}"
        return f"{self.name}, {days}{', yearly' if self.is_yearly else ''}"


class CalendarDraft(NamedTuple):
    """A calendar as an operator wants it. ``version`` is the one it was read at; 0 for a new one."""

    name: str
    site_id: int
    days: tuple[DayDraft, ...]
    version: int = 0


class KindDraft(NamedTuple):
    name: str
    version: int = 0


@transaction.atomic
def save_calendar(actor: Actor, calendar_id: int | None, draft: CalendarDraft, at: datetime) -> int:
    """Make a calendar, or save one with all its days, and give its id; whoever follows it is told.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.GROUPS)
    calendar = HolidayCalendar(version=0) if calendar_id is None else _get_calendar(calendar_id)
    refuse_stale(CALENDAR, calendar, draft.version)
    if problems := tuple(problems_with_calendar(calendar_id, draft)):
        raise Invalid(problems)
    sites = dict(Site.objects.values_list("id", "name"))
    after = {"name": draft.name.strip(), "site_id": draft.site_id}
    moved = (sites.get(calendar.site_id), sites[draft.site_id])
    is_changed = keep(actor, CALENDAR, calendar, after, at, {"site": moved})
    are_others = _keep_days(actor, calendar, draft, at)
    if are_others and not is_changed:
        HolidayCalendar.objects.filter(pk=calendar.pk).update(version=calendar.version + 1)
    if are_others:
        tell_controllers()
    return calendar.pk


def _keep_days(actor: Actor, calendar: HolidayCalendar, draft: CalendarDraft, at: datetime) -> bool:
    """Keep the days of a calendar in place of those before, and say whether any differ."""
    fields = DayDraft._fields
    had = [DayDraft(*row) for row in calendar.days.order_by("id").values_list(*fields)]
    if sorted(had) == sorted(draft.days):
        return False
    calendar.days.all().delete()
    HolidayDay.objects.bulk_create(
        HolidayDay(calendar=calendar, **day._asdict()) for day in draft.days
    )
    gone = [str(day) for day in had if day not in draft.days]
    come = [str(day) for day in draft.days if day not in had]
    changes = {"name": (calendar.name, calendar.name), "holidays": (gone, come)}
    about = (About(CALENDAR, calendar.pk, calendar.version),)
    record(actor, at, [Act("holiday_calendar.changed", about, changes)])
    return True


def problems_with_calendar(calendar_id: int | None, draft: CalendarDraft) -> Iterable[Problem]:
    """Yield everything against saving a calendar, each beside its field."""
    others = HolidayCalendar.objects.exclude(pk=calendar_id or 0)
    yield from problems_with_name(CALENDAR, draft.name, others)
    if not Site.objects.filter(pk=draft.site_id).exists():
        yield Problem("input.no_longer_there", "site_id")
    kinds = set(HolidayKind.objects.values_list("id", flat=True))
    for place, day in enumerate(draft.days):
        if not day.name.strip():
            yield Problem("input.blank", f"days.{place}.name")
        elif len(day.name) > LONGEST_DAY_NAME:
            yield Problem("input.too_long", f"days.{place}.name", {"most": LONGEST_DAY_NAME})
        if day.kind_id not in kinds:
            yield Problem("input.no_longer_there", f"days.{place}.kind_id")
    yield from problems_with_holidays(day.as_core() for day in draft.days)


@transaction.atomic
def remove_calendar(actor: Actor, calendar_id: int, at: datetime) -> None:
    """Remove a calendar that no schedule follows. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.GROUPS)
    calendar = _get_calendar(calendar_id)
    if count := calendar.schedules.count():
        raise Invalid.of("holiday_calendar.in_use", None, count=count)
    removed(actor, CALENDAR, calendar, at)


@transaction.atomic
def save_kind(actor: Actor, kind_id: int | None, draft: KindDraft, at: datetime) -> int:
    """Make a kind of holiday, or rename one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.GROUPS)
    kind = HolidayKind(version=0) if kind_id is None else _get_kind(kind_id)
    refuse_stale(KIND, kind, draft.version)
    others = HolidayKind.objects.exclude(pk=kind_id or 0)
    if problems := tuple(problems_with_name(KIND, draft.name, others)):
        raise Invalid(problems)
    keep(actor, KIND, kind, {"name": draft.name.strip()}, at)
    return kind.pk


@transaction.atomic
def remove_kind(actor: Actor, kind_id: int, at: datetime) -> None:
    """Remove a kind that no holiday and no schedule names. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.GROUPS)
    kind = _get_kind(kind_id)
    count = kind.days.count() + Schedule.objects.filter(holiday_hours__has_key=str(kind_id)).count()
    if count:
        raise Invalid.of("holiday_kind.in_use", None, count=count)
    removed(actor, KIND, kind, at)


def _get_calendar(calendar_id: int) -> HolidayCalendar:
    calendar = HolidayCalendar.objects.filter(pk=calendar_id).first()
    if calendar is None:
        raise NotFound.of("holiday_calendar.not_found")
    return calendar


def _get_kind(kind_id: int) -> HolidayKind:
    kind = HolidayKind.objects.filter(pk=kind_id).first()
    if kind is None:
        raise NotFound.of("holiday_kind.not_found")
    return kind

"""Who would gain and lose which hours by a schedule or a calendar of holidays, before it is saved."""

from collections.abc import Mapping
from datetime import datetime
from typing import NamedTuple

from cadrin.access.granted import granted
from cadrin.access.models import AccessGroup, Membership
from cadrin.core.access.hours_difference import DayDifference, days_that_differ
from cadrin.core.holidays import Holiday
from cadrin.core.schedules import Schedule
from cadrin.core.validity import Standing
from cadrin.sites.commands.schedules import ScheduleDraft
from cadrin.sites.hours import following, places_that_go_by, schedules_of_the_core


class HoursOfSchedule(NamedTuple):
    """A schedule whose hours change, and the days of the coming year on which they do."""

    schedule_id: int
    days: tuple[DayDifference, ...]


class HoursPreview(NamedTuple):
    """What saving would change for whom: groups by name, doors and people that use a schedule whose
    hours change.
    """

    schedules: tuple[HoursOfSchedule, ...]
    groups: tuple[str, ...]
    doors: int
    people: int
    places: tuple[str, ...] = ()
    """Doors that are unlocked or closed by these hours, and readers that ask by them."""


def preview_schedule(schedule_id: int, draft: ScheduleDraft, at: datetime) -> HoursPreview:
    """Work out what saving a schedule would change. Raises Invalid for hours that are none."""
    return _preview({schedule_id: draft.as_core()}, at)


def preview_calendar(calendar_id: int, holidays: tuple[Holiday, ...], at: datetime) -> HoursPreview:
    """Work out what saving a calendar would change. Raises Invalid for days that are none."""
    return _preview(following(calendar_id, holidays), at)


def _preview(after: Mapping[int, Schedule], at: datetime) -> HoursPreview:
    before = schedules_of_the_core()
    changed = tuple(
        HoursOfSchedule(id_, days)
        for id_, schedule in after.items()
        if id_ in before and (days := days_that_differ(before[id_], schedule, at))
    )
    grants = granted().filter(schedule__in=[one.schedule_id for one in changed])
    groups = AccessGroup.objects.filter(pk__in=grants.values("group"))
    people = Membership.objects.filter(group__in=groups)
    people = people.exclude(cardholder__standing=Standing.DEPARTED)
    return HoursPreview(
        changed,
        tuple(groups.order_by("name").values_list("name", flat=True)),
        grants.values("opens").distinct().count(),
        people.values("cardholder").distinct().count(),
        tuple(places_that_go_by(one.schedule_id for one in changed)),
    )

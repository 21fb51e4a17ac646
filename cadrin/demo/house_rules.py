"""What the demo's doors do, its areas count, and its holidays."""

from collections import Counter
from datetime import date, datetime

from cadrin.core.doors.rules import Passback
from cadrin.core.holidays import MINUTES_A_DAY
from cadrin.core.public_holidays import public_holidays
from cadrin.core.schedules import Hours
from cadrin.demo import scenario
from cadrin.operators.actor import Actor
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.holidays import (
    CalendarDraft,
    DayDraft,
    KindDraft,
    save_calendar,
    save_kind,
)
from cadrin.sites.commands.places import AreaDraft, save_area
from cadrin.sites.commands.releases import ReleaseGroupDraft, save_release_group
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.models import Area, Door, Schedule, Site

_NOON = MINUTES_A_DAY // 2
_INSTEAD = " (observed)"
"""Of a day that is kept on another, what its name ends with."""


def house_rules(actor: Actor, at: datetime) -> None:
    """Give doors and areas what they do, and make the groups of doors for emergencies."""
    doors, schedules = (dict(kind.objects.values_list("name", "id")) for kind in (Door, Schedule))
    for name, rules in scenario.DOORS_DO.items():
        draft = stored_door(doors[name])._replace(
            unlocked_schedule_id=schedules.get(rules.unlocked),
            first_person=bool(rules.unlocked),
            second_seconds=rules.second_seconds,
            consent_seconds=rules.consent_seconds,
            held_seconds=rules.held_seconds,
            tells_forced=rules.held_seconds is not None,
            has_exit_button=rules.has_exit_button,
            interlock=tuple(doors[other] for other in rules.interlock),
        )
        save_door(actor, doors[name], draft, at)
    for name, (passback, minutes, most) in scenario.AREAS_COUNT.items():
        area = Area.objects.get(name=name)
        counts = AreaDraft(area.site_id, name, Passback(passback), minutes, most, area.version)
        save_area(actor, area.pk, counts, at)
    for name, members in scenario.RELEASE_GROUPS.items():
        save_release_group(
            actor, None, ReleaseGroupDraft(name, tuple(doors[door] for door in members)), at
        )


def holidays(actor: Actor, now: datetime) -> None:
    """Make the calendar of the station: public holidays, a day of storm, and the afternoon before
    midwinter; two schedules follow it.
    """
    public, storm, early = (
        save_kind(actor, None, KindDraft(name), now) for name in scenario.HOLIDAY_KINDS
    )
    found = public_holidays("GB", "SCT", (now.year, now.year + 1))
    # a day that was given only once may be called after an event of the real world
    times = Counter(day.name.removesuffix(_INSTEAD) for day in found)
    days = [
        DayDraft(day.name, public, day.on, day.on)
        for day in found
        if times[day.name.removesuffix(_INSTEAD)] > 1
    ]
    closed = date.fromordinal(now.date().toordinal() - 20)
    days.append(DayDraft("Storm over the headland", storm, closed, closed))
    eve = date(now.year, 12, 24)
    days.append(DayDraft("Midwinter eve", early, eve, eve, True, _NOON, MINUTES_A_DAY))
    site = Site.objects.get(name=scenario.SKERROW)
    calendar = save_calendar(
        actor, None, CalendarDraft(scenario.CALENDAR, site.pk, tuple(days)), now
    )
    for name in scenario.FOLLOWS_THE_CALENDAR:
        schedule = Schedule.objects.get(name=name)
        hours = tuple(Hours(*window) for window in schedule.hours)
        special: dict[int, tuple[tuple[int, int], ...]] = {public: (), storm: (), early: ()}
        draft = ScheduleDraft(name, schedule.zone, hours, schedule.version, calendar, special)
        save_schedule(actor, schedule.pk, draft, now)

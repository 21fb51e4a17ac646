"""Calendars of holidays at random, and what schedules do on them."""

from datetime import datetime
from random import Random

from cadrin.operators.actor import Actor
from cadrin.sites.commands.holidays import (
    CalendarDraft,
    DayDraft,
    KindDraft,
    save_calendar,
    save_kind,
)
from cadrin.sites.models import HolidayCalendar, HolidayKind
from tests.house import DAY


def holiday_hours(random: Random) -> dict[int, tuple[tuple[int, int], ...]]:
    """Say of some kinds of holiday that they are closed, open all day, or at some hours."""
    hows: list[tuple[tuple[int, int], ...]] = [(), ((0, 1440),), ((480, 720), (800, 1300))]
    kinds = HolidayKind.objects.values_list("id", flat=True)
    return {id_: random.choice(hows) for id_ in kinds if random.random() < 0.7}


def change_calendar(actor: Actor, site_id: int, random: Random, now: datetime) -> None:
    """Change the one calendar: days about now, whole and in part, some of them yearly."""
    while HolidayKind.objects.count() < 2:
        save_kind(actor, None, KindDraft(f"Kind {HolidayKind.objects.count()}"), now)
    kinds = list(HolidayKind.objects.values_list("id", flat=True))
    days = []
    for _ in range(random.randrange(1, 6)):
        first = (now + random.randrange(-3, 12) * DAY).date()
        is_yearly = random.random() < 0.3
        if is_yearly and random.random() < 0.5:
            first = first.replace(year=first.year - 1, day=min(first.day, 28))
        last = first + random.randrange(0, 4) * DAY
        part = random.choice([(0, 1440), (0, 1440), (0, 780), (600, 1440)])
        days.append(DayDraft("Day", random.choice(kinds), first, last, is_yearly, *part))
    one = HolidayCalendar.objects.first()
    draft = CalendarDraft("Days", site_id, tuple(days), one.version if one else 0)
    save_calendar(actor, one.pk if one else None, draft, now)

"""Holidays and schedules: who would gain and lose which hours is what they then do at the doors."""

from datetime import date, timedelta

from django.test import TestCase

from cadrin.access.hours_preview import preview_calendar, preview_schedule
from cadrin.access.plan import access_plan
from cadrin.core.credentials.factors import ANY_CARD, Factor
from cadrin.core.errors import Invalid, Stale
from cadrin.core.schedules import Hours
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import plans_here, take_marks
from cadrin.sites.calendar_files import calendar_file
from cadrin.sites.commands.holidays import (
    CalendarDraft,
    DayDraft,
    KindDraft,
    remove_calendar,
    remove_kind,
    save_calendar,
    save_kind,
)
from cadrin.sites.commands.readers import AskedBySchedule, ReaderDraft, save_reader
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.models import HolidayCalendar, Schedule
from tests.house import NOON, OFFICE, ZONE, House

BOXING_DAY = date(2026, 12, 28)  # a Monday: the day on which it is kept in 2026


class Holidays(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.house.enrol()
        self.kind = save_kind(self.actor, None, KindDraft("Public holiday"), NOON)
        self.day = DayDraft("Boxing Day", self.kind, BOXING_DAY, BOXING_DAY)
        self.calendar = self.save_days(None, self.day)
        self.office = self.house.office

    def save_days(self, id_: int | None, *days: DayDraft, version: int = 0) -> int:
        draft = CalendarDraft("Skerrow", self.house.site.pk, days, version)
        return save_calendar(self.actor, id_, draft, NOON)

    def schedule(self, **changes: object) -> ScheduleDraft:
        version = Schedule.objects.get(pk=self.office.pk).version
        hours = tuple(Hours(*window) for window in OFFICE)
        draft = ScheduleDraft("Office hours", ZONE, hours, version, self.calendar)
        return draft._replace(**changes)  # type: ignore[arg-type]

    def is_open_on(self, day: date) -> bool:
        noon = NOON.replace(year=day.year, month=day.month, day=day.day)
        return access_plan().schedules[self.office.pk].is_open(noon)

    def test_a_schedule_that_follows_a_calendar_is_closed_on_its_days(self) -> None:
        draft = self.schedule(holiday_hours={self.kind: ()})
        found = preview_schedule(self.office.pk, draft, NOON)
        self.assertEqual([tuple(day) for day in found.schedules[0].days], [(BOXING_DAY, 0, 600)])
        self.assertEqual((found.groups, found.doors, found.people), (("Day",), 1, 1))

        save_schedule(self.actor, self.office.pk, draft, NOON)

        self.assertFalse(self.is_open_on(BOXING_DAY))
        self.assertTrue(self.is_open_on(BOXING_DAY + timedelta(days=1)))

    def test_a_calendar_that_changes_is_foreseen_and_reaches_the_controllers(self) -> None:
        save_schedule(
            self.actor, self.office.pk, self.schedule(holiday_hours={self.kind: ()}), NOON
        )
        take_marks(NOON)
        records = Record.objects.filter(kind="schedule", subject_id=self.office.pk)
        before = records.get().wanted
        new_year = DayDraft("New Year", self.kind, date(2027, 1, 1), date(2027, 1, 1), True)
        core = (self.day.as_core(), new_year.as_core())

        found = preview_calendar(self.calendar, core, NOON)
        self.save_days(self.calendar, self.day, new_year, version=1)
        take_marks(NOON)

        self.assertEqual(
            [tuple(day) for day in found.schedules[0].days], [(date(2027, 1, 1), 0, 600)]
        )
        self.assertNotEqual(records.get().wanted, before)
        self.assertFalse(plans_here()[self.house.north.pk].schedules[self.office.pk].is_open(
            NOON.replace(year=2027, month=1, day=1)
        ))  # fmt: skip

    def test_hours_that_only_a_reader_goes_by_reach_its_controller(self) -> None:
        night = save_schedule(
            self.actor, None, ScheduleDraft("Night", ZONE, (Hours(0, 0, 360),)), NOON
        )
        reader = self.house.gate_reader
        both = (Factor.CARD, Factor.PIN)
        asked = ReaderDraft(
            ANY_CARD.alternatives,
            True,
            frozenset(),
            reader.version,
            by_hours=(AskedBySchedule(night, (both,)),),
        )
        save_reader(self.actor, reader.pk, asked, NOON)
        take_marks(NOON)
        records = Record.objects.filter(kind="reader", subject_id=reader.pk)
        before = records.get().wanted

        draft = ScheduleDraft("Night", ZONE, (Hours(0, 0, 420),), 1)
        save_schedule(self.actor, night, draft, NOON)
        take_marks(NOON)

        self.assertNotEqual(records.get().wanted, before)

    def test_a_kind_that_does_not_matter_changes_nothing(self) -> None:
        self.assertEqual(preview_schedule(self.office.pk, self.schedule(), NOON).schedules, ())

    def test_what_is_wrong_stands_beside_its_field(self) -> None:
        bad = DayDraft(" ", 999, date(2026, 5, 2), date(2026, 5, 1))
        with self.assertRaises(Invalid) as refused:
            self.save_days(self.calendar, self.day, bad, version=1)
        self.assertEqual(
            {(problem.code, problem.field) for problem in refused.exception.problems},
            {
                ("input.blank", "days.1.name"),
                ("input.no_longer_there", "days.1.kind_id"),
                ("holiday.ends_before", "days.1.last"),
            },
        )
        with self.assertRaises(Invalid) as refused:
            draft = self.schedule(holiday_hours={self.kind: ((600, 500),)})
            save_schedule(self.actor, self.office.pk, draft, NOON)
        self.assertEqual(refused.exception.problems[0].field, f"holiday_hours.{self.kind}")

    def test_what_is_in_use_is_not_removed(self) -> None:
        save_schedule(
            self.actor, self.office.pk, self.schedule(holiday_hours={self.kind: ()}), NOON
        )
        with self.assertRaises(Invalid) as calendar:
            remove_calendar(self.actor, self.calendar, NOON)
        with self.assertRaises(Invalid) as kind:
            remove_kind(self.actor, self.kind, NOON)
        self.assertEqual(
            (calendar.exception.code, kind.exception.code),
            ("holiday_calendar.in_use", "holiday_kind.in_use"),
        )

    def test_whoever_was_slower_changes_nothing(self) -> None:
        self.save_days(self.calendar, version=1)
        with self.assertRaises(Stale):
            self.save_days(self.calendar, self.day, version=1)
        self.assertEqual(HolidayCalendar.objects.get().days.count(), 0)

    def test_it_is_a_file_for_other_programs(self) -> None:
        data = calendar_file(self.calendar, NOON).decode()
        self.assertIn("SUMMARY:Boxing Day", data)
        self.assertIn("DTSTART;VALUE=DATE:20261228", data)

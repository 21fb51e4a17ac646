from dataclasses import replace
from datetime import UTC, datetime, timedelta

# ruff: noqa: DTZ001 - the reference implementation counts on the clock on the wall
from unittest import TestCase
from zoneinfo import ZoneInfo

from dateutil.rrule import MINUTELY, rrule
from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.errors import Invalid
from cadrin.core.schedules import (
    MINUTES_A_DAY,
    Hours,
    Schedule,
    problems_with_hours,
    round_the_clock,
)
from cadrin.core.tests.builders import LONDON, MONDAY_NOON, OFFICE, instants, schedules
from cadrin.core.validity import Span, bounds

SUNDAY = 6
SPRING = datetime(2026, 3, 29, 1, 0, tzinfo=UTC)
"""Clocks in London go from 01:00 to 02:00 at this instant (IANA database)."""
AUTUMN = datetime(2026, 10, 25, 1, 0, tzinfo=UTC)
"""Clocks in London go from 02:00 back to 01:00 at this instant (IANA database)."""


def hours_lit(schedule: Schedule, day: datetime) -> float:
    lit = schedule.open_spans(Span(day, day + timedelta(days=1)))
    return sum((end - start).total_seconds() for start, end in map(bounds, lit)) / 3600


class WeeklyHours(TestCase):
    def test_the_clock_on_the_wall_decides_in_summer_and_winter(self) -> None:
        summer, winter = (
            datetime(2026, 7, 6, 7, 30, tzinfo=UTC),
            datetime(2026, 1, 5, 7, 30, tzinfo=UTC),
        )

        self.assertTrue(OFFICE.is_open(summer))  # 08:30 on the wall
        self.assertFalse(OFFICE.is_open(winter))  # 07:30

    def test_hours_open_on_their_first_minute_and_close_on_their_last(self) -> None:
        wall = ZoneInfo(LONDON)

        for hour, minute, second, is_open in (
            (7, 59, 59, False),
            (8, 0, 0, True),
            (17, 59, 59, True),
            (18, 0, 0, False),
        ):
            with self.subTest(hour=hour, minute=minute):
                at = datetime(2026, 6, 1, hour, minute, second, tzinfo=wall)
                self.assertIs(OFFICE.is_open(at), is_open)

    def test_a_watch_across_midnight_ends_on_the_next_day_and_wraps_round_the_week(self) -> None:
        watch = Schedule("UTC", (Hours(SUNDAY, 22 * 60, 30 * 60),))

        opened = watch.open_spans(
            Span(datetime(2026, 6, 7, tzinfo=UTC), datetime(2026, 6, 9, tzinfo=UTC))
        )

        self.assertEqual(
            opened,
            (Span(datetime(2026, 6, 7, 22, tzinfo=UTC), datetime(2026, 6, 8, 6, tzinfo=UTC)),),
        )
        self.assertTrue(watch.is_open(datetime(2026, 6, 8, 5, 59, tzinfo=UTC)))

    def test_an_hour_that_does_not_exist_is_not_lit_and_one_that_comes_twice_is_lit_twice(
        self,
    ) -> None:
        small_hours = Schedule(LONDON, (Hours(SUNDAY, 60, 120),))  # Sundays from 01:00 to 02:00

        self.assertEqual(hours_lit(small_hours, SPRING - timedelta(hours=1)), 0)
        self.assertEqual(hours_lit(small_hours, AUTUMN - timedelta(hours=2)), 2)
        self.assertEqual(hours_lit(small_hours, datetime(2026, 6, 6, 23, tzinfo=UTC)), 1)

    def test_a_door_open_round_the_clock_never_changes_even_when_clocks_do(self) -> None:
        always = round_the_clock(LONDON)

        self.assertIsNone(always.next_change(SPRING - timedelta(hours=1)))
        self.assertIsNone(always.next_change(AUTUMN - timedelta(hours=1)))

    def test_a_window_swallowed_by_the_clocks_opens_a_week_later(self) -> None:
        small_hours = Schedule(LONDON, (Hours(SUNDAY, 60, 120),))

        self.assertEqual(
            small_hours.next_change(SPRING - timedelta(days=1)), datetime(2026, 4, 5, 0, tzinfo=UTC)
        )

    def test_dateutil_agrees_minute_by_minute_through_both_clock_changes(self) -> None:
        """python-dateutil's rrule (RFC 5545) lists the local minutes of the windows; fold tells
        doubled ones.
        """
        schedule = Schedule(
            LONDON, (Hours(5, 23 * 60, 27 * 60), Hours(SUNDAY, 12 * 60, 12 * 60 + 30))
        )
        local_minutes = {
            minute
            for weekday, hours in ((5, [23]), (SUNDAY, [0, 1, 2]))
            for minute in rrule(
                MINUTELY,
                dtstart=datetime(2026, 1, 1),
                until=datetime(2026, 12, 31),
                byweekday=weekday,
                byhour=hours,
            )
        } | set(
            rrule(
                MINUTELY,
                dtstart=datetime(2026, 1, 1),
                until=datetime(2026, 12, 31),
                byweekday=SUNDAY,
                byhour=12,
                byminute=range(30),
            )
        )

        for change in (SPRING, AUTUMN):
            for minutes in range(-26 * 60, 26 * 60):
                at = change + timedelta(minutes=minutes)
                local = at.astimezone(ZoneInfo(LONDON)).replace(tzinfo=None, fold=0)
                self.assertEqual(schedule.is_open(at), local in local_minutes, at)


class Laws(TestCase):
    @settings(max_examples=100)
    @given(
        schedules(),
        st.lists(st.one_of(instants(), instants(SPRING, 2), instants(AUTUMN, 2)), min_size=2),
    )
    def test_what_was_asked_before_changes_no_answer(
        self, schedule: Schedule, ats: list[datetime]
    ) -> None:
        asked_once = [replace(schedule).is_open(at) for at in ats]

        self.assertEqual([schedule.is_open(at) for at in ats], asked_once)

    @settings(max_examples=150)
    @given(schedules(), st.one_of(instants(), instants(SPRING, 2), instants(AUTUMN, 2)))
    def test_lit_hours_are_the_instants_at_which_it_is_open(
        self, schedule: Schedule, at: datetime
    ) -> None:
        lit = schedule.open_spans(Span(at - timedelta(days=2), at + timedelta(days=2)))

        self.assertEqual(any(at in span for span in lit), schedule.is_open(at))

    @settings(max_examples=150)
    @given(schedules(), st.one_of(instants(), instants(SPRING, 8), instants(AUTUMN, 8)))
    def test_it_stays_as_it_is_until_the_next_change(
        self, schedule: Schedule, at: datetime
    ) -> None:
        change = schedule.next_change(at)

        self.assertIsNotNone(change)
        assert change is not None
        self.assertNotEqual(schedule.is_open(change), schedule.is_open(at))
        for part in (0.25, 0.5, 0.99):
            self.assertEqual(schedule.is_open(at + (change - at) * part), schedule.is_open(at))

    @settings(max_examples=300)
    @given(schedules(), st.one_of(instants(SPRING, 8), instants(AUTUMN, 8), instants()))
    def test_it_opens_next_when_its_hours_are_next_lit(
        self, schedule: Schedule, at: datetime
    ) -> None:
        if schedule.is_open(at):
            return

        (first, *_) = schedule.open_spans(Span(at, at + timedelta(days=15)))

        self.assertEqual(schedule.opens_after(at), first.start)


class BadHours(TestCase):
    def test_windows_that_make_no_schedule_are_refused_each_by_its_name(self) -> None:
        cases = {
            "none at all": ((), "schedule.no_hours", "hours"),
            "empty": ((Hours(0, 600, 600),), "schedule.hours_empty", "hours.0"),
            "backwards": ((Hours(0, 600, 540),), "schedule.hours_empty", "hours.0"),
            "longer than a day": (
                (Hours(0, 0, MINUTES_A_DAY + 1),),
                "schedule.hours_too_long",
                "hours.0",
            ),
            "no such day": ((Hours(7, 0, 60),), "schedule.hours_outside", "hours.0"),
            "overlapping": (
                (Hours(0, 0, 61), Hours(0, 60, 120)),
                "schedule.hours_overlap",
                "hours.1",
            ),
            "overlapping round the week": (
                (Hours(6, 1380, 1500), Hours(0, 0, 120)),
                "schedule.hours_overlap",
                "hours.1",
            ),
        }

        for name, (hours, code, field) in cases.items():
            with self.subTest(name):
                found = [(problem.code, problem.field) for problem in problems_with_hours(hours)]
                self.assertEqual(found, [(code, field)])

    def test_windows_that_only_touch_are_fine(self) -> None:
        self.assertEqual(problems_with_hours((Hours(0, 0, 60), Hours(0, 60, 120))), ())

    def test_an_unknown_zone_is_refused(self) -> None:
        for zone in ("Europe/Skerrow", "", "../etc/passwd", "Europe"):
            with self.subTest(zone=zone), self.assertRaises(Invalid) as refused:
                Schedule(zone, (Hours(0, 0, 60),))
            self.assertEqual(refused.exception.code, "schedule.unknown_zone")

    def test_the_office_is_open_at_noon(self) -> None:
        self.assertTrue(OFFICE.is_open(MONDAY_NOON))

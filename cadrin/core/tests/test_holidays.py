"""Holidays: other hours than the week's, minute by minute against a reckoning of its own."""

# ruff: noqa: DTZ001 - the reference counts on the clock on the wall
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

from dateutil.rrule import MINUTELY, YEARLY, rrule
from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.errors import Invalid
from cadrin.core.holidays import Holiday, SpecialHours, problems_with_holidays
from cadrin.core.records.fields import decode_schedule, encode_schedule
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.tests.builders import LONDON, schedules
from cadrin.core.validity import Span, bounds

PUBLIC, EVE = 1, 2
CHRISTMAS = Holiday(date(2026, 12, 25), date(2026, 12, 26), PUBLIC, is_yearly=True)
NIGHT = Schedule("UTC", tuple(Hours(day, 22 * 60, 30 * 60) for day in range(7)))


def at(text: str) -> datetime:
    return datetime.fromisoformat(text).replace(tzinfo=UTC)


def office(special: SpecialHours | None, zone: str = "UTC") -> Schedule:
    return Schedule(zone, tuple(Hours(day, 480, 1080) for day in range(7)), special)


class Holidays(TestCase):
    def test_a_kind_without_hours_of_its_own_leaves_the_week_as_it_is(self) -> None:
        schedule = office(SpecialHours((CHRISTMAS,), {EVE: ()}))
        self.assertTrue(schedule.is_open(at("2026-12-25T12:00")))

    def test_a_closed_kind_is_closed_all_day_and_every_year(self) -> None:
        schedule = office(SpecialHours((CHRISTMAS,), {PUBLIC: ()}))
        for day, is_open in (
            ("2026-12-24", True), ("2026-12-25", False), ("2026-12-26", False), ("2026-12-27", True),
            ("2031-12-25", False),
        ):  # fmt: skip
            with self.subTest(day):
                self.assertIs(schedule.is_open(at(f"{day}T12:00")), is_open)

    def test_hours_of_a_kind_hold_instead_of_the_weeks(self) -> None:
        schedule = office(SpecialHours((CHRISTMAS,), {PUBLIC: ((600, 720), (1140, 1200))}))
        found = schedule.open_spans(Span(at("2026-12-25T00:00"), at("2026-12-26T00:00")))
        expected = [("10:00", "12:00"), ("19:00", "20:00")]
        self.assertEqual(
            [(f"{start:%H:%M}", f"{end:%H:%M}") for start, end in map(bounds, found)], expected
        )

    def test_part_of_a_day_leaves_the_rest_to_the_week(self) -> None:
        eve = Holiday(date(2026, 12, 24), date(2026, 12, 24), EVE, start_minute=840)
        schedule = office(SpecialHours((eve,), {EVE: ()}))
        found = schedule.open_spans(Span(at("2026-12-24T00:00"), at("2026-12-25T00:00")))
        self.assertEqual(found, (Span(at("2026-12-24T08:00"), at("2026-12-24T14:00")),))

    def test_a_watch_that_began_before_ends_where_a_holiday_begins(self) -> None:
        special = SpecialHours(
            (Holiday(date(2026, 12, 25), date(2026, 12, 25), PUBLIC),), {PUBLIC: ()}
        )
        watch = Schedule("UTC", NIGHT.hours, special)
        found = watch.open_spans(Span(at("2026-12-24T12:00"), at("2026-12-26T12:00")))
        self.assertEqual(
            found,
            (
                Span(at("2026-12-24T22:00"), at("2026-12-25T00:00")),
                # the watch that the week began on the 25th, as far as it lies on the 26th
                Span(at("2026-12-26T00:00"), at("2026-12-26T06:00")),
            ),
        )

    def test_of_two_at_once_the_shorter_counts(self) -> None:
        season = Holiday(date(2026, 7, 1), date(2026, 8, 31), EVE)
        day = Holiday(date(2026, 7, 14), date(2026, 7, 14), PUBLIC)
        schedule = office(SpecialHours((season, day), {EVE: (), PUBLIC: ((0, 1440),)}))
        self.assertEqual(
            [schedule.is_open(at(f"2026-07-{day}T12:00")) for day in (13, 14, 15)],
            [False, True, False],
        )

    def test_the_29th_of_february_is_one_of_leap_years_alone(self) -> None:
        leap = Holiday(date(2028, 2, 29), date(2028, 2, 29), PUBLIC, is_yearly=True)
        special = SpecialHours((leap,), {PUBLIC: ()})
        # RFC 5545, 3.3.10: a yearly rule on 29 February yields leap years
        found = rrule(YEARLY, dtstart=datetime(2028, 2, 29), until=datetime(2040, 1, 1))
        closed = [
            datetime(year, month, day)
            for year in range(2028, 2040)
            for month, day in ((2, 28), (2, 29), (3, 1))
            if (month, day) != (2, 29) or year % 4 == 0
            if special.parts_of(date(year, month, day))
        ]
        self.assertEqual(closed, list(found))

    def test_it_opens_again_after_a_season(self) -> None:
        season = Holiday(date(2026, 11, 1), date(2027, 3, 31), PUBLIC)
        schedule = office(SpecialHours((season,), {PUBLIC: ()}))
        self.assertEqual(schedule.opens_after(at("2026-11-15T12:00")), at("2027-04-01T08:00"))
        self.assertEqual(schedule.next_change(at("2026-11-15T12:00")), at("2027-04-01T08:00"))

    def test_what_makes_no_calendar_is_told_beside_each(self) -> None:
        found = problems_with_holidays(
            (
                Holiday(date(2026, 2, 2), date(2026, 2, 1), PUBLIC),
                Holiday(date(2026, 1, 1), date(2028, 1, 1), PUBLIC),
                Holiday(
                    date(2026, 1, 1), date(2026, 1, 1), PUBLIC, start_minute=600, end_minute=600
                ),
            )
        )
        self.assertEqual(
            [(problem.code, problem.field) for problem in found],
            [
                ("holiday.ends_before", "days.0.last"),
                ("holiday.too_long", "days.1.last"),
                ("holiday.no_such_time", "days.2.end_minute"),
            ],
        )
        with self.assertRaises(Invalid):
            SpecialHours((), {PUBLIC: ((100, 90),)})


DAYS = st.dates(date(2026, 3, 20), date(2026, 11, 5))
MINUTES = st.tuples(st.integers(0, 1438), st.integers(1, 400)).map(
    lambda pair: (pair[0], min(1440, sum(pair)))
)


@st.composite
def holidays(draw: st.DrawFn) -> Holiday:
    first, length = draw(DAYS), draw(st.integers(0, 20))
    start, end = draw(st.one_of(st.just((0, 1440)), MINUTES))
    kind = draw(st.sampled_from([PUBLIC, EVE, 3]))
    last = first + timedelta(days=length)
    return Holiday(first, last, kind, draw(st.booleans()), start, end)


SPECIAL = st.builds(
    SpecialHours,
    st.lists(holidays(), max_size=4).map(tuple),
    st.dictionaries(
        st.sampled_from([PUBLIC, EVE]), st.lists(MINUTES, max_size=1).map(tuple), max_size=2
    ),
)


def is_on(holiday: Holiday, day: date, today: date) -> bool:
    is_yearly = (day.month, day.day) == (today.month, today.day) and holiday.is_yearly
    return is_yearly or day == today


def is_open_by_hand(schedule: Schedule, instant: datetime) -> bool:
    """Say whether a schedule is open, by nothing but the clock on the wall and the definition."""
    wall = instant.astimezone(ZoneInfo(schedule.zone)).replace(tzinfo=None)
    of_day = wall.hour * 60 + wall.minute
    special = schedule.special
    here = [
        one
        for one in (special.holidays if special else ())
        if special
        and one.kind in special.hours
        and one.start_minute <= of_day < one.end_minute
        and any(is_on(one, day, wall.date()) for day in one.days())
    ]
    if here and special:
        counts = min(here, key=lambda one: (one.length, one.kind))
        return any(start <= of_day < end for start, end in special.hours[counts.kind])
    minute = wall.weekday() * 1440 + of_day
    return any(
        (minute - hours.weekday * 1440 - hours.start_minute) % 10_080
        < hours.end_minute - hours.start_minute
        for hours in schedule.hours
    )


class AgainstAReckoningOfItsOwn(TestCase):
    @settings(deadline=None, max_examples=150)
    @given(schedules(), SPECIAL, st.datetimes(datetime(2026, 3, 20), datetime(2026, 11, 5)))
    def test_every_quarter_of_an_hour_of_three_days_agrees(
        self, plain: Schedule, special: SpecialHours, start: datetime
    ) -> None:
        schedule = Schedule(plain.zone, plain.hours, special)
        begin = start.replace(tzinfo=UTC, second=0, microsecond=0)
        spans = [
            bounds(span) for span in schedule.open_spans(Span(begin, begin + timedelta(days=3)))
        ]
        for wall in rrule(MINUTELY, interval=15, dtstart=begin, count=3 * 96):
            expected = is_open_by_hand(schedule, wall)
            self.assertIs(schedule.is_open(wall), expected)
            self.assertIs(any(first <= wall < last for first, last in spans), expected)

    def test_minute_by_minute_around_both_changes_of_the_clocks(self) -> None:
        for day in (date(2026, 3, 29), date(2026, 10, 25)):
            special = SpecialHours(
                (Holiday(day, day, PUBLIC, start_minute=30, end_minute=150),),
                {PUBLIC: ((60, 100),)},
            )
            schedule = office(special, LONDON)
            begin = datetime(day.year, day.month, day.day, tzinfo=UTC) - timedelta(hours=2)
            spans = [bounds(s) for s in schedule.open_spans(Span(begin, begin + timedelta(days=1)))]
            for wall in rrule(MINUTELY, dtstart=begin, count=1440):
                expected = is_open_by_hand(schedule, wall)
                self.assertIs(schedule.is_open(wall), expected)
                self.assertIs(any(first <= wall < last for first, last in spans), expected)

    @given(schedules(), SPECIAL)
    def test_a_record_says_the_same_hours(self, plain: Schedule, special: SpecialHours) -> None:
        schedule = Schedule(plain.zone, plain.hours, special)
        body = encode_schedule(schedule)
        told = decode_schedule(body)
        self.assertEqual(encode_schedule(told), body)
        for day in range(0, 400, 7):
            instant = datetime(2026, 3, 1, day % 24, tzinfo=UTC) + timedelta(days=day)
            self.assertIs(told.is_open(instant), schedule.is_open(instant))

"""Holidays in iCalendar files: the standard's own examples, another reader, and files that are none."""

import contextlib
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

import vobject
from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.errors import Invalid
from cadrin.core.icalendar_days import LARGEST_BYTES, NamedDay, read_days, write_days
from cadrin.core.public_holidays import public_holidays

LONDON = ZoneInfo("Europe/London")
NOW = datetime(2026, 6, 1, 12, tzinfo=UTC)


def a_file(*lines: str) -> bytes:
    inner = "\r\n".join(lines)
    return (
        f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n{inner}\r\nEND:VCALENDAR\r\n"
    ).encode()


def an_event(*lines: str) -> bytes:
    return a_file("BEGIN:VEVENT", "UID:1@x", "DTSTAMP:19970901T130000Z", *lines, "END:VEVENT")


class Files(TestCase):
    def test_an_anniversary_as_rfc_5545_writes_it(self) -> None:
        # RFC 5545, 3.6.1, third example
        data = an_event("DTSTART;VALUE=DATE:19971102", "SUMMARY:Our Blissful Anniversary",
                        "TRANSP:TRANSPARENT", "CLASS:CONFIDENTIAL", "CATEGORIES:ANNIVERSARY,PERSONAL",
                        "RRULE:FREQ=YEARLY")  # fmt: skip
        expected = NamedDay("Our Blissful Anniversary", date(1997, 11, 2), date(1997, 11, 2), True)
        self.assertEqual(read_days(data, LONDON).days, (expected,))

    def test_several_days_as_rfc_5545_writes_them(self) -> None:
        # RFC 5545, 3.6.1, fourth example: the end is not included
        data = an_event("DTSTART;VALUE=DATE:20070628", "DTEND;VALUE=DATE:20070709",
                        "SUMMARY:Festival International de Jazz de Montreal")  # fmt: skip
        (day,) = read_days(data, LONDON).days
        self.assertEqual((day.first, day.last), (date(2007, 6, 28), date(2007, 7, 8)))

    def test_part_of_a_day_is_read_on_the_clock_of_the_site(self) -> None:
        for start, end in (
            ("DTSTART:20260624T130000Z", "DTEND:20260624T160000Z"),
            ("DTSTART:20260624T140000", "DTEND:20260624T170000"),
            ("DTSTART:20260624T140000", "DURATION:PT3H"),
        ):
            (day,) = read_days(an_event(start, end, "SUMMARY:Eve"), LONDON).days
            self.assertEqual((day.start_minute, day.end_minute), (14 * 60, 17 * 60))

    def test_what_is_no_such_day_is_named_and_the_rest_is_kept(self) -> None:
        for lines in (
            ("DTSTART;VALUE=DATE:20260624", "RRULE:FREQ=WEEKLY"),
            ("DTSTART;VALUE=DATE:20260624", "RRULE:FREQ=YEARLY;COUNT=3"),
            ("DTSTART;VALUE=DATE:20260624", "RRULE:FREQ=YEARLY;BYDAY=-1MO;BYMONTH=5"),
            ("DTSTART;TZID=Nowhere/Known:20260624T140000", "DTEND;VALUE=DATE:20260625"),
            ("DTSTART;VALUE=DATE:20260624", "DTEND;VALUE=DATE:20290624"),
            ("DTSTART:20260624T220000", "DTEND:20260625T060000"),
            ("DTSTART;VALUE=DATE:20269924",),
        ):
            with self.subTest(lines):
                good = "BEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20260701\r\nSUMMARY:Good\r\nEND:VEVENT"
                bad = "\r\n".join(("BEGIN:VEVENT", *lines, "SUMMARY:Odd", "END:VEVENT"))
                found = read_days(a_file(good, bad), LONDON)
                self.assertEqual([day.name for day in found.days], ["Good"])
                self.assertEqual([problem.params["name"] for problem in found.problems], ["Odd"])

    def test_what_is_no_calendar_is_refused(self) -> None:
        for data, code in (
            (b"", "calendar_file.not_one"),
            (b"PK\x03\x04 a workbook", "calendar_file.not_one"),
            (b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n", "calendar_file.not_one"),
            (b"x" * (LARGEST_BYTES + 1), "calendar_file.too_large"),
        ):
            with self.subTest(data[:20]), self.assertRaises(Invalid) as refused:
                read_days(data, LONDON)
            self.assertEqual(refused.exception.code, code)

    @given(st.binary(max_size=300))
    def test_no_bytes_make_it_fall_over(self, data: bytes) -> None:
        for content in (data, an_event("SUMMARY:x", data.decode("latin-1"))):
            with contextlib.suppress(Invalid):
                read_days(content, LONDON)


DAYS = st.builds(
    lambda name, first, length, yearly, part: NamedDay(
        name, first, first if part != (0, 1440) else first + timedelta(days=length), yearly, *part
    ),
    st.text("abc äö,;:\\n'\"", min_size=1, max_size=20)
    .map(lambda text: " ".join(text.split()))
    .filter(bool),
    st.dates(date(2000, 1, 1), date(2090, 1, 1)),
    st.integers(0, 40),
    st.booleans(),
    st.one_of(st.just((0, 1440)), st.just((600, 720)), st.just((0, 60)), st.just((840, 1440))),
)


class ThereAndBack(TestCase):
    @given(st.lists(DAYS, max_size=5, unique=True))
    def test_what_is_written_is_read_again(self, days: list[NamedDay]) -> None:
        data = write_days("Site", days, NOW)
        found = read_days(data, LONDON)
        self.assertEqual((set(found.days), found.problems), (set(days), ()))

    @given(st.lists(DAYS, min_size=1, max_size=4))
    def test_another_reader_says_the_same(self, days: list[NamedDay]) -> None:
        read = vobject.readOne(write_days("Site", days, NOW).decode())
        told = sorted((e.summary.value, str(e.dtstart.value)[:10]) for e in read.vevent_list)
        self.assertEqual(told, sorted((day.name, str(day.first)) for day in days))


class Public(TestCase):
    def test_bank_holidays_as_their_government_publishes_them(self) -> None:
        # gov.uk/bank-holidays, England and Wales 2026 (from memory)
        expected = [date(2026, 1, 1), date(2026, 4, 3), date(2026, 4, 6), date(2026, 5, 4),
                    date(2026, 5, 25), date(2026, 8, 31), date(2026, 12, 25), date(2026, 12, 28)]  # fmt: skip
        found = {day.on for day in public_holidays("GB", "ENG", [2026])}
        self.assertLessEqual(set(expected), found)

    def test_a_country_that_there_is_not_and_too_many_years_are_refused(self) -> None:
        for asked in (
            ("XX", "", [2026]),
            ("GB", "XX", [2026]),
            ("GB", "", range(2000, 2100)),
            ("GB", "", []),
        ):
            with self.subTest(asked), self.assertRaises(Invalid):
                public_holidays(*asked)

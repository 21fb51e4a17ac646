"""What cells say: days, names from lists, cards; and what columns are guessed to be."""

from datetime import UTC, date, datetime
from unittest import TestCase
from zoneinfo import ZoneInfo

from dateutil import parser as dateutil
from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.errors import Problem
from cadrin.core.intake.assembling import details_with
from cadrin.core.intake.cells import READERS, ColumnReader, Known
from cadrin.core.intake.choices import ColumnChoice, ForExisting
from cadrin.core.intake.dates import (
    DateOrder,
    DateRule,
    Moment,
    ShortYears,
    order_in,
    read_day,
    read_moment,
)
from cadrin.core.intake.guessing import guessed_columns, guessed_header_row
from cadrin.core.intake.targets import Target
from cadrin.core.people.custom_fields import CustomField, FieldType
from cadrin.core.people.details import Details, RegisterRules

RULE = DateRule(2026)
KNOWN = Known(
    ZoneInfo("Europe/London"),
    2026,
    departments={"lab": (1,), "office": (2, 3)},
    groups={"day": (5,), "boats": (6,), "day, short": (7,)},
    standings={"left": "departed"},
    custom_fields={9: CustomField(9, "Boots", FieldType.NUMBER)},
    formats={4: STANDARD_26_BIT},
    facility_codes={4: frozenset({87})},
    format_id=4,
)
DAYS = st.dates(date(1900, 1, 1), date(2099, 12, 31))


def read(target: str, cell: str, known: Known = KNOWN, **choice: object) -> object:
    found = ColumnReader(ColumnChoice(target, **choice), known).read(cell)  # type: ignore[arg-type]
    return found.code if isinstance(found, Problem) else found


class Days(TestCase):
    @given(DAYS)
    def test_a_day_is_read_as_it_was_written(self, day: date) -> None:
        day_first, month_first = (
            DateRule(2026, DateOrder.DAY_FIRST),
            DateRule(2026, DateOrder.MONTH_FIRST),
        )
        written = {
            f"{day:%Y-%m-%d}": RULE, f"{day:%Y%m%d}": RULE, f"{day:%d.%m.%Y}": RULE, f"{day:%d %B %Y}": RULE,
            f"{day:%b %d, %Y}": RULE, f"{day:%d/%m/%Y}": day_first, f"{day:%m/%d/%Y}": month_first,
        }  # fmt: skip
        for text, rule in written.items():
            self.assertEqual(read_day(text, rule), day, text)

    @given(DAYS)
    def test_a_general_reader_finds_the_same_day(self, day: date) -> None:
        """python-dateutil, with the order said."""
        text = f"{day:%d/%m/%Y}"
        self.assertEqual(
            read_day(text, DateRule(2026, DateOrder.DAY_FIRST)),
            dateutil.parse(text, dayfirst=True).date(),
        )

    @given(DAYS)
    def test_a_day_with_slashes_is_asked_about_exactly_where_both_could_be_months(
        self, day: date
    ) -> None:
        found = read_day(f"{day:%d/%m/%Y}", RULE)

        is_asked = isinstance(found, Problem) and found.code == "intake.date_ambiguous"
        self.assertEqual(is_asked, day.day <= 12 and day.day != day.month)
        self.assertTrue(is_asked or found == day)

    def test_what_is_no_day_is_said_so(self) -> None:
        for text, code in (
            ("30.02.2026", "intake.date_impossible"), ("29.02.2025", "intake.date_impossible"),
            ("1900-02-29", "intake.date_impossible"), ("31/31/2026", "intake.date_impossible"),
            ("soon", "intake.date_not_readable"), ("44000", "intake.date_not_readable"),
            ("1.2.26", "intake.year_short"), ("1 Mar 2026 25:00", "intake.time_impossible"),
        ):  # fmt: skip
            with self.subTest(text):
                found = read_moment(text, RULE)
                self.assertIsInstance(found, Problem)
                self.assertEqual(getattr(found, "code", ""), code)

    def test_years_of_two_digits_lie_behind_or_near(self) -> None:
        past, near = (
            DateRule(2026, short_years=ShortYears.PAST),
            DateRule(2026, short_years=ShortYears.NEAR),
        )
        for text, behind, ahead in (
            ("1.2.26", 2026, 2026),
            ("1.2.27", 1927, 2027),
            ("1.2.85", 1985, 1985),
        ):
            self.assertEqual(read_day(text, past), date(behind, 2, 1))
            self.assertEqual(read_day(text, near), date(ahead, 2, 1))

    def test_one_day_past_the_twelfth_shows_the_order_of_all_that_agree(self) -> None:
        self.assertIs(order_in(["03/04/2026", "25/04/2026"]), DateOrder.DAY_FIRST)
        self.assertIs(order_in(["03/04/2026", "04/25/2026"]), DateOrder.MONTH_FIRST)
        self.assertIs(order_in(["25/04/2026", "04/25/2026"]), DateOrder.UNSAID)

    def test_an_expiry_day_lasts_through_that_day_on_the_sites_wall(self) -> None:
        self.assertEqual(read(Target.EXPIRY, "2026-06-30"), datetime(2026, 6, 30, 23, tzinfo=UTC))
        self.assertEqual(
            read(Target.EXPIRY, "2026-06-30 12:00"), datetime(2026, 6, 30, 11, tzinfo=UTC)
        )
        self.assertEqual(
            read(Target.ACTIVATION, "30 June 2026, 3:30 pm"),
            datetime(2026, 6, 30, 14, 30, tzinfo=UTC),
        )
        self.assertEqual(read_moment("9999-12-31", RULE), Moment(date(9999, 12, 31)))
        self.assertIsInstance(read(Target.EXPIRY, "9999-12-31"), datetime)


class Cells(TestCase):
    def test_names_are_found_in_any_spelling_and_several_stay_several(self) -> None:
        self.assertEqual(read(Target.DEPARTMENT, " LAB "), (1,))
        self.assertEqual(read(Target.DEPARTMENT, "Office"), (2, 3))
        self.assertEqual(read(Target.DEPARTMENT, "Tower"), "intake.no_such_department")
        self.assertEqual(read(Target.STANDING, "Left"), "departed")

    def test_several_groups_stand_in_one_cell(self) -> None:
        for cell in ("Day; Boats", "Day|boats", "day\nBoats", "Day, Boats"):
            self.assertEqual(read(Target.GROUPS, cell), (5, 6), cell)
        self.assertEqual(read(Target.GROUPS, "Day, short"), (7,))
        self.assertEqual(read(Target.GROUPS, "Day; Lab"), "intake.no_such_group")

    def test_a_card_is_read_as_printed_or_raw(self) -> None:
        """The 26-bit example of the handbooks: facility code 87, number 4628."""
        raw = STANDARD_26_BIT.encode(CardNumbers(87, 4628))
        for cell in ("87-4628", "87-04628", "4628", "04628", str(raw)):
            self.assertEqual(read(Target.CARD, cell), ((4, 87, 4628),), cell)
        self.assertEqual(read(Target.CARD, "26:2000000"), "intake.card_not_readable")

    def test_a_formula_is_a_text_and_a_guarded_one_is_itself(self) -> None:
        self.assertEqual(read(Target.LAST_NAME, "=1+1"), "=1+1")
        self.assertEqual(read(Target.LAST_NAME, "'=1+1"), "=1+1")

    def test_lost_zeros_come_back_where_that_was_decided(self) -> None:
        self.assertEqual(read(Target.NUMBER, "412"), "412")
        self.assertEqual(read(Target.NUMBER, "412", width=5), "00412")
        self.assertEqual(read(Target.NUMBER, "S-12", width=5), "S-12")

    def test_every_target_is_read_and_an_empty_cell_says_nothing(self) -> None:
        for target in Target:
            self.assertIsNone(read(target, "  "), target)
        self.assertLess(READERS.keys(), set(Target))


class Columns(TestCase):
    def guessed(self, headings: tuple[str, ...], *rows: tuple[str, ...]) -> list[str]:
        return [guess.choice.target for guess in guessed_columns(headings, rows, KNOWN, 2026)]

    def test_headings_of_several_languages_are_known(self) -> None:
        for headings, expected in (
            (("Nachname", "Vorname", "Abteilung", "Eintritt"), ["last_name", "first_name", "department", "activation"]),
            (("Nom", "Prénom", "Date de naissance"), ["last_name", "first_name", "born_on"]),
            (("Apellidos", "Nombre", "Correo electrónico"), ["last_name", "first_name", "email"]),
            (("Surname", "Forename", "D.O.B.", "Boots"), ["last_name", "first_name", "", "own.9"]),
            (("sn", "givenName", "mail", "employeeNumber"), ["last_name", "first_name", "email", "number"]),
            (("Name", "First name"), ["last_name", "first_name"]),
            (("Name", "Name"), ["full_name", ""]),
            (("Phone", "Mobile", "State"), ["phone", "phone", ""]),
        ):  # fmt: skip
            with self.subTest(headings):
                self.assertEqual(self.guessed(headings), expected)

    def test_columns_without_headings_are_known_by_what_is_in_them(self) -> None:
        rows = (
            ("a@x.example", "Lab", "1990-03-01", "2026-03-01"),
            ("b@x.example", "lab", "1985-12-01", "2026-04-01"),
        )
        self.assertEqual(
            self.guessed(("", "", "", ""), *rows), ["email", "department", "born_on", "activation"]
        )

    def test_the_row_of_headings_is_found_below_a_title(self) -> None:
        table = [("Starters",), (), ("Number", "Last name"), ("1", "Reve")]
        self.assertEqual(guessed_header_row(table), 3)
        self.assertEqual(guessed_header_row([("S-1", "Reve"), ("S-2", "Falk")]), 0)


class Assembling(TestCase):
    @given(
        st.sampled_from(ForExisting),
        st.text("ab", max_size=2),
        st.text("xy", min_size=1, max_size=2),
    )
    def test_fill_leaves_what_is_there_and_leave_leaves_all(
        self, policy: ForExisting, before: str, said: str
    ) -> None:
        was = Details("S-1", last_name="Reve", title=before)

        after = details_with(
            was, {Target.TITLE: said}, {Target.TITLE: policy}, RegisterRules(), is_new=False
        ).title

        expected = {
            ForExisting.OVERWRITE: said,
            ForExisting.FILL: before or said,
            ForExisting.LEAVE: before,
        }
        self.assertEqual(after, expected[policy])

    def test_a_display_name_that_the_rule_makes_is_no_name_of_its_own(self) -> None:
        was = Details("S-1", "Mara", "Lindqvist")
        for shown, expected in (("Mara Lindqvist", ""), ("Mara L.", "Mara L.")):
            after = details_with(
                was, {Target.DISPLAY_NAME: shown}, {}, RegisterRules(), is_new=False
            )
            self.assertEqual(after.display_override, expected)

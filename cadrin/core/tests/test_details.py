from datetime import date, timedelta
from typing import Any
from unittest import TestCase

from cadrin.core.people.details import (
    LONGEST,
    Details,
    RegisterRules,
    missing,
    next_number,
    problems_with_details,
    tidy,
)
from cadrin.core.tests.builders import MONDAY_NOON
from cadrin.core.validity import Standing

RULES = RegisterRules()
MARA: dict[str, Any] = {"number": "S-1", "first_name": "Mara", "last_name": "Lindqvist"}


class DetailsOfACardholder(TestCase):
    def codes(self, rules: RegisterRules = RULES, **more: Any) -> set[tuple[str | None, str]]:
        found = problems_with_details(Details(**{**MARA, **more}), rules, MONDAY_NOON.date())
        return {(p.field, p.code) for p in found}

    def test_a_number_and_one_name_are_enough(self) -> None:
        self.assertEqual(self.codes(first_name=""), set())
        self.assertEqual(self.codes(last_name=""), set())
        self.assertEqual(
            self.codes(first_name="", last_name=""), {("last_name", "cardholder.name_missing")}
        )
        self.assertEqual(self.codes(number="  "), {("number", "cardholder.number_missing")})

    def test_what_the_site_asks_for_is_told_and_an_image_is_not_among_it(self) -> None:
        asked = frozenset({"email", "department", "born_on", "portrait"})

        told = [problem.field for problem in missing(Details("S-1", company_id=3), asked)]

        self.assertEqual(told, ["email", "department", "born_on"])
        full = Details("S-1", email="t@skerrow.example", department_id=1, born_on=date(1987, 5, 23))
        self.assertEqual(missing(full, asked), ())

    def test_is_kept_without_stray_spaces_and_telephones_in_one_form(self) -> None:
        typed = Details(
            "S-1",
            first_name=" Mara  Lise ",
            remarks=" by\n boat ",
            phones=("07700 900123", " ", "ext 5"),
        )

        kept = tidy(typed, RegisterRules(region="GB"))

        # 07700 900xxx is for fiction: Ofcom, telephone numbers for use in TV and radio drama
        self.assertEqual(kept.phones, ("+44 7700 900123", "ext 5"))
        self.assertEqual((kept.first_name, kept.remarks), ("Mara Lise", "by\n boat"))

    def test_a_birth_date_is_one_of_somebody_alive(self) -> None:
        today = MONDAY_NOON.date()
        for born, is_likely in (
            (today, True), (today + timedelta(days=1), False), (date(today.year - 120, 12, 31), True),
            (date(today.year - 121, 12, 31), False), (None, True),
        ):  # fmt: skip
            with self.subTest(born):
                found = self.codes(born_on=born)
                self.assertEqual(
                    found, set() if is_likely else {("born_on", "cardholder.birth_date_unlikely")}
                )

    def test_each_text_has_its_limit(self) -> None:
        for field, most in LONGEST.items():
            with self.subTest(field):
                self.assertNotIn(
                    (field, "input.too_long"), self.codes(RULES, **{field: "a" * most})
                )
                self.assertIn(
                    (field, "input.too_long"), self.codes(RULES, **{field: "a" * (most + 1)})
                )

    def test_characters_that_cannot_be_seen_are_refused(self) -> None:
        # zero-width space and joiner, right-to-left mark and override (Unicode, general category
        # Cf)
        for character in ("\u200b", "\u200d", "\u200f", "\u202e", "\x00"):
            with self.subTest(repr(character)):
                self.assertIn(
                    ("last_name", "input.invisible_characters"),
                    self.codes(last_name=f"Lind{character}qvist"),
                )

    def test_an_end_of_suspension_needs_a_suspension(self) -> None:
        later = MONDAY_NOON + timedelta(days=1)

        self.assertEqual(
            self.codes(suspended_until=later), {("suspended_until", "cardholder.not_suspended")}
        )
        self.assertEqual(self.codes(suspended_until=later, standing=Standing.SUSPENDED), set())

    def test_the_next_number_keeps_prefix_and_width(self) -> None:
        for highest, expected in (
            (None, "S-00001"),
            ("S-00009", "S-00010"),
            ("S-99999", "S-100000"),
        ):
            with self.subTest(highest):
                self.assertEqual(next_number(highest), expected)

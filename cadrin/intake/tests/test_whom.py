"""Whom the rows of a list are about: found by what was chosen, doubted where two may be one, or missing."""

from dataclasses import replace
from datetime import date

from django.test import TestCase

from cadrin.core.errors import Invalid
from cadrin.core.intake.choices import MatchBy, Missing, Newcomers
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.validity import Standing
from cadrin.intake.tests.lists import List, a_list
from cadrin.people.commands.custom_fields import OwnFieldDraft, save_custom_field
from cadrin.people.models import Cardholder, Company, Department
from tests.house import NOON, House


class Matched(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        boots = OwnFieldDraft({"en": "Boots"}, {}, FieldType.NUMBER, is_unique=False)
        self.boots = save_custom_field(self.actor, None, boots, NOON)
        self.tomas = self.house.enrol(
            self.house.draft(
                "S-1",
                external_id="HR-77",
                email="Tomas@Station.example",
                born_on=date(1991, 2, 28),
                own={self.boots: "44"},
            )
        )

    def whom(self, data: str, **choices: object) -> tuple[list[int | None], dict[str, int]]:
        """Return whom the rows are about, and what is wrong with them."""
        taken = List(self.actor, data.encode())
        taken.decide(columns=self.columns(taken), **choices)
        shown = [row["cardholder_id"] for row in taken.shown()]
        return shown, taken.faults

    def columns(self, taken: List) -> dict[int, object]:
        wanted = {"External": "external_id", "Boots": f"own.{self.boots}"}
        headings = taken.kept.reading["headings"]
        return {
            n: replace(column, target=wanted.get(headings[n], column.target), is_guess=False)
            for n, column in taken.choices.columns.items()
        }

    def test_by_whatever_was_chosen(self) -> None:
        cases: tuple[tuple[str, dict[str, object]], ...] = (
            ("Number;Title\ns-1;Diver\n", {"match_by": MatchBy.NUMBER}),
            ("External;Title\nHR-77;Diver\n", {"match_by": MatchBy.EXTERNAL_ID}),
            ("E-mail;Title\ntomas@station.EXAMPLE;Diver\n", {"match_by": MatchBy.EMAIL}),
            (
                "First name;Last name;Date of birth\nTOMAS;Réve;1991-02-28\n",
                {"match_by": MatchBy.NAME_AND_BIRTH},
            ),
            ("Boots;Title\n44;Diver\n", {"match_field": self.boots}),
        )
        for data, choices in cases:
            with self.subTest(data.partition("\n")[0]):
                self.assertEqual(self.whom(data, **choices)[0], [self.tomas])

    def test_by_the_card(self) -> None:
        taken = List(self.actor, b"Card;Title\n12-4751;Diver\n").with_defaults(
            format_id=self.house.format.pk
        )

        taken.decide(match_by=MatchBy.CARD)

        self.assertEqual([row["cardholder_id"] for row in taken.shown()], [self.tomas])

    def test_another_birth_date_is_somebody_else(self) -> None:
        data = "First name;Last name;Date of birth\nTomas;Reve;1991-03-01\n"
        self.assertEqual(self.whom(data, match_by=MatchBy.NAME_AND_BIRTH)[0], [None])

    def test_whoever_might_be_two_people_is_asked_about(self) -> None:
        second = self.house.draft("S-2", first_name="Ola", last_name="Brae", own={self.boots: "44"})
        self.house.enrol(replace(second, cards=()))

        shown, faults = self.whom("Boots;Title\n44;Diver\n", match_field=self.boots)

        self.assertEqual((shown, faults), ([None], {"intake.several_match": 1}))

    def test_a_leaver_who_is_not_sure_is_never_passed_over(self) -> None:
        leavers = List(
            self.actor,
            b"First name;Last name;Date of birth\nTomas;Reve;28.13.1991\nMara;Brae;1980-01-01\n",
        )

        leavers.decide(match_by=MatchBy.NAME_AND_BIRTH, newcomers=Newcomers.LEAVE_OUT)

        self.assertEqual((leavers.rows["faulty"], leavers.rows["left_out"]), (1, 1))

    def test_nothing_is_applied_where_no_column_says_who_it_is(self) -> None:
        taken = List(self.actor, b"Title\nDiver\n").decide(match_by=MatchBy.EMAIL)
        with self.assertRaises(Invalid) as refused:
            taken.apply()
        self.assertEqual(refused.exception.code, "intake.cannot_match")

    def test_a_row_said_to_be_somebodys_is(self) -> None:
        taken = List(self.actor, b"Number;Title\nX-9;Diver\n")

        taken.decide(same_as={2: self.tomas}).apply()

        tomas = Cardholder.objects.get()
        self.assertEqual((tomas.number, tomas.title), ("X-9", "Diver"))

    def test_a_name_alone_is_no_doubt_and_a_name_with_a_department_is(self) -> None:
        alone = List(self.actor, b"Number;First name;Last name\nX-1;Ola;Falk\nX-2;Ola;Falk\n")
        self.assertEqual(alone.faults, {})

        together = List(self.actor, a_list(*(f"X-{n};Falk;Ola;Station Office;;" for n in range(2))))

        self.assertEqual(together.faults, {"intake.may_be_in_file": 1})
        self.assertEqual(together.decide(same_as={3: 0}).faults, {})


class MissingPeople(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def test_only_of_the_department_with_those_below_it_or_the_company(self) -> None:
        lab = Department.objects.create(number="20", name="Lab")
        wet = Department.objects.create(number="21", name="Wet Lab", parent=lab)
        company = Company.objects.create(name="Harbour Divers")
        for number, place in (("L", lab.pk), ("W", wet.pk), ("O", None)):
            self.house.enrol(replace(self.house.draft(number, department_id=place), cards=()))
        self.house.enrol(replace(self.house.draft("C", company_id=company.pk), cards=()))
        taken = List(self.actor, b"Number;Last name\nX-1;Falk\n")
        for wanted, choices in (
            ({"L", "W"}, {"missing_department_id": lab.pk}),
            ({"C"}, {"missing_company_id": company.pk, "missing_department_id": None}),
        ):
            taken.decide(missing=Missing.SUSPENDED, **choices)
            missing = {row["cardholder_id"] for row in taken.shown(state="missing")}
            found = Cardholder.objects.filter(pk__in=missing).values_list("number", flat=True)
            self.assertEqual(set(found), wanted)

    def test_more_than_a_page_of_them_are_shown_and_all_depart(self) -> None:
        self.house.enrol_many(130)
        taken = List(self.actor, b"Number;Last name\nM-7;Reve\n")

        taken.decide(missing=Missing.DEPARTED).apply()

        missing = [row["cardholder_id"] for row in taken.every_row(state="missing")]
        self.assertEqual((len(missing), len(set(missing))), (129, 129))
        active = Cardholder.objects.filter(standing=Standing.ACTIVE)
        self.assertEqual([person.number for person in active], ["M-7"])

"""What a list does not say is said for all of its newcomers, and of nobody who is there."""

import orjson
from django.apps import apps
from django.test import TestCase

from cadrin.access.models import DefaultGroup
from cadrin.core.errors import Invalid
from cadrin.credentials.models import Card
from cadrin.credentials.sealed_lists import take_pin_list
from cadrin.intake.models import IntakeBlock
from cadrin.intake.tests.lists import List, a_list
from cadrin.people.models import Cardholder, Company, Department, Kind
from tests.house import NOON, House

TWO = ("S-7;Norquay;Isla;;;", "S-8;Falk;Jorun;;;")


class Defaults(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def test_reach_newcomers_and_leave_whoever_is_there(self) -> None:
        kind, company = Kind.objects.create(name="Diver"), Company.objects.create(name="Harbour")
        there = self.house.enrol(self.house.draft("S-1"))
        taken = List(self.actor, a_list("S-1;Reve;Tomas;;;", *TWO)).with_defaults(
            department_id=self.house.department.pk,
            kind_id=kind.pk,
            company_id=company.pk,
            activation="2026-06-08",
            expiry="2026-12-31",
        )

        taken.apply()

        isla = Cardholder.objects.get(number="S-7")
        self.assertEqual(
            (isla.department_id, isla.kind_id, isla.company_id),
            (self.house.department.pk, kind.pk, company.pk),
        )
        self.assertEqual(f"{isla.activation_at:%F %H:%M}", "2026-06-07 23:00")  # midnight in London
        self.assertEqual(f"{isla.expiry_at:%F %H:%M}", "2027-01-01 00:00")  # through the last day
        tomas = Cardholder.objects.get(pk=there)
        self.assertEqual((tomas.kind_id, tomas.expiry_at), (None, None))

    def test_the_groups_that_a_department_proposes(self) -> None:
        department = self.house.department
        DefaultGroup.objects.create(department=department, group=self.house.boats)
        below = Department.objects.create(number="11", name="Front Desk", parent=department)
        rows = ("S-7;Norquay;Isla;Front Desk;;", "S-8;Falk;Jorun;;;")
        taken = List(self.actor, a_list(*rows)).with_defaults(
            with_proposed_groups=True, group_ids=(self.house.day_group.pk,)
        )

        taken.apply()

        groups = {
            person.number: set(person.memberships.values_list("group__name", flat=True))
            for person in Cardholder.objects.all()
        }
        self.assertEqual(groups, {"S-7": {"Boats", "Day"}, "S-8": {"Day"}})
        self.assertEqual(Cardholder.objects.get(number="S-7").department_id, below.pk)

    def test_generated_pins_lie_in_one_sealed_list_and_nowhere_else(self) -> None:
        taken = List(self.actor, a_list(*TWO)).with_defaults(pins="listed").apply()

        kept = orjson.dumps(
            [list(model._default_manager.values()) for model in apps.get_models()], default=str
        ).decode()
        self.assertFalse(IntakeBlock.objects.exclude(pins="").exists())
        lines = take_pin_list(self.actor, taken.kept.result["pin_list"], NOON)
        self.assertEqual(len(lines), 2)
        for line in lines:
            self.assertNotIn(f'"{line[-1]}"', kept)

    def test_cards_go_on_from_the_first_and_need_a_format(self) -> None:
        taken = List(self.actor, a_list(*TWO))
        with self.assertRaises(Invalid) as refused:
            taken.with_defaults(first_card=4750)
        self.assertEqual(refused.exception.problems[0].field, "defaults.format_id")

        taken.with_defaults(format_id=self.house.format.pk, facility_code=12, first_card=65_535)

        self.assertEqual(taken.faults, {"card.out_of_range": 1})
        taken.with_defaults(first_card=65_534).apply()
        self.assertEqual(set(Card.objects.values_list("card_number", flat=True)), {65_534, 65_535})

    def test_several_departments_of_a_name_are_asked_about(self) -> None:
        for number in ("20", "30"):
            parent = Department.objects.create(number=number, name=f"House {number}")
            Department.objects.create(number=f"{number}1", name="Stores", parent=parent)
        taken = List(self.actor, a_list("S-7;Norquay;Isla;Stores;;"))
        self.assertEqual(taken.faults, {"intake.several_departments": 1})

        taken.with_column(3, replaced={"Stores": "House 30 / Stores"}).apply()

        self.assertEqual(Cardholder.objects.get().department.number, "301")  # type: ignore[union-attr]

    def test_zeros_that_a_spreadsheet_lost_are_filled_up_or_left(self) -> None:
        self.house.enrol(self.house.draft("00473"))
        taken = List(self.actor, b"Number;Last name\n473;Norquay\n00912;Falk\n")
        self.assertEqual(taken.faults, {"intake.lost_zeros": 1})

        as_it_is = taken.decide(cells={(2, 0): "473"})
        self.assertEqual((as_it_is.faults, as_it_is.rows["new"]), ({}, 2))

        filled = taken.decide(cells={}).with_column(0, width=5)
        self.assertEqual((filled.faults, filled.rows["changed"]), ({}, 1))

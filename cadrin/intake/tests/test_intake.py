"""A list becomes cardholders: understood, judged, written whole, taken back whole."""

from dataclasses import replace

from django.test import TestCase

from cadrin.core.errors import Invalid
from cadrin.core.intake.choices import ForExisting, MatchBy, Missing, Newcomers
from cadrin.core.intake.dates import DateOrder
from cadrin.core.intake.table import ReadingChoices
from cadrin.core.validity import Standing
from cadrin.credentials.models import Card
from cadrin.intake.commands.deciding import save_mapping, undo_intake
from cadrin.intake.states import IntakeState
from cadrin.intake.tests.lists import List, a_list, work
from cadrin.people.models import Cardholder
from tests.house import NOON, House

NEW = (
    "S-00101;Norquay;Isla;Station Office;isla@station.example;2026-06-08",
    "S-00102;Falk;Jorun;Station Office;jorun@station.example;2026-06-08",
)


class Lists(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def test_a_plain_list_is_understood_and_written(self) -> None:
        starters = List(self.actor, a_list(*NEW))

        starters.apply()

        expected = ["number", "last_name", "first_name", "department", "email", "activation"]
        self.assertEqual(starters.targets(), expected)
        self.assertEqual(starters.rows, {"blank": 1, "new": 2})
        isla = Cardholder.objects.get(number="S-00101")
        self.assertEqual(
            (isla.display_name, isla.department_id), ("Isla Norquay", self.house.department.pk)
        )
        self.assertEqual(starters.kept.state, IntakeState.APPLIED)

    def test_the_same_list_a_second_time_changes_nothing(self) -> None:
        List(self.actor, a_list(*NEW)).apply()

        again = List(self.actor, a_list(*NEW))

        self.assertEqual(again.rows, {"blank": 1, "same": 2})

    def test_an_undone_intake_leaves_nobody_behind(self) -> None:
        starters = List(self.actor, a_list(*NEW)).apply()

        undo_intake(self.actor, starters.id, NOON)
        work()

        self.assertEqual(starters.kept.state, IntakeState.UNDONE)
        self.assertFalse(Cardholder.objects.exists())

    def test_whoever_was_changed_since_is_left(self) -> None:
        starters = List(self.actor, a_list(*NEW)).apply()
        isla = Cardholder.objects.get(number="S-00101")
        married = self.house.draft("S-00101", first_name="Isla", last_name="Brae")
        self.house.save(isla.pk, replace(married, version=isla.version))

        undo_intake(self.actor, starters.id, NOON)
        work()

        self.assertEqual([c.last_name for c in Cardholder.objects.all()], ["Brae"])
        self.assertEqual(starters.kept.result["left_count"], 1)

    def test_days_that_could_be_two_are_asked_about_and_settled_for_all(self) -> None:
        rows = [row.replace("2026-06-08", "08/06/2026") for row in NEW]
        starters = List(self.actor, a_list(*rows))
        self.assertEqual(starters.faults, {"intake.date_ambiguous": 2})

        starters.with_column(5, order=DateOrder.DAY_FIRST).apply()

        begins = Cardholder.objects.get(number="S-00101").activation_at
        self.assertEqual(f"{begins:%F %H:%M}", "2026-06-07 23:00")  # midnight in London

    def test_a_department_by_another_name_is_settled_for_all(self) -> None:
        rows = [row.replace("Station Office", "Front office") for row in NEW]
        starters = List(self.actor, a_list(*rows))
        self.assertEqual(starters.faults, {"intake.no_such_department": 2})

        starters.with_column(3, replaced={"Front office": "Station Office"})

        self.assertEqual(starters.rows, {"blank": 1, "new": 2})

    def test_leavers_depart_and_unknown_ones_are_left_out(self) -> None:
        self.house.enrol()
        leavers = List(self.actor, b"Number\nS-1\nS-9\n")

        leavers.decide(newcomers=Newcomers.LEAVE_OUT).with_defaults(standing="departed").apply()

        self.assertEqual(leavers.rows, {"blank": 1, "changed": 1, "left_out": 1})
        self.assertEqual(Cardholder.objects.get().standing, Standing.DEPARTED)

    def test_who_is_missing_from_the_list_departs(self) -> None:
        self.house.enrol()
        self.house.enrol_many(2)
        starters = List(self.actor, b"Number,Last name\nM-0,Reve\n")

        starters.decide(missing=Missing.SUSPENDED).apply()

        suspended = Cardholder.objects.filter(standing=Standing.SUSPENDED)
        self.assertEqual({c.number for c in suspended}, {"S-1", "M-1"})

    def test_cards_follow_one_another_from_the_first_that_is_free(self) -> None:
        self.house.enrol(self.house.draft("S-1"))  # has card 12-4751
        starters = List(self.actor, a_list(*NEW))

        starters.with_defaults(
            format_id=self.house.format.pk, facility_code=12, first_card=4750
        ).apply()

        given = dict(Card.objects.values_list("card_number", "holder__number"))
        self.assertEqual(given, {4750: "S-00101", 4751: "S-1", 4752: "S-00102"})

    def test_a_card_as_printed_is_read(self) -> None:
        data = b"Number,Name,Card\nS-7,Isla Norquay,12-4801\nS-8,Jorun Falk,12-04802\n"
        starters = List(self.actor, data).with_defaults(format_id=self.house.format.pk)

        starters.apply()

        self.assertEqual(set(Card.objects.values_list("card_number", flat=True)), {4801, 4802})

    def test_fill_what_is_empty_leaves_what_is_there(self) -> None:
        self.house.enrol(self.house.draft(title="Skipper"))
        data = b"Number;Title;E-mail\nS-1;Diver;tomas@station.example\n"
        starters = List(self.actor, data)

        starters.with_column(1, existing=ForExisting.FILL).apply()

        tomas = Cardholder.objects.get()
        self.assertEqual((tomas.title, tomas.email), ("Skipper", "tomas@station.example"))

    def test_the_encoding_and_the_delimiter_can_be_said(self) -> None:
        data = "Number;Last name\nS-7;Łuk\n".encode("cp1250")
        taken = List(self.actor, data).decide(
            reading=ReadingChoices(encoding="windows-1250", delimiter=";")
        )
        self.assertEqual(taken.shown()[0]["cells"], ["S-7", "Łuk"])

        taken.decide(reading=ReadingChoices(encoding="windows-1250", delimiter=","))

        self.assertEqual(taken.kept.reading["headings"], ["Number;Last name"])

    def test_another_row_of_headings_is_understood_anew(self) -> None:
        taken = List(self.actor, b"Number;Surname\nVorname;Nachname\nIsla;Norquay\n")
        self.assertEqual(taken.targets(), ["number", "last_name"])

        taken.decide(header_row=2, first_row=3)

        self.assertEqual(taken.targets(), ["first_name", "last_name"])
        self.assertEqual(taken.rows["new"], 1)

    def test_a_saved_mapping_is_used_when_the_same_kind_of_file_comes(self) -> None:
        first = (
            List(self.actor, b"A;B\nS-7;Falk\n")
            .with_column(0, target="number")
            .with_column(1, target="last_name")
        )
        save_mapping(self.actor, first.id, "Two columns", NOON)

        second = List(self.actor, b"A;B\nS-8;Brae\n")

        self.assertEqual(
            (second.targets(), second.kept.reading["mapping"]),
            (["number", "last_name"], "Two columns"),
        )

    def test_a_pin_is_never_mended_where_it_would_be_readable(self) -> None:
        taken = List(self.actor, b"Number;Last name;PIN\nS-7;Falk;1\n")
        for changes in (
            {"cells": {(2, 2): "729415"}},
            {"columns": {2: replace(taken.choices.columns[2], replaced={"1": "729415"})}},
        ):
            with self.assertRaises(Invalid):
                taken.decide(**changes)

    def test_people_without_number_are_numbered_above_those_of_the_list(self) -> None:
        data = b"Number;Last name\n;Falk\nS-00009;Norquay\n;Brae\n"
        starters = List(self.actor, data).decide(match_by=MatchBy.NUMBER)

        starters.apply()

        numbers = dict(Cardholder.objects.values_list("last_name", "number"))
        self.assertEqual(numbers, {"Norquay": "S-00009", "Falk": "S-00010", "Brae": "S-00011"})

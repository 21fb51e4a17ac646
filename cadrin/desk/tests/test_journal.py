"""The journal as its screen asks for it."""

import json
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

from django.test import Client, TestCase

from cadrin.desk.journal import JournalFilters, entries
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder
from tests.house import ANYBODY, DAY, NOON, House, an_operator


class Journal(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.tomas = self.house.enrol(self.house.draft(born_on=date(1980, 5, 17)))
        self.ines = actor_of(an_operator("ines", *Permission))
        self.house.save(self.tomas, replace(self.house.draft(title="Diver"), version=1))

    def told(self, actor: Any = ANYBODY, **filters: Any) -> list[str]:
        return [row["action"] for row in entries(actor, JournalFilters(**filters))]

    def test_is_newest_first_and_goes_on_from_where_one_was(self) -> None:
        everything = [row["id"] for row in entries(ANYBODY, JournalFilters())]
        first = [row["id"] for row in entries(ANYBODY, JournalFilters(), most=2)]
        rest = [row["id"] for row in entries(ANYBODY, JournalFilters(), before=first[-1])]

        self.assertEqual(everything, sorted(everything, reverse=True))
        self.assertEqual(first + rest, everything)

    def test_is_asked_by_operator_act_person_and_time(self) -> None:
        other = self.house.enrol(replace(self.house.draft("S-2"), cards=()))

        self.assertEqual(self.told(operator=self.ines.operator_id), [])
        self.assertEqual(set(self.told(operator=self.house.operator.pk)), set(self.told()))
        self.assertEqual(self.told(act="card"), ["card.issued"])
        self.assertEqual(
            self.told(act="cardholder", cardholder=self.tomas),
            ["cardholder.changed", "cardholder.enrolled"],
        )
        self.assertEqual(
            set(self.told(cardholder=other)), {"cardholder.enrolled", "membership.added"}
        )
        self.assertEqual(self.told(since=NOON + timedelta(seconds=1)), [])
        self.assertEqual(self.told(until=NOON), [])
        self.assertEqual(len(self.told(since=NOON, until=NOON + DAY)), Entry.objects.count())

    def test_names_what_an_act_was_about_and_says_what_was_erased(self) -> None:
        (changed, *_) = entries(ANYBODY, JournalFilters(act="cardholder"))
        self.assertEqual(
            changed["topics"], [{"kind": "cardholder", "id": self.tomas, "name": "Tomas Reve"}]
        )

        erase_cardholder(
            self.house.actor,
            self.tomas,
            Cardholder.objects.get(pk=self.tomas).version,
            "by letter",
            NOON,
        )

        erased = {
            row["action"]: row["is_erased"]
            for row in entries(ANYBODY, JournalFilters(cardholder=self.tomas))
        }
        self.assertTrue(erased["cardholder.enrolled"])
        self.assertFalse(erased["cardholder.erased"])

    def test_hides_dates_of_birth_from_whoever_may_not_see_them(self) -> None:
        for permissions, expected in (
            ({Permission.SEE, Permission.JOURNAL}, False),
            ({Permission.SEE, Permission.JOURNAL, Permission.BIRTH_DATES}, True),
        ):
            client = Client()
            client.force_login(an_operator(f"reader-{len(permissions)}", *permissions))

            answer = client.get(f"/api/journal/?cardholder={self.tomas}")

            with self.subTest(expected):
                self.assertEqual("1980-05-17" in json.dumps(answer.json()), expected)

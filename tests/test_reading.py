import json
from datetime import timedelta
from typing import Any
from unittest import skipUnless

from django.db import connection
from django.test import SimpleTestCase, TestCase
from hypothesis import given
from hypothesis import strategies as st

from cadrin.access.models import Membership
from cadrin.config.database.conditions import condition_of
from cadrin.config.database.instants import Turn, Window, turns
from cadrin.config.database.reading import IDS, ObjectsByIds, RowsByIds
from cadrin.config.postgresql.base import storable
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import TO_BE_SENT
from cadrin.credentials.models import Letter
from cadrin.delivery.models import Record
from cadrin.delivery.record_states import is_not_held
from cadrin.people.models import Cardholder
from cadrin.people.queries import has_external_id
from tests.house import DAY, NOON, House

COLUMNS = ("id", "display_name", "phones", "own", "activation_at", "department__name", "number")
"""Of every kind that is not read as it is kept: JSON, instants, and what stands in another table."""
MORE_THAN_PARAMETERS = 300_000
"""So many the database does not take one by one."""


class RowsReadByIds(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.ids = self.house.enrol_many(5)
        Cardholder.objects.filter(pk=self.ids[1]).update(
            activation_at=NOON, phones=["0117 496 0000"], department=self.house.department
        )

    def test_are_those_of_the_framework_in_its_order(self) -> None:
        read = RowsByIds(
            lambda: (
                Cardholder.objects.filter(pk__among=IDS).order_by("-number").values_list(*COLUMNS)
            )
        )
        for ids in ([], self.ids[1:2], self.ids[::-1], [*self.ids, 9_999, self.ids[0]]):
            with self.subTest(ids=ids):
                rows = Cardholder.objects.filter(pk__in=ids).order_by("-number")
                self.assertEqual(
                    [tuple(row) for row in read(ids)], list(rows.values_list(*COLUMNS))
                )

    def test_come_as_objects_that_can_be_saved(self) -> None:
        read = ObjectsByIds(
            Cardholder, lambda: Cardholder.objects.filter(pk__among=IDS).order_by("-id")
        )
        (one,) = read(self.ids[1:2])
        self.assertEqual(one, Cardholder.objects.get(pk=one.pk))
        self.assertEqual((one.activation_at, one.phones), (NOON, ["0117 496 0000"]))
        one.title = "Diver"
        one.save()
        self.assertEqual(read([one.pk])[0].title, "Diver")
        everybody = ObjectsByIds(Cardholder, lambda: Cardholder.objects.order_by("id"))
        self.assertEqual([person.pk for person in everybody()], sorted(self.ids))

    def test_are_found_among_more_ids_than_there_are_parameters(self) -> None:
        found = Cardholder.objects.filter(pk__among=range(MORE_THAN_PARAMETERS))
        self.assertEqual(set(found.values_list("id", flat=True)), set(self.ids))
        self.assertEqual(Membership.objects.filter(cardholder_id__among=self.ids).count(), 5)


class TurnsOfPeople(TestCase):
    def test_are_later_than_the_beginning_of_a_window_and_not_later_than_its_end(self) -> None:
        one, other, third = House().enrol_many(3)
        for id_, end in ((one, NOON), (other, NOON + DAY), (third, NOON + 2 * DAY)):
            Cardholder.objects.filter(pk=id_).update(expiry_at=end)
        rows, columns = Cardholder.objects.all(), ("activation_at", "expiry_at")

        found = set(turns(rows, "id", columns, Window(NOON, NOON + DAY)))
        self.assertEqual(found, {Turn(NOON + DAY, other)})
        wide = Window(NOON - timedelta(1), NOON + 9 * DAY, frozenset({one, third}))
        self.assertEqual({turn.who for turn in turns(rows, "id", columns, wide)}, {one, third})


@skipUnless(connection.vendor == "sqlite", "the plan of a question is told in SQLite's words")
class WhatIsFoundByItsIndex(TestCase):
    def test_what_is_not_held_in_the_order_of_sending(self) -> None:
        mine = Record.objects.filter(is_not_held(), controller_id=1)
        people = mine.filter(kind=RecordKind.CARDHOLDER, state__in=TO_BE_SENT).order_by("id")

        for query in (mine, people, Record.objects.filter(is_not_held())):
            told = query.explain()
            self.assertIn("record_not_held", told)
            self.assertNotIn("TEMP B-TREE", told)

    def test_nobody_else_is_looked_at_for_the_id_of_another_system_or_a_letter_that_waits(
        self,
    ) -> None:
        known = Cardholder.objects.filter(has_external_id(), external_id__among=["E-1", "E-2"])
        self.assertIn("external_id_is_one_cardholders (external_id=?)", known.explain())

        waiting = condition_of(Letter, "letter_that_waits")
        due = Letter.objects.filter(waiting, next_try_at__lte=NOON)
        self.assertIn("letter_that_waits (next_try_at<?)", due.explain())


class WhatIsKeptAsJson(SimpleTestCase):
    @given(st.recursive(st.text('\0\\u0a"', max_size=12), st.lists))
    def test_comes_back_whole_but_for_the_character_that_postgresql_does_not_keep(
        self, value: Any
    ) -> None:
        kept = storable(json.dumps(value))

        self.assertNotIn("\0", str(json.loads(kept)))
        # the sign for it is in nothing that is made here, so it can be taken back
        back = json.loads(kept.replace("\\u2400", "\\u0000"))
        self.assertEqual(back, value)

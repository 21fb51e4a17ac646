"""The latest reads of many people, and those of nobody: the same rows, whichever way they are looked for."""

from dataclasses import replace
from datetime import timedelta
from unittest import skipUnless
from unittest.mock import patch

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from cadrin.activity import queries
from cadrin.activity.models import Read
from cadrin.activity.queries import ReadFilters, reads
from cadrin.core.decision.reasons import Reason
from cadrin.desk.queries import unknown_cards
from cadrin.operators.scope import Scope
from tests.house import ANYBODY, NOON, House


class LatestReads(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.mine_id = self.house.enrol(self.house.draft(department_id=self.house.department.pk))
        self.number = 0
        for place in range(30):
            self.read(self.mine_id if place % 3 == 0 else None, Reason.UNKNOWN_CARD)
            self.read(self.mine_id if place % 4 == 0 else None, Reason.GRANTED)

    def read(self, cardholder_id: int | None, reason: Reason) -> None:
        self.number += 1
        name = "Somebody who went" if cardholder_id is None else "Mine"
        Read.objects.create(
            at=NOON - timedelta(minutes=self.number), controller=self.house.north, store="a",
            event_number=self.number, reader=self.house.gate_reader, reader_name="Gate",
            door=self.house.gate, raw="26:2F764DD", format=self.house.format, facility_code=12,
            card_number=self.number, reason=reason, cardholder_id=cardholder_id, cardholder_name=name,
        )  # fmt: skip

    def test_of_whom_somebody_may_see_are_the_same_however_far_they_are_looked_for_first(
        self,
    ) -> None:
        scope = Scope(departments=frozenset({self.house.department.pk}))
        kept = replace(ANYBODY, scope=scope)
        for actor, filters in (
            (kept, ReadFilters()),
            (kept, ReadFilters(is_denied=True)),
            (ANYBODY, ReadFilters(department_id=self.house.department.pk)),
        ):
            for most in (1, 5, 100):
                newest_id = max(Read.objects.values_list("id", flat=True))
                for before in (None, newest_id - 48):
                    said = []
                    for newest in (1, 7, 10_000):
                        with patch.object(queries, "NEWEST", newest):
                            found = reads(actor, filters, most=most, before=before)
                        said.append([row["id"] for row in found])
                    self.assertTrue(said[0])
                    self.assertEqual(said[0], said[1])
                    self.assertEqual(said[0], said[2])

    @skipUnless(connection.vendor == "sqlite", "the plan of a question is told in SQLite's words")
    def test_of_nobody_are_found_by_their_own_index(self) -> None:
        with CaptureQueriesContext(connection) as told:
            found = unknown_cards(ANYBODY, NOON)
        self.assertEqual(found.total, 30)
        with connection.cursor() as cursor:
            cursor.execute(
                f"EXPLAIN QUERY PLAN {told.captured_queries[0]['sql'].replace('%', '%%')}"
            )
            plan = " ".join(row[3] for row in cursor.fetchall())
        self.assertIn("USING INDEX read_of_nobody (reason=? AND at>?)", plan)

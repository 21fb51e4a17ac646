"""What is taken away is sent before everything that waits, and what is late is told."""

from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.test import TestCase

from cadrin.access.plan import holders
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.delivery.beats import LATE_AFTER, WORKER, beat, worker_stopped_at
from cadrin.delivery.controllers import controllers
from cadrin.delivery.models import Record
from cadrin.delivery.queries import delivery_of, not_held_counts, records_not_held
from cadrin.delivery.wanted import take_marks
from cadrin.desk.queries import desk
from cadrin.outbox.models import Mark
from cadrin.register.filters import Filters
from cadrin.register.listing import page
from tests.house import ANYBODY, NOON, House
from tests.test_border import WithALine


class Withdrawals(WithALine):
    def setUp(self) -> None:
        super().setUp()
        self.leaver = self.house.enrol(self.house.draft("S-9"))
        self.house.mark_everything()
        self.rounds()

    def enrol_others(self, count: int) -> None:
        """Let records of many others wait, as after an intake."""
        for place in range(count):
            Record.objects.create(
                controller=self.house.north, kind=RecordKind.CARDHOLDER, subject_id=10_000 + place,
                wanted="0" * 32, state=RecordState.WAITING, changed_at=NOON,
            )  # fmt: skip

    def first_sent(self) -> list[int]:
        """Take marks once, and return whom the next message is about."""
        take_marks(NOON)
        return [row.subject_id for row in self.line._next.rows(NOON)]

    def withdraw(self, **details: Any) -> None:
        draft = self.house.draft("S-9", **details)
        self.house.save(self.leaver, replace(draft, version=1))

    def test_go_before_everything_that_waits_marks_and_records(self) -> None:
        self.enrol_others(1200)
        Mark.objects.bulk_create(
            Mark(subject="cardholder", subject_id=20_000 + place) for place in range(1200)
        )

        self.withdraw(standing=Standing.DEPARTED)

        self.assertEqual(self.first_sent(), [self.leaver])

    def test_that_leave_a_record_behind_go_first_too(self) -> None:
        self.enrol_others(600)

        self.withdraw(standing=Standing.SUSPENDED)

        self.assertEqual(self.first_sent(), [self.leaver])

    def test_are_told_from_what_takes_nothing_away(self) -> None:
        self.withdraw(title="Diver", last_name="Revell")
        take_marks(NOON)

        row = Record.objects.get(controller=self.house.north, kind=RecordKind.CARDHOLDER)
        self.assertEqual((row.state, row.is_withdrawal), (RecordState.WAITING, False))

    def test_that_a_silent_controller_does_not_know_of_are_told_everywhere(self) -> None:
        self.standins.switch(self.north, is_on=False)

        self.withdraw(standing=Standing.SUSPENDED)
        before = delivery_of(ANYBODY, self.leaver, NOON)["records"]
        self.rounds(2)

        (there,) = [
            row
            for row in delivery_of(ANYBODY, self.leaver, NOON)["records"]
            if row["controller_id"] == self.north
        ]
        self.assertTrue(there["still_works"] and before[0]["still_works"])
        (shown,) = [one for one in controllers(ANYBODY, NOON) if one["id"] == self.north]
        self.assertEqual(shown["still_works"], 1)
        self.assertTrue(records_not_held(ANYBODY, self.north)[0]["still_works"])

        self.standins.switch(self.north, is_on=True)
        self.rounds()
        self.assertFalse(
            any(row["still_works"] for row in delivery_of(ANYBODY, self.leaver, NOON)["records"])
        )


class ADeadWorker(TestCase):
    def test_does_not_look_like_a_quiet_one(self) -> None:
        house = House()
        id_ = house.enrol()  # marked, and so it stays: no record is ever written, or sent

        told = desk(ANYBODY, NOON)

        self.assertEqual(told.worker_stopped_at, NOON)
        self.assertEqual(
            {row["id"] for row in told.deliveries.rows},
            {house.north.pk, house.south.pk, house.desk.pk},
        )
        self.assertEqual(not_held_counts(holders([id_])), {id_: 1})
        self.assertEqual([row["gaps"] for row in told.not_ready.rows], [["not_held"]])
        self.assertEqual(page(ANYBODY, Filters(is_not_ready=True), NOON).total, 1)
        self.assertIsNotNone(delivery_of(ANYBODY, id_, NOON)["worker_stopped_at"])

    def test_is_late_after_some_seconds_and_not_before(self) -> None:
        beat(WORKER, NOON)

        self.assertIsNone(worker_stopped_at(NOON + LATE_AFTER))
        self.assertEqual(worker_stopped_at(NOON + LATE_AFTER + timedelta(seconds=1)), NOON)

"""What the worker does for lists, a step at a time: none holds up another, and all of it ends."""

from contextlib import suppress
from datetime import timedelta
from unittest.mock import patch

from django.db import OperationalError
from django.test import TestCase

from cadrin.core.errors import Invalid
from cadrin.core.intake.dates import DateOrder
from cadrin.intake.commands.deciding import apply_intake, forget_intakes, get_intake, undo_intake
from cadrin.intake.models import IntakeBlock, IntakePiece
from cadrin.intake.states import IntakeState
from cadrin.intake.tests.lists import List, a_list, work
from cadrin.intake.work import IntakeWork
from cadrin.people.models import Cardholder
from tests.house import DAY, NOON, House

LONG = 2_100  # more than are judged while somebody waits


def long_list(name: str) -> bytes:
    return a_list(*(f"{name}-{n};Falk{n};Ola;;;" for n in range(LONG)))


class Steps(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def test_a_list_that_cannot_be_judged_is_told_so_and_holds_up_no_other(self) -> None:
        bad, good = List(self.actor, long_list("B")), List(self.actor, long_list("G"))
        with (
            patch("cadrin.intake.assessing.Consequences.note", side_effect=ZeroDivisionError),
            self.assertLogs("cadrin.intake", "ERROR"),
        ):
            IntakeWork().step(lambda: NOON, lambda: True)

        work()

        self.assertEqual(bad.kept.summary, {"failed": "intake.failed"})
        self.assertEqual(good.rows["new"], LONG)

    def test_a_list_that_could_not_be_judged_is_judged_again_after_a_decision(self) -> None:
        taken = List(self.actor, long_list("B"))
        with (
            patch("cadrin.intake.assessing.Consequences.note", side_effect=ZeroDivisionError),
            self.assertLogs("cadrin.intake", "ERROR"),
        ):
            work()

        taken.with_column(5, order=DateOrder.DAY_FIRST)
        work()

        self.assertEqual(taken.rows["new"], LONG)

    def test_a_fault_of_our_own_while_applying_puts_everything_back_and_says_so(self) -> None:
        taken = List(self.actor, long_list("B"))
        work()
        apply_intake(self.actor, taken.id, taken.kept.version, NOON)
        IntakeWork().step(lambda: NOON, lambda: True)
        self.assertTrue(Cardholder.objects.exists())
        with (
            patch("cadrin.intake.applying.kept_of", side_effect=ZeroDivisionError),
            self.assertLogs("cadrin.intake", "ERROR"),
        ):
            IntakeWork().step(lambda: NOON, lambda: True)

        work()

        self.assertFalse(Cardholder.objects.exists())
        self.assertEqual(taken.kept.state, IntakeState.OPEN)
        self.assertEqual(taken.kept.result["why"]["code"], "intake.failed")

    def test_a_busy_database_is_waited_for(self) -> None:
        taken = List(self.actor, a_list("B-1;Falk;Ola;;;"))
        apply_intake(self.actor, taken.id, taken.kept.version, NOON)
        with (
            patch("cadrin.intake.applying.kept_of", side_effect=OperationalError("locked")),
            suppress(OperationalError),
        ):
            IntakeWork().step(lambda: NOON, lambda: True)

        work()

        self.assertEqual(taken.kept.state, IntakeState.APPLIED)

    def test_pages_of_rows_follow_one_another_whatever_is_asked(self) -> None:
        rows = [f"P-{n};{'' if n % 7 == 0 else f'Falk{n}'};;;;" for n in range(500)]
        taken = List(self.actor, a_list(*rows))

        every, faulty = taken.every_row(), taken.every_row(state="faulty")

        self.assertEqual([row["row"] for row in every], list(range(2, 502)))
        self.assertEqual([row["row"] for row in faulty], list(range(2, 502, 7)))


class Forgotten(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.taken = List(self.actor, a_list("S-7;Norquay;Isla;;;"))

    def rows_kept(self) -> int:
        return IntakeBlock.objects.count() + IntakePiece.objects.count()

    def test_the_file_and_the_rows_after_thirty_days_and_then_nothing_is_undone(self) -> None:
        self.taken.apply()
        forget_intakes(NOON + 30 * DAY)
        self.assertTrue(self.rows_kept())

        forget_intakes(NOON + 30 * DAY + timedelta(minutes=1))

        self.assertFalse(self.rows_kept())
        self.assertEqual(Cardholder.objects.get().number, "S-7")
        with self.assertRaises(Invalid) as refused:
            undo_intake(self.actor, self.taken.id, NOON + 31 * DAY)
        self.assertEqual(refused.exception.code, "intake.forgotten")

    def test_a_list_that_lies_untouched_is_discarded(self) -> None:
        forget_intakes(NOON + 31 * DAY)

        kept = get_intake(self.actor, self.taken.id)
        self.assertEqual((kept.state, self.rows_kept()), (IntakeState.DISCARDED, 0))

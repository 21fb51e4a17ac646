"""The worker is killed while it writes a list: the list is in whole, or it is not there."""

import time
from random import Random

from django.test import TransactionTestCase

from cadrin.intake.commands.deciding import apply_intake, undo_intake
from cadrin.intake.states import IntakeState
from cadrin.intake.tests.lists import List, a_list
from cadrin.people.models import Cardholder
from tests.faults.test_killed import LONG_SECONDS, Process
from tests.house import NOON, House
from tests.running import database_of_tests, until

ROWS = 1_500  # judged at once, and written in more than ten steps


class KilledAmidAList(TransactionTestCase):
    def setUp(self) -> None:
        self.random = Random(14)
        self.house = House()
        nobody = "http://127.0.0.1:9"  # no controller answers
        self.worker = Process(
            "manage.py", "work", CADRIN_DATABASE=database_of_tests(), CADRIN_STANDINS=nobody
        )
        self.addCleanup(self.worker.kill)

    def kill_amid(self, taken: List, done: int) -> None:
        """Kill the worker when it has come so far, at a moment of its own, and start it again."""
        until(lambda: taken.kept.done != done, "a step is done", LONG_SECONDS)
        time.sleep(self.random.random() * 0.3)
        self.worker.kill()
        self.worker.start()

    def test_it_is_finished_and_undone_whole(self) -> None:
        rows = (f"K-{n};Falk{n};Ola;;;" for n in range(ROWS))
        taken = List(self.house.actor, a_list(*rows))
        apply_intake(taken.actor, taken.id, taken.kept.version, NOON)
        for _ in range(2):
            self.kill_amid(taken, taken.kept.done)
        until(
            lambda: taken.kept.state == IntakeState.APPLIED, lambda: taken.kept.state, LONG_SECONDS
        )
        self.assertEqual(Cardholder.objects.count(), ROWS)

        undo_intake(taken.actor, taken.id, NOON)
        self.kill_amid(taken, taken.kept.done)

        until(
            lambda: taken.kept.state == IntakeState.UNDONE, lambda: taken.kept.state, LONG_SECONDS
        )
        self.assertEqual(Cardholder.objects.count(), 0)

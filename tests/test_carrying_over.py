"""What was kept in a file comes whole to another database."""

import os
import sqlite3
import subprocess
import sys
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from django.apps import apps
from django.conf import settings
from django.test import TransactionTestCase

from cadrin.accounts.management.commands.carry_over import NOT_CARRIED
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.checking import check_journal
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from tests.house import ANYBODY, NOON, House
from tests.running import database_of_tests

MAKING = "from tests.house import House; House().enrol_many(3)"


class FromAFile(TransactionTestCase):
    var: str
    file: Path

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.var, cls.file = folder.name, Path(folder.name, "old.sqlite3")
        for words in (("prepare",), ("shell", "-c", MAKING)):
            cls.manage(str(cls.file), *words).check_returncode()

    @classmethod
    def manage(cls, database: str, *words: str) -> "subprocess.CompletedProcess[str]":
        return subprocess.run(
            [sys.executable, "manage.py", *words],
            cwd=settings.ROOT,
            env=os.environ | {"CADRIN_VAR": cls.var, "CADRIN_DATABASE": database},
            capture_output=True,
            text=True,
        )

    def test_everything_comes_and_work_goes_on(self) -> None:
        carried = self.manage(database_of_tests(), "carry_over", str(self.file))

        self.assertEqual(carried.returncode, 0, carried.stderr)
        old = sqlite3.connect(self.file)
        self.addCleanup(old.close)
        for model in apps.get_models(include_auto_created=True):
            if model._meta.app_label not in NOT_CARRIED:
                (count,) = old.execute(f"SELECT COUNT(*) FROM {model._meta.db_table}").fetchone()
                self.assertEqual(model._base_manager.count(), count, model._meta.db_table)
        self.assertIsNone(check_journal().broken)  # every word of it, and every instant
        people = list(Cardholder.objects.order_by("id"))
        self.assertEqual(len(people), 3)
        stored = stored_cardholder(people[0], rules())
        self.assertTrue(stored.cards and stored.memberships)
        # ids go on where they were
        newcomer = replace(stored, details=replace(stored.details, number="N-1"), cards=())
        made = save_cardholder(ANYBODY, None, newcomer, NOON)
        self.assertGreater(made, people[-1].pk)

    def test_a_house_with_people_is_left_alone(self) -> None:
        id_ = House().enrol()

        refused = self.manage(database_of_tests(), "carry_over", str(self.file))

        self.assertIn("left alone", refused.stderr)
        self.assertEqual(list(Cardholder.objects.values_list("id", flat=True)), [id_])

    def test_a_file_that_is_not_there_is_told(self) -> None:
        refused = self.manage(database_of_tests(), "carry_over", f"{self.var}/nothing.sqlite3")

        self.assertIn("is not there", refused.stderr)

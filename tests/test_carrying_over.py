"""What was kept in a file comes whole to another database."""

import os
import subprocess
import sys
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connections
from django.test import TransactionTestCase

from cadrin.access.models import AccessGroup, Membership
from cadrin.accounts.management.commands.carry_over import FILE, _open
from cadrin.credentials.models import Card
from cadrin.journal.checking import check_journal
from cadrin.journal.models import Entry
from cadrin.people.models import Cardholder
from cadrin.sites.models import Reader
from tests.house import House

MODELS = (Cardholder, Card, Membership, AccessGroup, Reader, Entry)


class FromAFile(TransactionTestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name, "cadrin.sqlite3")
        known = {name: value for name, value in os.environ.items() if name != "CADRIN_DATABASE"}
        for command in ("prepare", "load_demo"):
            subprocess.run(
                [sys.executable, "manage.py", command],
                cwd=settings.ROOT,
                env=known | {"CADRIN_VAR": folder.name},
                check=True,
                capture_output=True,
            )

    def carry_over(self) -> None:
        call_command("carry_over", self.file, stdout=StringIO())

    def test_everything_comes_and_work_goes_on(self) -> None:
        self.carry_over()

        _open(self.file)
        self.addCleanup(connections[FILE].close)
        for model in MODELS:
            there = list(model._base_manager.using(FILE).order_by("pk").values())
            self.assertEqual(list(model._base_manager.order_by("pk").values()), there)
            self.assertTrue(there)
        self.assertIsNone(check_journal().broken)
        House().enrol_many(2)  # ids go on where they were

    def test_a_house_with_people_is_left_alone(self) -> None:
        id_ = House().enrol()

        with self.assertRaisesMessage(CommandError, "left alone"):
            self.carry_over()

        self.assertEqual(list(Cardholder.objects.values_list("id", flat=True)), [id_])

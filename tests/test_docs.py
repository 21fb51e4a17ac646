"""What the documentation shows to be run is run, as it stands there."""

import os
import re
import subprocess
import sys
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings
from django.test import LiveServerTestCase
from django.utils import timezone

from cadrin.accounts.commands.tokens import TokenDraft, make_token
from cadrin.activity.models import Read
from cadrin.operators.models import Role
from cadrin.people.models import Cardholder
from tests.house import ANYBODY, House
from tests.running import PATIENCE_SECONDS

LONGEST_LINES = 26


class TheApisScripts(LiveServerTestCase):
    def setUp(self) -> None:
        self.house = House()
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.mark = Path(folder.name, "mark")
        role = Role.objects.get(name="Role of mara")
        now = timezone.now()
        self.key = make_token(ANYBODY, TokenDraft("Script", role.pk, now + timedelta(1)), now)
        text = Path(settings.ROOT, "docs", "api.md").read_text()
        self.scripts = re.findall(r"```python\n(.*?)```", text, re.DOTALL)

    def run_script(self, script: str) -> str:
        self.assertLessEqual(len(script.splitlines()), LONGEST_LINES)
        done = subprocess.run(
            [sys.executable, "-c", script],
            env={
                **os.environ,
                "CADRIN_URL": self.live_server_url,
                "CADRIN_TOKEN": self.key,
                "GROUP": "Day",
                "MARK_FILE": str(self.mark),
            },
            capture_output=True,
            text=True,
            timeout=PATIENCE_SECONDS,
        )
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        return done.stdout

    def test_enrol_once_suspend_and_read_on_from_the_mark(self) -> None:
        enrol, suspend, read_since = self.scripts

        first, again = self.run_script(enrol), self.run_script(enrol)
        self.assertEqual((first, again), ("enrolled as S-00001\n",) * 2)
        person = Cardholder.objects.get()
        self.assertEqual((person.cards.count(), person.memberships.count()), (1, 1))

        self.assertEqual(self.run_script(suspend), "Mara Lindqvist is suspended\n")
        person.refresh_from_db()
        self.assertEqual((person.standing, person.cards.count()), ("suspended", 1))

        self.read(1)
        self.read(2)
        self.assertEqual(len(self.run_script(read_since).splitlines()), 2)
        self.read(3)
        told = self.run_script(read_since)
        self.assertEqual(told.split()[1:], [str(self.house.slip.pk), str(person.pk), "granted"])
        self.assertEqual(self.run_script(read_since), "")

    def read(self, number: int) -> None:
        Read.objects.create(
            at=timezone.now(), controller=self.house.south, store="s", event_number=number,
            reader=self.house.slip_reader, door=self.house.slip, raw="26:0", reason="granted",
            cardholder=Cardholder.objects.get(), cardholder_name="Mara Lindqvist",
        )  # fmt: skip

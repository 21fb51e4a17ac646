"""Keys and files of an installation: made once, whole, for nobody else's eyes, and never in place
of a lost one.
"""

import os
import stat
import subprocess
import sys
import threading
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

from cryptography.fernet import Fernet
from django.conf import settings
from django.test import SimpleTestCase, TestCase, override_settings

from cadrin.accounts.sealed import problem_with_keys
from cadrin.config.keys import SEALING, SECRET, kept_key, make_key
from cadrin.config.runner import TEST_KEYS
from cadrin.core.records.keys import RecordKind
from cadrin.core.validity import Standing
from cadrin.credentials.models import CardSettings
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import take_marks
from cadrin.operators.sealing import seal
from cadrin.outbox.commands import move_plan_version
from tests.house import NOON, House
from tests.running import until


class Installation(SimpleTestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.var = Path(folder.name, "var")

    def manage(self, *arguments: str) -> "subprocess.CompletedProcess[str]":
        environment = {
            name: value
            for name, value in os.environ.items()
            if name not in (*TEST_KEYS, "CADRIN_DATABASE")
        }
        return subprocess.run(
            [sys.executable, "manage.py", *arguments],
            cwd=settings.ROOT,
            env={**environment, "CADRIN_VAR": str(self.var)},
            capture_output=True,
            text=True,
            timeout=300,
        )

    def test_is_readable_by_nobody_else_and_makes_its_keys_once(self) -> None:
        self.assertEqual(self.manage("prepare").returncode, 0)
        keys = [kept_key(self.var, name) for name in (SECRET, SEALING)]
        adding = "from cadrin.sites.models import Controller; Controller.objects.create(name='N', address='standin:1')"
        self.assertEqual(self.manage("shell", "-c", adding).returncode, 0)
        self.assertEqual(self.manage("prepare").returncode, 0)

        self.assertEqual([kept_key(self.var, name) for name in (SECRET, SEALING)], keys)
        self.assertTrue(all(keys))
        open_to_others = [
            path
            for path in [self.var, *self.var.rglob("*")]
            if stat.S_IMODE(path.stat().st_mode) & 0o077
        ]
        self.assertEqual(open_to_others, [])

        # the sealing key is lost: nobody makes another, and nothing starts
        (self.var / SEALING).rename(self.var / "put-away")
        for command in ("prepare", "work"):
            with self.subTest(command):
                done = self.manage(command)
                self.assertNotEqual(done.returncode, 0)
                self.assertIn("The sealing key is missing", done.stderr)
                self.assertNotIn("Traceback", done.stderr)
        self.assertFalse((self.var / SEALING).exists())

        # the wrong one is there
        (self.var / SEALING).write_text(Fernet.generate_key().decode())
        self.assertIn("another than the one", self.manage("work").stderr)

        # with the right one a worker works, and a second one is refused
        (self.var / "put-away").replace(self.var / SEALING)
        environment = {
            name: value
            for name, value in os.environ.items()
            if name not in (*TEST_KEYS, "CADRIN_DATABASE")
        }
        first = subprocess.Popen(
            [sys.executable, "manage.py", "work"],
            cwd=settings.ROOT,
            env={**environment, "CADRIN_VAR": str(self.var)},
        )
        try:
            until((self.var / "cadrin.sqlite3.worker").exists, "the first worker works", 120)
            done = self.manage("work")
        finally:
            first.terminate()
            first.wait(timeout=60)
        self.assertNotEqual(done.returncode, 0)
        self.assertIn("is at work on", done.stderr)
        self.assertNotIn("Traceback", done.stderr)

    def test_reading_its_settings_makes_nothing(self) -> None:
        self.manage("check")

        self.assertFalse(self.var.exists())

    def test_a_key_is_made_once_by_however_many_at_once(self) -> None:
        self.var.mkdir()
        start, made = threading.Barrier(8), []

        def make() -> None:
            start.wait(30)
            made.append(make_key(self.var, SEALING))

        threads = [threading.Thread(target=make) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(30)

        self.assertEqual(made.count(True), 1)
        self.assertEqual([file.name for file in self.var.iterdir()], [SEALING])
        Fernet(kept_key(self.var, SEALING))

    def test_a_key_that_could_not_be_written_whole_is_none(self) -> None:
        self.var.mkdir()

        with (
            patch("cadrin.config.keys.os.fsync", side_effect=OSError("full")),
            self.assertRaises(OSError),
        ):
            make_key(self.var, SECRET)

        self.assertEqual(list(self.var.iterdir()), [])


class Sealed(TestCase):
    def test_a_key_that_does_not_open_what_is_sealed_is_told(self) -> None:
        House()  # whose controllers have sealed keys

        self.assertEqual(problem_with_keys(), "")
        with override_settings(SEALING_KEYS=[Fernet.generate_key().decode()]):
            self.assertIn("another than the one", problem_with_keys())
        with override_settings(SEALING_KEYS=[]):
            self.assertIn("The sealing key is missing", problem_with_keys())
        with override_settings(HAS_SECRET_KEY=False):
            self.assertIn("key of sessions is missing", problem_with_keys())

    def test_one_secret_that_cannot_be_unsealed_does_not_keep_a_suspension_from_the_doors(
        self,
    ) -> None:
        house = House()
        id_ = house.enrol()
        while take_marks(NOON):
            pass
        before = Record.objects.get(controller=house.north, kind=RecordKind.CARDHOLDER).wanted
        with override_settings(SEALING_KEYS=[Fernet.generate_key().decode()]):
            CardSettings.objects.update_or_create(pk=1, defaults={"sealed_key": seal("ab" * 32)})
        move_plan_version()

        draft = house.draft(standing=Standing.SUSPENDED)
        house.save(id_, replace(draft, version=1))
        with self.assertLogs("cadrin.credentials", "ERROR"):
            house.mark_everything()
            while take_marks(NOON):
                pass

        row = Record.objects.get(controller=house.north, kind=RecordKind.CARDHOLDER)
        self.assertNotEqual(row.wanted, before)

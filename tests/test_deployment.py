"""Cadrin as docs/running.md says it is run in production."""

import json
import os
import re
import subprocess
import sys
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory

from cryptography.fernet import Fernet
from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings

from cadrin.core.errors import Invalid
from cadrin.operators.models import OneTimeSecret, Operator
from cadrin.operators.sealing import seal, unseal
from tests.house import an_operator


class Production(TestCase):
    def test_passes_the_frameworks_own_check_with_the_settings_of_the_manual(self) -> None:
        manual = Path(settings.ROOT, "docs/running.md").read_text()
        block = re.search(r"```production\n(.*?)```", manual, re.DOTALL)
        assert block is not None
        given = dict(line.split("=", 1) for line in block[1].split())
        with TemporaryDirectory() as folder:
            # nothing of the tests' own environment, which production has not
            environment = {"PATH": os.environ["PATH"], **given, "CADRIN_VAR": folder}
            subprocess.run(
                [sys.executable, "manage.py", "prepare"],
                cwd=settings.ROOT,
                env=environment,
                check=True,
            )
            asked = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
            found = subprocess.run(
                asked, cwd=settings.ROOT, env=environment, capture_output=True, text=True
            )

        told = found.stdout + found.stderr
        self.assertEqual(
            (found.returncode, told), (0, "System check identified no issues (2 silenced).\n")
        )

    def test_logs_one_object_a_line_where_that_is_wished(self) -> None:
        asked = "import logging; logging.getLogger('cadrin').error('Out of %s', 'paper')"
        with TemporaryDirectory() as folder:
            environment = {**os.environ, "CADRIN_LOG_FORMAT": "json", "CADRIN_VAR": folder}
            told = subprocess.run(
                [sys.executable, "manage.py", "shell", "-v", "0", "-c", asked],
                cwd=settings.ROOT,
                env=environment,
                capture_output=True,
                text=True,
            ).stderr

        line = json.loads(told)
        self.assertEqual(
            (line["levelname"], line["name"], line["message"]), ("ERROR", "cadrin", "Out of paper")
        )

    def test_begins_with_nobody_who_could_come_in(self) -> None:
        self.assertFalse(Operator.objects.exists())

    @override_settings(HTTPS=True)
    def test_never_has_the_passwords_of_the_demo(self) -> None:
        with self.assertRaises(CommandError):
            call_command("load_demo")

        self.assertFalse(Operator.objects.exists())


class Sealing(TestCase):
    def test_a_secret_is_read_with_its_key_alone_and_goes_on_with_a_newer_one(self) -> None:
        old, new = (Fernet.generate_key().decode() for _ in range(2))
        with override_settings(SEALING_KEYS=[old]):
            secret = OneTimeSecret.objects.create(
                operator=an_operator("mara"), sealed=seal("JBSWY3DPEHPK3PXP")
            )
        with override_settings(SEALING_KEYS=[new, old]):
            call_command("seal_anew", stdout=StringIO())
        secret.refresh_from_db()

        with override_settings(SEALING_KEYS=[new]):
            self.assertEqual(unseal(secret.sealed), "JBSWY3DPEHPK3PXP")
            with self.assertRaises(Invalid):
                unseal(secret.sealed[:-4] + "AAA=")
        with override_settings(SEALING_KEYS=[old]), self.assertRaises(Invalid):
            unseal(secret.sealed)

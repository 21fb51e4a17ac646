"""A database that an earlier version made is brought to where the present migrations begin."""

import gzip
import json
import shutil
import sqlite3
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

from cadrin.config.settings import ROOT

MADE_BEFORE = Path(__file__).parent / "data" / "before_the_rooms.sql.gz"
"""A small site as the version of 28 November 2026 left it, with something in every table that is
changed.
"""
KEY = MADE_BEFORE.with_name("before_the_rooms.key")
RENEWED = (
    "django_migrations", "outbox_mark", "credentials_plate", "worker_jobrun", "api_answer",
    "django_content_type", "auth_permission", "delivery_foundperson", "people_term",
)  # fmt: skip
"""Tables that an upgrade fills by itself, or that are made anew from others."""


def shape_of(database: Path) -> dict[str, Any]:
    """Return every table with its columns, references and indexes, whatever they are called."""
    file = sqlite3.connect(database)
    shape: dict[str, Any] = {}
    for (table,) in file.execute(
        "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
    ):
        columns = {
            row[1]: (row[2].upper(), row[3], row[5])
            for row in file.execute(f"PRAGMA table_info('{table}')")
        }
        references = {
            (row[3], row[2], row[4]) for row in file.execute(f"PRAGMA foreign_key_list('{table}')")
        }
        indexes = {
            (
                tuple(part[2] for part in file.execute(f"PRAGMA index_info('{row[1]}')")),
                row[2],
                row[4],
            )
            for row in file.execute(f"PRAGMA index_list('{table}')")
        }
        shape[table] = columns, references, indexes
    file.close()
    return shape


class Upgrading(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.old, self.new = Path(folder.name) / "old", Path(folder.name) / "new"
        for place in (self.old, self.new):
            place.mkdir()
        shutil.copy(KEY, self.old / "sealing.key")
        self.database = self.old / "cadrin.sqlite3"
        self.open().executescript(gzip.decompress(MADE_BEFORE.read_bytes()).decode())
        self.rows_before = self.counts()

    def open(self) -> sqlite3.Connection:
        file = sqlite3.connect(self.database)
        self.addCleanup(file.close)
        return file

    def counts(self) -> list[int]:
        """Return how many rows each table holds that holds any; a new table begins empty."""
        tables = self.values(
            "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
        )
        counts = (
            self.values(f"SELECT count(*) FROM '{table}'")[0]
            for table in tables
            if table not in RENEWED
        )
        return sorted(count for count in counts if count)

    def values(self, query: str) -> list[Any]:
        return [value for (value,) in self.open().execute(query)]

    def manage(self, folder: Path, *command: str) -> str:
        done = subprocess.run(
            [sys.executable, "manage.py", *command],
            cwd=ROOT,
            env={"PATH": "/usr/bin:/bin", "CADRIN_VAR": str(folder)},
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def test_leaves_the_tables_of_a_new_database_and_loses_nothing(self) -> None:
        self.manage(self.old, "prepare")
        self.manage(self.new, "prepare")

        self.assertEqual(shape_of(self.database), shape_of(self.new / "cadrin.sqlite3"))
        self.assertEqual(self.counts(), self.rows_before)
        self.assertIn("none broken", self.manage(self.old, "check_journal"))
        self.manage(self.old, "migrate", "--check")

    def test_says_what_was_there_in_the_present_words(self) -> None:
        self.manage(self.old, "prepare")
        self.manage(self.old, "prepare")  # a second time changes nothing

        policies = [
            json.loads(str(policy))
            for policy in self.values("SELECT policy FROM sites_reader ORDER BY id")
        ]
        self.assertEqual(policies, [[["card", "pin"]], [["card"], ["pin"]], [["card"]], [["card"]]])
        self.assertEqual(
            self.values("SELECT factors FROM activity_read ORDER BY id"), ["card,pin", "pin"]
        )
        self.assertEqual(
            self.values("SELECT reason FROM activity_read ORDER BY id"),
            ["pin_missing", "keypad_locked"],
        )
        (rule,) = (
            json.loads(str(rule))
            for rule in self.values("SELECT pin_rule FROM credentials_cardsettings")
        )
        self.assertEqual((rule["max_attempts"], rule["lockout_seconds"]), (4, 90))
        self.assertEqual(
            self.values("SELECT act FROM bulk_bulkchange ORDER BY id"), ["add_group", "undo"]
        )
        (draft,) = (
            json.loads(str(draft)) for draft in self.values("SELECT draft FROM enrolment_keptdraft")
        )
        self.assertEqual((draft["plates"], draft["pins"][0]["is_generated"]), ([], True))
        (filters,) = (
            json.loads(str(kept)) for kept in self.values("SELECT filters FROM register_savedlist")
        )
        self.assertEqual(filters["custom_value"], "4")
        self.assertEqual(
            self.values("SELECT subject FROM outbox_mark ORDER BY subject"),
            ["controller"] * 3 + ["group"],
        )

    def test_that_is_cut_off_leaves_everything_as_it_was(self) -> None:
        before = shape_of(self.database)
        self.open().execute("DROP INDEX batch_target_to_do")  # so that it fails in the middle
        with self.assertRaises(AssertionError):
            self.manage(self.old, "prepare")

        self.assertEqual(set(shape_of(self.database)), set(before))

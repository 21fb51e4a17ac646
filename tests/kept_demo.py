"""The demo as it is after loading, loaded once a day for each state of the code, and kept."""

import fcntl
import hashlib
import sqlite3
from datetime import date
from functools import cache
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone

from cadrin.demo.loading import load_demo

KEPT = settings.ROOT / "var" / "kept"


@cache
def kept_demo() -> Path:
    """Return the database file with the demo of today, for copying; whoever comes first makes it,
    in its own database.

    The name carries the sum of all code that the demo may lean on, migrations among it.
    """
    KEPT.mkdir(parents=True, exist_ok=True)
    file = KEPT / f"demo-{timezone.now():%F}-{_sum_of_the_code()}.sqlite3"
    with (KEPT / "demo.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not file.exists():
            for old in KEPT.glob("demo-*.sqlite3"):
                if f"{date.today():%F}" not in old.name:  # noqa: DTZ011 - only to tidy up
                    old.unlink()
            with connection.cursor() as cursor:
                # its things have the same ids whatever ran before
                cursor.execute("DELETE FROM sqlite_sequence")
            load_demo(timezone.now())
            made = file.with_suffix(".new")
            with (
                sqlite3.connect(connection.settings_dict["NAME"]) as one,
                sqlite3.connect(made) as other,
            ):
                one.backup(other)
            made.rename(file)
    return Path(file)


def _sum_of_the_code() -> str:
    found = hashlib.sha256()
    for path in sorted(Path(settings.ROOT, "cadrin").rglob("*")):
        if path.suffix in (".py", ".txt") and "tests" not in path.parts:
            found.update(path.read_bytes())
    return found.hexdigest()[:16]

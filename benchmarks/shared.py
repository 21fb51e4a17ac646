"""Operators saving at a PostgreSQL database that several server processes share, beside a file that one
has: ``scripts/test-postgres --benchmark`` starts the database.
"""

import json
import os
import subprocess
import sys
from statistics import median
from tempfile import TemporaryDirectory

from benchmarks.__main__ import PORT, ROOT, URL, running, server_command, wait_for
from benchmarks.measuring import SAVED_FOR_SECONDS, Table, milliseconds, percentile

PEOPLE, SERVERS, ROUNDS = 10_000, 4, 3
SETTINGS = {"DJANGO_SETTINGS_MODULE": "cadrin.config.settings"}


def in_a_process(code: str, database: str) -> str:
    """Run code on a database, whose settings a process reads once, and return what it printed."""
    told = subprocess.run(
        (sys.executable, "-c", f"import django; django.setup(); {code}"),
        cwd=ROOT,
        env=os.environ | SETTINGS | {"CADRIN_DATABASE": database},
        check=True,
        stdout=subprocess.PIPE,
        text=True,
    )
    return told.stdout


def make(database: str) -> None:
    environment = os.environ | {"CADRIN_DATABASE": database}
    subprocess.run((sys.executable, "manage.py", "prepare"), cwd=ROOT, env=environment, check=True)
    in_a_process(f"from benchmarks.shared import fill; fill({PEOPLE})", database)


def fill(people: int) -> None:
    """Make a world, and let ids go on after those that it wrote itself."""
    from django.apps import apps
    from django.core.management.color import no_style
    from django.db import connection

    from benchmarks.world import make_world

    make_world(people)
    with connection.cursor() as cursor:
        for statement in connection.ops.sequence_reset_sql(no_style(), list(apps.get_models())):
            cursor.execute(statement)


def saved(count: int) -> None:
    """Let so many operators save back to back, and print the seconds of each save, and of reads meanwhile."""
    from benchmarks.operators import come_in, saving

    print(json.dumps(saving([come_in(URL, f"operator-{place}") for place in range(count)])))


def measure(database: str, servers: int, count: int) -> tuple[list[float], list[float]]:
    command = server_command("cadrin.config.wsgi:application", PORT, 64, servers)
    with running(*command, CADRIN_DATABASE=database):
        wait_for(f"{URL}/api/session/")
        told = in_a_process(f"from benchmarks.shared import saved; saved({count})", database)
    saves, reads = json.loads(told)
    return saves, reads


def main() -> None:
    table = Table()
    with TemporaryDirectory() as folder:
        os.environ["CADRIN_VAR"] = folder
        places = {"a file, 1 server": (f"{folder}/cadrin.sqlite3", 1)}
        places |= {
            f"PostgreSQL, {servers} server{'s' * (servers > 1)}": (
                os.environ["CADRIN_DATABASE"],
                servers,
            )
            for servers in (1, SERVERS)
        }
        for database in {database for database, _ in places.values()}:
            make(database)
        rates: dict[tuple[str, int], list[float]] = {}
        for _ in range(ROUNDS):  # in turn
            for name, (database, servers) in places.items():
                for count in (1, 32):
                    saves, reads = measure(database, servers, count)
                    rates.setdefault((name, count), []).append(len(saves) / SAVED_FOR_SECONDS)
                    table.say(
                        f"{name}, {count} operators: a save, p50 and p99; reading meanwhile, p95",
                        ", ".join(
                            milliseconds(one)
                            for one in (
                                median(saves),
                                percentile(saves, 0.99),
                                percentile(reads, 0.95),
                            )
                        ),
                    )
        for (name, count), rate in rates.items():
            limit = median(rates["a file, 1 server", count])
            table.add(
                f"saves a second, {count} operators, {name}",
                f"{median(rate):.1f}",
                f"a file {limit:.1f}",
                median(rate) / limit,
                ">= 2" if count == 32 else "none set",
                f"{min(rate):.1f}-{max(rate):.1f}",
            )
    table.print()


if __name__ == "__main__":
    main()

"""Make the world once, run Cadrin on it as it is served, measure, and print the table.

``python -m benchmarks operators`` measures many operators at once, ``python -m benchmarks news``
two ways to tell pages of a read, ``python -m benchmarks saving`` many saved in one act,
``python -m benchmarks intake [ROWS]`` a list brought in, ``python -m benchmarks biometrics``
fingers and faces, ``python -m benchmarks fitting`` groups found by what they give, ``python -m benchmarks access`` who
can open what, ``python -m benchmarks withdrawal`` one who is suspended while everything waits, and
nothing else.
"""

import os
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VAR = ROOT / "var" / "benchmarks"
PORT, STANDINS_PORT = 8790, 8791


@contextmanager
def running(*arguments: str) -> Iterator[subprocess.Popen[bytes]]:
    process = subprocess.Popen(arguments, cwd=ROOT)
    try:
        yield process
    finally:
        process.terminate()
        process.wait()


@contextmanager
def served_world(
    threads: int,
) -> Iterator[tuple["subprocess.Popen[bytes]", "subprocess.Popen[bytes]"]]:
    """Serve the world as the demo is served; yield the processes of the stand-ins and of the
    server.
    """
    python = sys.executable
    with (
        running(
            python, "-m", "cadrin.standins", "--port", str(STANDINS_PORT),
            "--setup", str(VAR / "standins.json"), "--memory", str(VAR / "standins"),
        ) as standins,
        running(
            str(Path(python).with_name("granian")), "--interface", "wsgi", "--host", "127.0.0.1", "--port", str(PORT),
            "--workers", "1", "--blocking-threads", str(threads), "--backlog", "256", "--no-ws", "--log-level", "error",
            "cadrin.config.wsgi:application",
        ) as server,
    ):  # fmt: skip
        time.sleep(5)
        yield standins, server


def memory_of(process: subprocess.Popen[bytes]) -> str:
    """Return the resident memory of a process and those it started."""
    mine = [process.pid, *(int(p) for p in _children(process.pid))]
    kilobytes = 0
    for pid in mine:
        for line in Path(f"/proc/{pid}/status").read_text().splitlines():
            if line.startswith("VmRSS"):
                kilobytes += int(line.split()[1])
    return f"{kilobytes / 1024:.0f} MB"


def _children(pid: int) -> list[str]:
    return Path(f"/proc/{pid}/task/{pid}/children").read_text().split()


def main() -> None:
    if sys.argv[1:] in (["biometrics"], ["fitting"]):  # these need no world
        from benchmarks.biometrics import bench_biometrics
        from benchmarks.fitting import bench_fitting
        from benchmarks.measuring import Table as FirstTable

        alone = FirstTable()
        (bench_biometrics if sys.argv[1:] == ["biometrics"] else bench_fitting)(alone)
        alone.print()
        return
    VAR.mkdir(parents=True, exist_ok=True)
    database = VAR / "world-of-signed-controllers.sqlite3"
    for old in VAR.glob("run.sqlite3*"):
        old.unlink()
    os.environ |= {
        "CADRIN_VAR": str(VAR),
        "CADRIN_STANDINS": f"http://127.0.0.1:{STANDINS_PORT}",
        "DJANGO_SETTINGS_MODULE": "cadrin.config.settings",
        "CADRIN_DATABASE": str(VAR / "run.sqlite3"),
    }
    import django

    django.setup()
    import sqlite3

    from django.core.management import call_command
    from django.utils import timezone

    from benchmarks import (
        access,
        core,
        credentials,
        intake,
        news,
        operators,
        register,
        saving,
        served,
        withdrawal,
        world,
    )
    from benchmarks.measuring import Table
    from cadrin.access.plan import access_plan, holders
    from cadrin.config.memory import look_seldom
    from cadrin.people.models import Cardholder

    call_command("prepare")
    if not database.exists():
        print("making 100,000 cardholders, once", flush=True)
        world.make_world()
        with sqlite3.connect(VAR / "run.sqlite3") as made, sqlite3.connect(database) as kept:
            made.backup(kept)
    else:
        with sqlite3.connect(database) as kept, sqlite3.connect(VAR / "run.sqlite3") as target:
            kept.backup(target)
        call_command("prepare")  # it may have been made before the latest migration
    world.write_setup(VAR / "standins.json")
    for old in (VAR / "standins").glob("*"):
        old.unlink()

    table, now = Table(), timezone.now()
    look_seldom()  # as the server does
    only = sys.argv[1:]
    url = f"http://127.0.0.1:{PORT}"
    if only == ["saving"]:
        saving.bench_saving(table, now)
        table.print()
        return
    if only[:1] == ["intake"]:
        intake.bench_intake(table, now, *map(int, only[1:]))
        table.print()
        return
    if only == ["access"]:
        people = list(holders(Cardholder.objects.values_list("id", flat=True)).values())
        access.bench_access(table, people, os.environ["CADRIN_DATABASE"], now)
        table.print()
        return
    if only == ["withdrawal"]:
        with served_world(threads=8), running(sys.executable, "manage.py", "work"):
            withdrawal.bench_withdrawal(table)
        table.print()
        return
    if only:
        with served_world(threads=64) as (_, server):
            if "operators" in only:
                operators.bench_operators(table, url)
                operators.bench_news(table, url)
            if "news" in only:
                news.bench_ways(table, server, url, running)
        table.print()
        return
    everybody = holders(Cardholder.objects.values_list("id", flat=True))
    core.bench_core(table, everybody, access_plan(), os.environ["CADRIN_DATABASE"], now)
    del everybody
    saving.bench_saving(table, now)
    intake.bench_intake(table, now)
    credentials.bench_credentials(table, os.environ["CADRIN_DATABASE"], now)

    standins_url = os.environ["CADRIN_STANDINS"]
    with served_world(threads=8) as (standins, server):
        client = served.signed_in(url)
        table.say("memory of the server, idle", memory_of(server))
        served.bench_requests(table, client, os.environ["CADRIN_DATABASE"])
        register.bench_lists(table, client, os.environ["CADRIN_DATABASE"])
        register.bench_export(table, client, os.environ["CADRIN_DATABASE"])
        table.say("memory of the server, after the exports", memory_of(server))
        began = time.monotonic()
        world.mark_everything()
        with running(sys.executable, "manage.py", "work") as worker:
            served.wait_until_held()
            table.say(
                "bringing everything to 10 empty controllers", f"{time.monotonic() - began:.0f} s"
            )
            register.bench_batch(table, client, os.environ["CADRIN_DATABASE"])
            served.bench_delivery(table, client, standins_url)
            table.say("memory of the worker, after all this", memory_of(worker))
        table.say("memory of the server, after all this", memory_of(server))
        table.say("memory of the stand-ins, holding it all", memory_of(standins))
    with served_world(threads=64) as (_, server):
        operators.bench_operators(table, url)
        operators.bench_news(table, url)
        news.bench_ways(table, server, url, running)
    print()
    table.print()


if __name__ == "__main__":
    main()

"""Make the worlds once, run Cadrin on them as it is served, measure, and print the table.

``python -m benchmarks`` runs the parts that `WHOLE` names within a quarter of an hour and writes their
table into docs/measured.md; ``python -m benchmarks PART...`` runs these parts and only prints, among
them some that take longer: ``intake`` (of ``CADRIN_BENCH_ROWS``), ``withdrawal``, ``news``, ``biometrics`` (of
``CADRIN_BENCH_PEOPLE``) and ``fitting``.
"""

import hashlib
import os
import platform
import signal
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from benchmarks.measuring import Table

ROOT = Path(__file__).resolve().parent.parent
VAR = ROOT / "var" / "benchmarks"
RUN = VAR / "run.sqlite3"
MEASURED = ROOT / "docs" / "measured.md"
BEGINS, ENDS = "<!-- the table of the last whole run -->", "<!-- ends -->"
PORT, STANDINS_PORT, BARE_PORT = 8790, 8791, 8792
URL = f"http://127.0.0.1:{PORT}"
MIDDLE, LARGE = 10_000, 100_000
LAST_BEGUN_AFTER_SECONDS = 13 * 60
"""A part of the whole run that would begin later is left out, and that is said."""


@contextmanager
def running(*arguments: str, **environment: str) -> Iterator[subprocess.Popen[bytes]]:
    process = subprocess.Popen(arguments, cwd=ROOT, env=os.environ | environment)
    try:
        yield process
    finally:
        process.terminate()
        process.wait()


def server_command(application: str, port: int, threads: int, servers: int = 1) -> tuple[str, ...]:
    return (
        str(Path(sys.executable).with_name("granian")), "--interface", "wsgi", "--host", "127.0.0.1",
        "--port", str(port), "--workers", str(servers), "--blocking-threads", str(threads), "--backlog", "256",
        "--no-ws", "--log-level", "error", application,
    )  # fmt: skip


@contextmanager
def served_world(
    threads: int, database: Path = RUN
) -> Iterator[tuple["subprocess.Popen[bytes]", "subprocess.Popen[bytes]"]]:
    """Serve a world as the demo is served; yield the processes of the stand-ins and of the server."""
    with (
        running(
            sys.executable, "-m", "cadrin.standins", "--port", str(STANDINS_PORT),
            "--setup", str(VAR / "standins.json"), "--memory", str(VAR / "standins"),
        ) as standins,
        running(
            *server_command("cadrin.config.wsgi:application", PORT, threads), CADRIN_DATABASE=str(database)
        ) as server,
    ):  # fmt: skip
        wait_for(f"{URL}/api/session/")
        yield standins, server


@contextmanager
def bare_framework() -> Iterator[str]:
    url = f"http://127.0.0.1:{BARE_PORT}"
    with running(*server_command("benchmarks.bare:application", BARE_PORT, 8)):
        wait_for(f"{url}/")
        yield url


def wait_for(url: str) -> None:
    import httpx

    for _ in range(600):
        try:
            httpx.get(url, trust_env=False)
            return
        except httpx.TransportError:
            time.sleep(0.1)
    raise TimeoutError(url)


def memory_of(process: subprocess.Popen[bytes]) -> str:
    """Return the private memory (PSS) of a process and those it started: what they map together is
    counted once.
    """
    kilobytes = 0
    for pid in _with_children(process.pid):
        for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
            if line.startswith("Pss_Anon:"):
                kilobytes += int(line.split()[1])
    return f"{kilobytes / 1024:.0f} MB"


def cpu_seconds_of(process: subprocess.Popen[bytes]) -> float:
    """Return the seconds of a core that a process and those it started have had."""
    ticks = 0
    for pid in _with_children(process.pid):
        told = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        ticks += int(told[11]) + int(told[12])
    return ticks / os.sysconf("SC_CLK_TCK")


def _with_children(pid: int) -> list[int]:
    children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    return [pid, *(one for child in children for one in _with_children(int(child)))]


def world_of(people: int) -> Path:
    """Return a database with the world of so many people, made once for each state of its code."""
    made_by = hashlib.sha256(Path(__file__).with_name("world.py").read_bytes()).hexdigest()[:8]
    kept = VAR / f"world-{people}-{made_by}.sqlite3"
    if not kept.exists():
        for old in VAR.glob(f"world-{people}-*"):
            old.unlink()
        print(f"making {people:,} cardholders, once", flush=True)
        being_made = kept.with_suffix(".new")
        being_made.unlink(missing_ok=True)
        code = f"import django; django.setup(); from benchmarks.world import make_world; make_world({people})"
        environment = os.environ | {"CADRIN_DATABASE": str(being_made)}
        for command in (("manage.py", "prepare"), ("-c", code)):
            subprocess.run((sys.executable, *command), cwd=ROOT, env=environment, check=True)
        being_made.rename(kept)
    return kept


def begin_anew(people: int, database: Path = RUN) -> Path:
    """Copy a world to where it may be changed."""
    for old in database.parent.glob(f"{database.name}*"):
        old.unlink()
    with sqlite3.connect(world_of(people)) as kept, sqlite3.connect(database) as target:
        kept.backup(target)
    # it may have been made before the latest migration
    environment = os.environ | {"CADRIN_DATABASE": str(database)}
    subprocess.run((sys.executable, "manage.py", "prepare"), cwd=ROOT, env=environment, check=True)
    return database


# -- the parts --------------------------------------------------------------------------------


def growth(table: "Table") -> None:
    _growth(table, (1_000, MIDDLE, LARGE))


def million(table: "Table") -> None:
    """The same at a size that nobody has."""
    _growth(table, (1_000, LARGE, 1_000_000))


def _growth(table: "Table", sizes: Sequence[int]) -> None:
    from benchmarks.growth import bench_growth
    from benchmarks.held import hold_everything

    @contextmanager
    def served(people: int) -> Iterator[str]:
        with served_world(8, hold_everything(begin_anew(people, VAR / "growth.sqlite3"))):
            yield URL

    bench_growth(table, served, bare_framework, sizes)


def core(table: "Table") -> None:
    from benchmarks.core import bench_core
    from cadrin.access.plan import access_plan, holders
    from cadrin.people.models import Cardholder

    everybody = holders(Cardholder.objects.values_list("id", flat=True))
    bench_core(table, everybody, access_plan(), str(RUN), datetime.now(UTC))


def access(table: "Table") -> None:
    from benchmarks.access import bench_access
    from cadrin.access.plan import holders
    from cadrin.people.models import Cardholder

    people = list(holders(Cardholder.objects.values_list("id", flat=True)).values())
    bench_access(table, people, str(RUN), datetime.now(UTC))


def saving(table: "Table") -> None:
    from benchmarks.saving import bench_saving

    bench_saving(table, datetime.now(UTC))


def credentials(table: "Table") -> None:
    from benchmarks.credentials import bench_credentials

    bench_credentials(table, str(RUN), datetime.now(UTC))


def reads(table: "Table") -> None:
    from benchmarks.reads import bench_reads

    bench_reads(table, datetime.now(UTC))


def ten_million(table: "Table") -> None:
    """The latest of so many reads as a large site has of two years."""
    from benchmarks.reads import bench_reads

    bench_reads(table, datetime.now(UTC), 10_000_000)


def lists(table: "Table") -> None:
    from benchmarks import register, served
    from benchmarks.held import hold_everything

    hold_everything(RUN)
    with served_world(threads=8) as (_, server):
        client = served.signed_in(URL)
        table.say("memory of the server, idle", memory_of(server))
        served.bench_requests(table, client, str(RUN))
        register.bench_lists(table, client, str(RUN))


def export(table: "Table") -> None:
    from benchmarks import register, served

    with served_world(threads=8) as (_, server):
        register.bench_export(table, served.signed_in(URL), str(RUN))
        table.say("memory of the server, after the exports", memory_of(server))


def operators(table: "Table") -> None:
    from benchmarks.operators import bench_news, bench_operators

    with served_world(threads=64) as (_, server):
        bench_operators(table, URL)
        bench_news(table, URL, lambda: cpu_seconds_of(server))


def empty_standins() -> None:
    """Let the stand-ins be those of the world at hand, and know nobody."""
    from benchmarks.world import write_setup

    write_setup(VAR / "standins.json")
    for old in (VAR / "standins").glob("*"):
        old.unlink()


def delivery(table: "Table") -> None:
    """Fill empty controllers, and change what they hold: in a house of a tenth, as it takes so long."""
    from django.db import connections

    from benchmarks import register, served, world

    connections.close_all()
    begin_anew(MIDDLE)
    empty_standins()
    with served_world(threads=8) as (standins, server):
        client = served.signed_in(URL)
        began = time.monotonic()
        world.mark_everything()
        with running(sys.executable, "manage.py", "work") as worker:
            served.wait_until_held()
            took = f"{time.monotonic() - began:.0f} s"
            table.say(f"bringing {MIDDLE:,} cardholders to 10 empty controllers", took)
            register.bench_batch(table, client, str(RUN))
            served.bench_delivery(table, client, os.environ["CADRIN_STANDINS"])
            table.say("memory of the worker, after all this", memory_of(worker))
        table.say("memory of the server, after all this", memory_of(server))
        table.say("memory of the stand-ins, holding it all", memory_of(standins))


def intake(table: "Table") -> None:
    from benchmarks.intake import ROWS, bench_intake

    rows = int(os.environ.get("CADRIN_BENCH_ROWS", ROWS))
    bench_intake(table, datetime.now(UTC), rows)


def withdrawal(table: "Table") -> None:
    from benchmarks.withdrawal import bench_withdrawal

    empty_standins()
    with served_world(threads=8), running(sys.executable, "manage.py", "work"):
        bench_withdrawal(table)


def news(table: "Table") -> None:
    from benchmarks.news import bench_ways

    with served_world(threads=64) as (_, server):
        bench_ways(table, server, URL, running)


def biometrics(table: "Table") -> None:
    from benchmarks.biometrics import bench_biometrics

    bench_biometrics(table)


def fitting(table: "Table") -> None:
    from benchmarks.fitting import bench_fitting

    bench_fitting(table)


WHOLE: tuple[Callable[["Table"], None], ...] = (
    growth, core, access, saving, credentials, reads, lists, export, operators, delivery,
)  # fmt: skip
APART = (intake, withdrawal, news, biometrics, fitting, million, ten_million)


def prepared() -> None:
    """Set up Django on the large world, with stand-ins of its controllers."""
    VAR.mkdir(parents=True, exist_ok=True)
    os.environ |= {
        "CADRIN_VAR": str(VAR),
        "CADRIN_STANDINS": f"http://127.0.0.1:{STANDINS_PORT}",
        "DJANGO_SETTINGS_MODULE": "cadrin.config.settings",
        "CADRIN_DATABASE": str(RUN),
    }
    begin_anew(LARGE)  # with the keys that the settings read
    import django

    django.setup()
    from cadrin.config.memory import look_seldom

    empty_standins()
    look_seldom()  # as the server does


def write(lines: list[str], seconds: float) -> None:
    """Put the table into docs/measured.md, with what it was measured on."""
    load = os.getloadavg()[2]
    about = (
        f"Written by `make benchmarks` on {datetime.now(UTC):%-d %B %Y}, in {seconds / 60:.0f} minutes: "
        f"{os.cpu_count()} cores, Python {platform.python_version()}, SQLite {sqlite3.sqlite_version}, "
        f"load of the machine {load:.1f} over the last quarter of an hour."
    )
    text = MEASURED.read_text()
    before, _, rest = text.partition(BEGINS)
    _, _, after = rest.partition(ENDS)
    table = "\n".join(lines)
    MEASURED.write_text(f"{before}{BEGINS}\n\n{about}\n\n```\n{table}\n```\n\n{ENDS}{after}")


def main() -> None:
    known = {part.__name__: part for part in (*WHOLE, *APART)}
    asked = sys.argv[1:]
    if unknown := set(asked) - known.keys():
        sys.exit(f"No such part: {', '.join(sorted(unknown))}. There are {', '.join(known)}.")
    began = time.monotonic()
    # whoever ends it ends what it started too
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(143))
    if not asked or set(asked) - {"biometrics", "fitting"}:  # these need no world
        prepared()
    from benchmarks.measuring import Table

    table = Table()
    for part in [known[name] for name in asked] or WHOLE:
        if not asked and time.monotonic() - began > LAST_BEGUN_AFTER_SECONDS:
            table.say(f"{part.__name__}: left out, there was no time left", "")
            continue
        began_part = time.monotonic()
        part(table)
        print(f"{part.__name__}: {time.monotonic() - began_part:.0f} s", flush=True)
    print()
    table.print()
    if not asked:
        write(table.lines(), time.monotonic() - began)


if __name__ == "__main__":
    main()

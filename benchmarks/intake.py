"""A list of many brought in, the whole path, beside reading it with csv and inserting the very rows that
were written by hand.
"""

import csv
import io
import os
import resource
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Any

import openpyxl
from django.conf import settings
from django.db import connection
from python_calamine import CalamineWorkbook

from benchmarks.measuring import Table, seconds
from benchmarks.saving import WRITTEN, Rows, _last_id, _rows_after
from cadrin.access.models import AccessGroup
from cadrin.config.database.asking import database
from cadrin.core.intake.reading import read_table
from cadrin.core.intake.table import ReadingChoices
from cadrin.credentials.models import CardFormat
from cadrin.intake.commands.deciding import apply_intake, save_choices, undo_intake
from cadrin.intake.commands.taking import take_file
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.knowing import what_is_known
from cadrin.intake.models import Intake
from cadrin.intake.understanding import Understanding
from cadrin.intake.work import IntakeWork
from cadrin.operators.actor import system_actor
from cadrin.people.models import Company, Department, Kind
from cadrin.worker.worker import THE_LOG_IS_EMPTIED_EVERY_SECONDS

ROWS, WORKBOOK_ROWS = 100_000, 20_000
HEADINGS = (
    "Number",
    "Last name",
    "First name",
    "E-mail",
    "Department",
    "Company",
    "Kind",
    "Start",
    "Card",
    "Groups",
)
FACILITY_CODE, FIRST_CARD = 211, 1


def bench_intake(table: Table, now: datetime, rows: int = ROWS) -> None:
    """Bring in so many newcomers with a card and two memberships each, and take them back."""
    data = _list(rows)
    actor = system_actor("Benchmark")
    before = {name: _last_id(name) for name in WRITTEN}
    limit_database = _copy()
    idle = _memory_megabytes()

    made: list[int] = []
    took = seconds(lambda: made.append(take_file(actor, "benchmark.csv", data, now)))
    intake_id = made[0]
    intake = Intake.objects.get(pk=intake_id)
    choices = choices_of(intake.choices)
    format_id = CardFormat.objects.values_list("id", flat=True).first()
    choices = replace(choices, defaults=replace(choices.defaults, format_id=format_id))
    save_choices(actor, intake_id, intake.version, choices, now)
    judged = seconds(lambda: _drain(now))
    intake.refresh_from_db()
    if intake.summary["faults"]:
        raise SystemExit(f"the list has faults: {intake.summary['faults'][:3]}")
    apply_intake(actor, intake_id, intake.version, now)
    waits = _Waits()
    with waits:
        applied = seconds(lambda: _drain(now))
    memory = _memory_megabytes() - idle
    written = {name: _rows_after(name, last) for name, last in before.items()}
    read = seconds(lambda: list(csv.reader(io.StringIO(data.decode(), newline=""))))
    undo_intake(actor, intake_id, now)
    undone = seconds(lambda: _drain(now))
    raw = seconds(lambda: _insert_into(limit_database, written))
    limit = read + raw
    whole = took + judged + applied
    told = f"take {took:.1f} s, judge and preview {judged:.1f} s, apply {applied:.1f} s"
    table.add(
        f"{rows:,} rows brought in, the whole path ({told})",
        f"{whole:.1f} s",
        f"csv and raw inserts {limit:.1f} s",
        whole / limit,
        "<= 2",
    )
    table.add(
        "preview of what it will do",
        f"{judged:.1f} s",
        f"applying it {applied:.1f} s",
        judged / applied,
        "<= 1",
    )
    table.add("undo", f"{undone:.1f} s", f"applying it {applied:.1f} s", undone / applied, "<= 1")
    checked = _checking(choices, data, actor, now)
    table.add(
        "checking the cells alone",
        f"{checked:.2f} s",
        f"csv.reader {read:.2f} s",
        checked / read,
        "<= 2.6",
    )
    table.add("memory above idle", f"{memory:.0f} MB", "100 MB", memory / 100, "<= 1")
    table.add(
        "a save of another operator meanwhile, p99",
        f"{waits.p99 * 1000:.0f} ms",
        "200 ms",
        waits.p99 / 0.2,
        "<= 1",
    )
    _workbook(table)


def _copy() -> sqlite3.Connection:
    """Return a copy of the database as it is now, with the same indexes and ways of writing."""
    path = Path(os.environ["CADRIN_DATABASE"]).with_name("limit.sqlite3")
    path.unlink(missing_ok=True)
    copy = sqlite3.connect(path, isolation_level=None)
    connection.ensure_connection()
    connection.connection.backup(copy)
    for pragma in settings.SQLITE_PRAGMAS.split(";"):
        copy.execute(pragma)
    return copy


def _insert_into(database: sqlite3.Connection, rows: Rows) -> None:
    database.execute("BEGIN IMMEDIATE")
    for statement, values in rows.values():
        database.executemany(statement, values)
    database.execute("COMMIT")


def _drain(now: datetime) -> None:
    work = IntakeWork()
    with _log_emptied():
        while work.step(lambda: now, lambda: True):
            pass


@contextmanager
def _log_emptied() -> Iterator[None]:
    """Checkpoint meanwhile, in a thread of its own, as the worker does."""
    over = threading.Event()

    def empty() -> None:
        while not over.wait(THE_LOG_IS_EMPTIED_EVERY_SECONDS):
            database().checkpoint()
        connection.close()

    thread = threading.Thread(target=empty)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()


def _checking(choices: Any, data: bytes, actor: Any, now: datetime) -> float:
    understanding = Understanding(choices, what_is_known(actor, choices, now), HEADINGS)
    rows = list(read_table(data, ReadingChoices()).rows)

    def check() -> None:
        for n, row in enumerate(rows):
            understanding.read(n, row)

    return seconds(check)


class _Waits:
    """Another operator who saves somebody, over and over, in a process of their own."""

    def __enter__(self) -> "_Waits":
        self._process = subprocess.Popen(
            [sys.executable, "-m", "benchmarks.saver"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        )
        return self

    def __exit__(self, *_: object) -> None:
        out, _err = self._process.communicate(b"stop")
        self.p99 = float(out)


def _list(rows: int) -> bytes:
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(HEADINGS)
    departments = list(Department.objects.values_list("number", flat=True)[:50])
    company = Company.objects.values_list("name", flat=True).first() or ""
    kind = Kind.objects.values_list("name", flat=True).first() or ""
    groups = list(AccessGroup.objects.values_list("name", flat=True)[:50])
    for n in range(rows):
        card = f"{FACILITY_CODE + n // 60_000}-{FIRST_CARD + n % 60_000}"
        both = f"{groups[n % 50]}; {groups[(n + 7) % 50]}"
        writer.writerow(
            (f"N-{n:06}", f"Tarrant{n}", f"Nova{n % 90}", f"nova.tarrant{n}@skerrow.example",
             departments[n % len(departments)], company, kind, "2026-12-01", card, both)
        )  # fmt: skip
    return text.getvalue().encode()


def _workbook(table: Table) -> None:
    """Read a workbook, beside calamine alone."""
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("People")
    for row in csv.reader(io.StringIO(_list(WORKBOOK_ROWS).decode())):
        sheet.append(row)
    file = io.BytesIO()
    book.save(file)
    data = file.getvalue()
    ours, theirs = [], []
    for _ in range(3):
        ours.append(seconds(lambda: list(read_table(data, ReadingChoices()).rows)))
        theirs.append(
            seconds(
                lambda: (
                    CalamineWorkbook.from_filelike(io.BytesIO(data))
                    .get_sheet_by_index(0)
                    .to_python()
                )
            )
        )
    table.add(
        f"XLSX of {WORKBOOK_ROWS:,} rows",
        f"{min(ours):.2f} s",
        f"calamine {min(theirs):.2f} s",
        min(ours) / min(theirs),
        "<= 1.2",
    )


def _memory_megabytes() -> float:
    """Return the highest memory that this process has had."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024

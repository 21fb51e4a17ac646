"""Many new cardholders saved in one act, beside raw inserts of the very rows that it wrote."""

import sqlite3
from dataclasses import replace
from datetime import datetime
from statistics import median
from typing import Any

from django.db import connection, transaction

from benchmarks.measuring import ROUNDS, Table, milliseconds, seconds
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup
from cadrin.core.people.details import Details
from cadrin.credentials.card_draft import CardDraft
from cadrin.enrolment.commands.cardholders import save_many
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.actor import system_actor
from cadrin.people.models import Company, Department, Kind

SAVED, FACILITY_CODE, FIRST_NUMBER = 1_000, 211, 20_000
WRITTEN = (
    "people_cardholder",
    "people_term",
    "credentials_card",
    "access_membership",
    "journal_entry",
    "journal_topic",
    "outbox_mark",
)
Rows = dict[str, tuple[str, list[tuple[object, ...]]]]
"""Table to the statement that inserts into it, and the rows."""


def bench_saving(table: Table, now: datetime) -> None:
    """Save 1,000 with a card and two memberships each; then insert the same rows by hand."""
    actor, wanted = system_actor("Benchmark"), _newcomers()
    ours, limits = [], []
    for _ in range(ROUNDS):
        with transaction.atomic():
            before = {name: _last_id(name) for name in WRITTEN}
            ours.append(seconds(lambda: save_many(actor, wanted, now)))
            rows = {name: _rows_after(name, last) for name, last in before.items()}
            transaction.set_rollback(True)
        with transaction.atomic():
            limits.append(seconds(lambda rows=rows: _insert(rows)))  # type: ignore[misc]
            transaction.set_rollback(True)
    table.add(
        f"{SAVED:,} new cardholders with card and two memberships, in one act",
        milliseconds(median(ours)),
        f"raw inserts of the same rows {milliseconds(median(limits))}",
        median(ours) / median(limits),
        "<= 3",
    )


def _newcomers() -> list[Wanted]:
    groups = AccessGroup.objects.order_by("id").values_list("id", flat=True)[:2]
    first, second = map(MembershipDraft, groups)
    chosen: dict[str, Any] = {
        f"{name}_id": model.objects.values_list("id", flat=True).first()  # type: ignore[attr-defined]
        for name, model in (("department", Department), ("company", Company), ("kind", Kind))
    }
    draft = CardholderDraft(Details("", **chosen), memberships=(first, second))
    return [
        Wanted(
            None,
            replace(
                draft,
                details=replace(
                    draft.details,
                    first_name=f"Nova{place % 90}",
                    last_name=f"Tarrant{place}",
                    email=f"nova.tarrant{place}@skerrow.example",
                ),
                cards=(CardDraft(1, FACILITY_CODE, FIRST_NUMBER + place),),
            ),
            gets_number=True,
        )
        for place in range(SAVED)
    ]


def _last_id(table: str) -> int:
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT COALESCE(MAX(id), 0) FROM {table}")
        return int(cursor.fetchone()[0])


def _rows_after(table: str, last: int) -> tuple[str, list[tuple[object, ...]]]:
    raw: sqlite3.Connection = connection.connection
    rows = raw.execute(f"SELECT * FROM {table} WHERE id > ?", [last]).fetchall()
    marks = ", ".join("?" * len(rows[0]))
    return f"INSERT INTO {table} VALUES ({marks})", [tuple(row) for row in rows]


def _insert(rows: Rows) -> None:
    raw: sqlite3.Connection = connection.connection
    for statement, values in rows.values():
        raw.executemany(statement, values)

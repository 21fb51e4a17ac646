"""Reads as controllers tell them, beside raw inserts of the same rows; and the latest of anything at two
sizes of the record.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from random import Random
from statistics import median

from django.db import connection, transaction

from benchmarks.measuring import Table, in_turn, milliseconds, seconds
from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.activity.queries import EVERY_READ, ReadFilters, reads
from cadrin.activity.rows import ReadRow, write_reads
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.events import read_events
from cadrin.core.decision.reasons import Reason
from cadrin.desk.queries import unknown_cards
from cadrin.operators.actor import Actor, actor_of, system_actor
from cadrin.operators.models import Operator

TOLD_AT_ONCE, SMALL, LARGE = 1_000, 100_000, 1_000_000
CARDHOLDERS, DOORS = 100_000, 500
ROUNDS = 7


def bench_reads(table: Table, now: datetime, large: int = LARGE) -> None:
    _appending(table, now)
    house = system_actor("Benchmark")
    kept = actor_of(Operator.objects.get(username="kept"))
    _fill(SMALL, now)
    few = _latest(house, kept, now)
    _fill(large - SMALL, now)
    for name, took in _latest(house, kept, now).items():
        table.add(
            f"latest reads: {name}, of {large:,}",
            milliseconds(took),
            f"of {SMALL:,} {milliseconds(few[name])}",
            took / few[name],
            "<= 1.5",
        )
    Read.objects.all().delete()


def _appending(table: Table, now: datetime) -> None:
    number = 10**9
    random = Random(7)
    columns = [one.attname for one in Read._meta.concrete_fields if not one.primary_key]
    insert = (
        f"INSERT INTO activity_read ({', '.join(columns)}) VALUES ({', '.join('?' * len(columns))})"
    )

    def told() -> list[dict[str, object]]:
        nonlocal number
        events: list[dict[str, object]] = []
        for _ in range(TOLD_AT_ONCE):
            number += 1
            person = random.randrange(1, CARDHOLDERS)
            events.append({
                "number": number, "at": now.isoformat(), "reader": random.randrange(1, DOORS),
                "raw": "26:2F764DD", "card": [1, person // 65536, person % 65536],
                "reason": Reason.GRANTED.value, "cardholder": person, "name": "Ada Person", "group": 1,
            })  # fmt: skip
        return events

    rounds = [read_events(told(), 0) for _ in range(ROUNDS + 1)]
    waiting = iter(rounds)
    given = [
        [tuple(_of_event(event, one, now) for one in columns) for event in read_events(told(), 0)]
        for _ in range(ROUNDS + 1)
    ]
    rows = iter(given)

    def by_hand() -> None:
        with transaction.atomic():
            connection.connection.executemany(insert, next(rows))

    ours, limit, spread = in_turn(
        lambda: take_events(1, "benchmark", next(waiting), now), by_hand, ROUNDS
    )
    table.add(
        "reads appended, 1,000 told at once",
        f"{TOLD_AT_ONCE / ours:,.0f}/s",
        f"raw inserts {TOLD_AT_ONCE / limit:,.0f}/s",
        limit / ours,
        ">= 0.7",
        spread,
    )


def _of_event(event: object, column: str, now: datetime) -> object:
    known = {
        "at": str(now)[:19], "controller_id": 1, "store": "by hand", "format_id": 1, "factors": "card",
        "event_number": getattr(event, "number", 0), "reader_id": 1, "reader_name": "Door", "door_id": 1,
        "raw": "26:2F764DD", "facility_code": 0, "card_number": 77, "reason": "granted",
        "group_name": "Group", "opens_at": None, "cardholder_id": getattr(event, "cardholder_id", 1),
        "cardholder_name": "Ada Person", "clock_off_seconds": None,
    }  # fmt: skip
    return known.get(column, 0 if column.startswith("is_") else "")


def _fill(count: int, now: datetime) -> None:
    """Let a year have brought so many reads, one in five hundred of a card that nobody holds."""
    random, before = Random(count), Read.objects.count()
    step = timedelta(days=365) / count

    def row(place: int) -> ReadRow:
        person = None if random.random() < 0.002 else random.randrange(1, CARDHOLDERS + 1)
        return ReadRow(
            at=now - timedelta(days=365) + step * place,
            controller_id=1 + place % 10,
            store="year",
            event_number=before + place,
            reader_name="Door",
            door_id=random.randrange(1, DOORS + 1),
            raw="26:2F764DD",
            format_id=1,
            facility_code=0 if person else 250,
            card_number=random.randrange(1, 65536),
            is_watched=random.random() < 0.001,
            reason=random.choice(USUAL) if person else Reason.UNKNOWN_CARD.value,
            cardholder_id=person,
            cardholder_name="Ada Person" if person else "",
        )

    with _indexed_afterwards():
        for block in batched(range(count), 100_000):
            with transaction.atomic():
                write_reads(map(row, block))


@contextmanager
def _indexed_afterwards() -> Iterator[None]:
    """Make the indexes of reads anew when all are there: row by row takes ten times as long."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT name, sql FROM sqlite_master"
            " WHERE type = 'index' AND tbl_name = 'activity_read' AND sql LIKE 'CREATE INDEX%%'"
        )
        indexes = cursor.fetchall()
        for name, _ in indexes:
            cursor.execute(f'DROP INDEX "{name}"')
        yield
        for _, words in indexes:
            cursor.execute(words)
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def batched(every: range, size: int) -> Iterator[range]:
    for start in range(0, len(every), size):
        yield every[start : start + size]


USUAL = (*[Reason.GRANTED.value] * 19, Reason.OUTSIDE_HOURS.value)


def _latest(house: Actor, kept: Actor, now: datetime) -> dict[str, float]:
    """Time each question a person asks of the record."""
    asked: dict[str, tuple[Actor, ReadFilters]] = {
        "all": (house, EVERY_READ),
        "one door": (house, ReadFilters(door_id=7)),
        "one person": (house, ReadFilters(cardholder_id=77)),
        "one card": (house, ReadFilters(card=CardKey(1, 0, 77))),
        "one reason": (house, ReadFilters(reason=Reason.OUTSIDE_HOURS)),
        "denials": (house, ReadFilters(is_denied=True)),
        "flagged": (house, ReadFilters(is_flagged=True)),
        "a department": (house, ReadFilters(department_id=7)),
        "for one who is kept to a department": (kept, EVERY_READ),
    }
    took = {
        name: median(seconds(lambda: reads(actor, filters)) for _ in range(ROUNDS))  # noqa: B023
        for name, (actor, filters) in asked.items()
    }
    took["unknown cards"] = median(
        seconds(lambda: unknown_cards(house, now)) for _ in range(ROUNDS)
    )
    return took

"""Cards and PINs: reads against many formats, issuing, a full box, making up PINs, and the number
detective.
"""

import secrets
import sqlite3
from datetime import datetime
from random import Random

from benchmarks.measuring import Table, in_turn, milliseconds, seconds
from cadrin.core.credentials.card.detective import Clue
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.card.reading import read_card
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.card.stock import LARGEST_BOX, CardRange
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.models import Card
from cadrin.credentials.queries import investigated
from cadrin.credentials.stock import BoxDraft, enter_box
from cadrin.enrolment.commands.handout import MOST_IN_A_ROW, Pair, issue_row
from cadrin.operators.actor import system_actor
from cadrin.people.models import Cardholder

READS, FORMATS, PINS, ISSUED, ASKED = 1_000_000, 12, 10_000, 1_000, 200


def bench_credentials(table: Table, database: str, now: datetime) -> None:
    _reads_against_formats(table)
    _pins(table)
    _box(table, database, now)
    _issuing(table, database, now)
    _detective(table, database)


def _reads_against_formats(table: Table) -> None:
    """Read a million times what may be a card of any of twelve formats, most of it 26 bits long."""
    random = Random(8)
    layouts = {id_: one.layout for id_, one in enumerate(READY_MADE[:FORMATS], 1)}
    lengths = [26] * 8 + [34, 37]
    reads = [
        RawRead(length, random.getrandbits(length)) for length in random.choices(lengths, k=READS)
    ]
    bits_of = [layout.length_bits for layout in layouts.values()]

    def reading() -> None:
        for read in reads:
            read_card(read, layouts)

    def bare() -> None:
        for length, bits in reads:
            for wanted in bits_of:
                if length == wanted:
                    bits >> 17 & 0xFF, bits >> 1 & 0xFFFF

    ours, limit = seconds(reading), seconds(bare)
    table.add(
        f"{READS:,} reads against {FORMATS} formats",
        f"{READS / ours:,.0f}/s",
        f"compare, shift and mask {READS / limit:,.0f}/s",
        limit / ours,
        "none set",
    )


def _pins(table: Table) -> None:
    rule = PinRule()

    def making() -> None:
        taken: set[str] = set()
        while len(taken) < PINS:
            taken.add(generate(rule, taken.__contains__))

    def bare() -> None:
        for _ in range(PINS):
            secrets.randbelow(10**6)

    ours, limit, spread = in_turn(making, bare, 3)
    table.add(
        f"making up {PINS:,} unique PINs",
        f"{ours:.2f} s",
        f"random numbers {limit:.3f} s",
        ours / limit,
        "none set",
        spread,
    )


def _box(table: Table, database: str, now: datetime) -> None:
    """Enter a box of 65,536, beside the bare inserts of as many rows into a table of the same
    columns.
    """
    numbers = CardRange(99, 0, LARGEST_BOX - 1)
    ours = seconds(lambda: enter_box(system_actor("Bench"), BoxDraft(1, numbers), now))
    rows = [(1, 98, number, "in_stock") for number in range(LARGEST_BOX)]

    def bare() -> None:
        with sqlite3.connect(database, timeout=60) as raw:
            raw.executemany(
                "INSERT INTO credentials_card (format_id, facility_code, card_number, status, label, is_watched,"
                " is_temporary, used) VALUES (?, ?, ?, ?, '', 0, 0, 0)",
                rows,
            )
            raw.rollback()

    limit = seconds(bare)
    table.add(
        "a box of 65,536 cards",
        f"{ours:.2f} s",
        f"bare inserts {limit:.2f} s",
        ours / limit,
        "none set",
    )


def _issuing(table: Table, database: str, now: datetime) -> None:
    """Issue a thousand cards in rows of three hundred, with journal and marks, beside the bare
    updates.
    """
    ids = list(Cardholder.objects.order_by("-id").values_list("id", flat=True)[:ISSUED])
    pairs = [Pair(id_, CardDraft(1, 99, number)) for number, id_ in enumerate(ids)]

    def issuing() -> None:
        for begin in range(0, ISSUED, MOST_IN_A_ROW):
            issue_row(system_actor("Bench"), pairs[begin : begin + MOST_IN_A_ROW], now)

    def bare() -> None:
        with sqlite3.connect(database, timeout=60) as raw:
            raw.executemany(
                "UPDATE credentials_card SET holder_id = ?, status = 'issued'"
                " WHERE format_id = 1 AND facility_code = 99"
                " AND card_number = ?",
                [(pair.cardholder_id, pair.card.card_number) for pair in pairs],
            )
            raw.rollback()

    ours, limit = seconds(issuing), seconds(bare)
    each = milliseconds(ours / ISSUED)
    table.add(
        f"issuing {ISSUED:,} cards",
        f"{each} each",
        f"bare updates {limit:.3f} s",
        ours / limit,
        "none set",
    )


def _detective(table: Table, database: str) -> None:
    numbers = Random(4).sample(
        list(Card.objects.values_list("card_number", flat=True)[:50_000]), ASKED
    )
    raw = sqlite3.connect(database)

    def asking() -> None:
        for number in numbers:
            investigated([Clue(text=str(number))])

    def looking_up() -> None:
        for number in numbers:
            raw.execute(
                "SELECT id FROM credentials_card WHERE card_number = ?", [number]
            ).fetchall()

    ours, limit = seconds(asking), seconds(looking_up)
    table.add(
        "the number detective over 100,000 cards",
        f"{milliseconds(ours / ASKED)} each",
        f"a look-up {milliseconds(limit / ASKED)}",
        ours / limit,
        "none set",
    )

"""The core in memory: decisions, raw reads, reach, and who may open a door."""

import hashlib
import sqlite3
import time
from bisect import bisect_right
from dataclasses import replace
from datetime import datetime, timedelta
from random import Random

from benchmarks.measuring import Table, in_turn, milliseconds, percentile
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.reach import reach
from cadrin.core.chain import BEGINNING, Body, Link, digest_of_body, digest_of_entry, first_broken
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.doors.rules import AreaRules, DoorRules, Passback
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.validity import Span

_Read = tuple[RawRead, int, datetime, CardKey]
READS = 20_000
ENTRIES = 20_000


def bench_core(
    table: Table, holders: dict[int, Holder], plan: Plan, database: str, now: datetime
) -> None:
    random = Random(3)
    records = HeldRecords()
    for key, body in plan_records(plan).items():
        records.put(key, body)
    for holder in holders.values():
        if record := encode_cardholder(holder, plan):
            records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), record)
    _decisions(table, records, list(holders.values()), plan, random, now)
    _raw_reads(table, random)
    _chain(table, now)
    _reach(table, holders, plan, random, now)
    _who_may_open(table, holders, plan, database, now)


def _chain(table: Table, now: datetime) -> None:
    """Check a journal of 20,000 entries, beside bare hashes over as many bytes."""
    links, before = [], BEGINNING
    for number in range(1, ENTRIES + 1):
        body = Body({"title": ["", f"Diver {number}"], "department": ["Dive Team", "Estates"]}, {})
        body_digest = digest_of_body(body, "00")
        who, about = (1, "Mara", "192.0.2.7"), (("cardholder", number, 1),)
        before = digest_of_entry(before, now, who, "cardholder.changed", about, body_digest)
        links.append(
            Link(number, now, *who, "cardholder.changed", about, body, "00", body_digest, before)
        )
    texts = [b"x" * 300] * ENTRIES

    def checking() -> None:
        assert first_broken(links) is None

    def hashing() -> None:
        for text in texts:
            hashlib.sha256(text).hexdigest()

    ours, limit, spread = in_turn(checking, hashing)
    table.add(
        "checking a journal",
        f"{ENTRIES / ours:,.0f} entries/s",
        f"bare hashes {ENTRIES / limit:,.0f}/s",
        ours / limit,
        "none set",
        spread,
    )


def _decisions(
    table: Table,
    records: HeldRecords,
    holders: list[Holder],
    plan: Plan,
    random: Random,
    now: datetime,
) -> None:
    readers = list(plan.door_of_reader)
    reads: list[_Read] = []
    for _ in range(READS):
        holder = random.choice(holders)
        theirs = plan.doors_of(holder.memberships)
        reader = next((r for r in readers if plan.door_of_reader[r] in theirs), readers[0])
        at = now + timedelta(minutes=random.randrange(10_080))
        key = holder.cards[0].key
        raw = STANDARD_26_BIT.encode(CardNumbers(key.facility_code, key.card_number))
        reads.append((raw, reader, at, key))
    starts = [minute * 60 for minute in range(14)]

    def deciding() -> None:
        for raw, reader, at, _ in reads:
            decide(Evidence(raw), reader, at, records)

    def looking_up() -> None:
        known = records.holder_of_card
        for _, _, at, key in reads:
            known[key]
            bisect_right(starts, at.hour * 60)

    def bare() -> None:
        known = records.holder_of_card
        for _, _, _, key in reads:
            known[key]

    def telling() -> None:
        for raw, reader, at, _ in reads:
            opens_next(decide(Evidence(raw), reader, at, records), reader, at, records)

    ours, limit, spread = in_turn(deciding, looking_up)
    table.add(
        "decide() over 100,000 cardholders' records",
        f"{READS / ours:,.0f}/s",
        f"lookup and bisect {READS / limit:,.0f}/s",
        limit / ours,
        ">= 0.30",
        spread,
    )
    _, alone, _ = in_turn(deciding, bare, 3)
    table.say("  a bare dictionary lookup with the same keys", f"{READS / alone:,.0f}/s")
    each = []
    for raw, reader, at, _ in reads[:5000]:
        began = time.perf_counter()
        decide(Evidence(raw), reader, at, records)
        each.append(time.perf_counter() - began)
    table.say(
        "  decide(), and when the hours begin next",
        f"{READS / in_turn(telling, bare, 3)[0]:,.0f}/s",
    )
    table.say("  decide(), p99", f"{percentile(each, 0.99) * 1e6:.0f} us")
    _decisions_with_rules(table, records, reads)


def _decisions_with_rules(table: Table, records: HeldRecords, reads: list[_Read]) -> None:
    """Decide the same reads where every door has closed hours, alarms, an interlock and an area that
    counts people, and tell what becomes of the house.
    """
    plain, area = records.plan, 1
    doors = sorted(set(plain.door_of_reader.values()))
    never = Schedule("UTC", (Hours(0, 0, 1),))
    rules = {
        door: DoorRules(
            closed=never,
            held_seconds=30,
            tells_forced=True,
            interlock=(doors[place - 1],),
            from_area=0,
            to_area=area,
        )
        for place, door in enumerate(doors)
    }
    ruled = replace(plain, doors=rules, areas={area: AreaRules(Passback.SOFT)})

    def with_rules() -> None:
        records.plan = ruled
        for raw, reader, at, _ in reads:
            decide(Evidence(raw), reader, at, records)

    def without() -> None:
        records.plan = plain
        for raw, reader, at, _ in reads:
            decide(Evidence(raw), reader, at, records)

    ours, limit, spread = in_turn(with_rules, without)
    records.plan = plain
    table.add(
        "  with rules at every door",
        f"{READS / ours:,.0f}/s",
        f"decide() without {READS / limit:,.0f}/s",
        limit / ours,
        ">= 0.80",
        spread,
    )


def _raw_reads(table: Table, random: Random) -> None:
    reads = [RawRead(26, random.getrandbits(26)) for _ in range(READS)]

    def decoding() -> None:
        for read in reads:
            STANDARD_26_BIT.decode(read)

    def shift_and_mask(read: RawRead) -> tuple[int, int] | None:
        length, bits = read
        return (bits >> 17 & 0xFF, bits >> 1 & 0xFFFF) if length == 26 else None

    def shifting() -> None:
        for read in reads:
            shift_and_mask(read)

    ours, limit, spread = in_turn(decoding, shifting)
    table.add(
        "decode a raw read",
        f"{READS / ours:,.0f}/s",
        f"shift and mask {READS / limit:,.0f}/s",
        limit / ours,
        ">= 0.45",
        spread,
    )


def _reach(
    table: Table, holders: dict[int, Holder], plan: Plan, random: Random, now: datetime
) -> None:
    some = random.sample(list(holders.values()), 20)
    doors = sorted(set(plan.door_of_reader.values()))
    week = Span(now, now + timedelta(weeks=1))
    answers = [reach(holder, doors, plan, now, week) for holder in some]
    spans = [
        [(span.start, span.end) for door in answer for span in door.open_spans]
        for answer in answers
    ]

    def reaching() -> None:
        for holder in some:
            reach(holder, doors, plan, now, week)

    def sorting() -> None:
        for one in spans:
            sorted(one)  # type: ignore[type-var]

    ours, limit, spread = in_turn(reaching, sorting)
    table.add(
        "reach of one cardholder, 500 doors, a week",
        milliseconds(ours / len(some)),
        f"sorting its spans {milliseconds(limit / len(some))}",
        ours / limit,
        "none set",
        spread,
    )


def _who_may_open(
    table: Table, holders: dict[int, Holder], plan: Plan, database: str, now: datetime
) -> None:
    roster = Roster(list(holders.values()))
    door = next(iter(plan.door_of_reader.values()))
    raw = sqlite3.connect(database)
    join = """
        SELECT DISTINCT m.cardholder_id FROM access_grant g
        JOIN access_membership m ON m.group_id = g.group_id
        JOIN people_cardholder p ON p.id = m.cardholder_id
        JOIN credentials_card c ON c.holder_id = p.id
        WHERE g.door_id = ? AND p.standing = 'active' AND c.status = 'issued'
          AND (p.activation_at IS NULL OR p.activation_at <= ?) AND (p.expiry_at IS NULL OR p.expiry_at > ?)
          AND (m.activation_at IS NULL OR m.activation_at <= ?) AND (m.expiry_at IS NULL OR m.expiry_at > ?)
        """
    at = now.strftime("%Y-%m-%d %H:%M:%S")
    ours, limit, spread = in_turn(
        lambda: roster.who_may_open(door, plan, now),
        lambda: raw.execute(join, [door, at, at, at, at]).fetchall(),
    )
    raw.close()
    table.add(
        "everybody who may open one door now, from memory",
        milliseconds(ours),
        f"SQL join, hours left out {milliseconds(limit)}",
        ours / limit,
        "<= 0.025",
        spread,
    )

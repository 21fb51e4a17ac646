"""The demo's reads of the hours before."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from random import Random

from cadrin.access.commands.presence import WentInto, note_went
from cadrin.access.plan import access_plan, holders
from cadrin.activity.commands.handing_over import keep_reads
from cadrin.activity.commands.reads import reads_in
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.decision.events import Event, read_events, to_event, went
from cadrin.core.doors.passing import after_read
from cadrin.core.doors.state import NOBODY_THERE
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.validity import Standing
from cadrin.credentials.queries import raw_of
from cadrin.demo.people import FACILITY_CODE, SEED
from cadrin.people.models import Cardholder
from cadrin.sites.models import Reader

READS_BEFORE = 260
NUMBER_OF_AN_UNKNOWN_CARD = 9917


def reads_before(now: datetime) -> None:
    """Let people have come and gone for two days, each read decided by the core, with cards nobody
    knows among them.
    """
    random = Random(SEED)  # noqa: S311 - the demo must be the same every time
    plan = access_plan()
    everybody = holders(
        Cardholder.objects.exclude(standing=Standing.DEPARTED).values_list("id", flat=True)
    )
    records = _records(plan, everybody.values())
    carriers = [holder for holder in everybody.values() if holder.cards]
    format_id = min(plan.formats)  # the first that was made: the 26-bit one
    unknown = CardKey(format_id, FACILITY_CODE, NUMBER_OF_AN_UNKNOWN_CARD)
    readers = {
        reader.pk: reader
        for reader in Reader.objects.filter(door__isnull=False).exclude(controller_id=3)
    }
    instants = sorted(
        now - timedelta(seconds=random.randrange(600, 2 * 86400)) for _ in range(READS_BEFORE)
    )
    events: dict[int, list[dict[str, object]]] = {}
    house = NOBODY_THERE
    for number, at in enumerate(instants, start=1):
        holder = random.choice(carriers)
        is_unknown = number % 65 == 0
        reader = _reader_for(holder, readers, plan, random)
        raw = raw_of(unknown if is_unknown else holder.cards[0].key)
        verdict = decide(Evidence(raw), reader.pk, at, records, house)
        change = after_read(verdict, reader.pk, plan, house, at)
        house = house.after(change)
        event: dict[str, object] = {
            "number": number,
            "at": at.isoformat(),
            "reader": reader.pk,
            "raw": str(raw),
        }
        event |= to_event(verdict, opens_next(verdict, reader.pk, at, records))
        if there := went(change):
            event["went"] = there
        events.setdefault(reader.controller_id, []).append(event)
    told = {id_: _as_told(those) for id_, those in events.items()}
    reads = [read for id_, those in told.items() for read in reads_in(id_, "before", those)]
    note_went(
        WentInto(event.went.area_id, event.went.people, event.at)
        for those in told.values()
        for event in those
        if event.went is not None
    )
    keep_reads(reads)


def _records(plan: Plan, everybody: Iterable[Holder]) -> HeldRecords:
    """Return what a controller with every door and everybody would hold."""
    records = HeldRecords()
    for key, body in plan_records(plan).items():
        records.put(key, body)
    for holder in everybody:
        if record_body := encode_cardholder(holder, plan):
            records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), record_body)
    return records


def _as_told(events: list[dict[str, object]]) -> list[Event]:
    return [event for event in read_events(events, 0) if isinstance(event, Event)]


def _reader_for(holder: Holder, readers: dict[int, Reader], plan: Plan, random: Random) -> Reader:
    """Choose a reader: mostly one of a door that is theirs."""
    theirs = [
        reader for reader in readers.values() if reader.door_id in plan.doors_of(holder.memberships)
    ]
    return random.choice(theirs if theirs and random.random() < 0.9 else list(readers.values()))

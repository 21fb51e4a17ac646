"""Take what controllers saw into the record of reads."""

from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from datetime import datetime, timedelta

from cryptography.fernet import InvalidToken
from django.db import transaction

from cadrin.access.commands.presence import WentInto, note_went
from cadrin.activity.models import Read
from cadrin.activity.rows import ReadRow, write_reads
from cadrin.biometrics.desk_readers import keep_press
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import DecodeFault, RawRead
from cadrin.core.credentials.card.reading import read_card
from cadrin.core.credentials.card.room import name_of_memory
from cadrin.core.decision.events import WRONG_CLOCK_SECONDS, DoorEvent, Event, Told, Unreadable
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.standing import ALARMS
from cadrin.core.errors import Invalid
from cadrin.credentials.keypad import keep_typed
from cadrin.credentials.queries import formats
from cadrin.credentials.uses import limited_cards, note_uses, owner_of_hashes
from cadrin.journal.naming import names_of
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.queries import ids_there
from cadrin.sites.commands.orders import note_happenings
from cadrin.sites.controller_keys import key_of_controller, seal_between
from cadrin.sites.queries import ReaderAt, readers_named


def take_events(
    controller_id: int,
    store: str,
    events: Sequence[Told],
    at: datetime,
    clock_off_seconds: int = 0,
) -> None:
    """Write a controller's events as reads. Taking the same events twice changes nothing.

    ``clock_off_seconds`` is how far the clock is off by which they are dated.
    """
    # measured before the writer's lock is taken: nobody at a desk waits for it
    _keep_presses(controller_id, store, events, at)
    _write_reads(controller_id, store, events, at, clock_off_seconds)


def _keep_presses(controller_id: int, store: str, events: Sequence[Told], at: datetime) -> None:
    """Pass what scanners at a desk made of fingers on to whoever waits for it."""
    pressed = [event for event in events if isinstance(event, Event) and event.press is not None]
    if not pressed:
        return
    seal = seal_between(key_of_controller(controller_id))
    for event in pressed:
        with suppress(InvalidToken):
            told = seal.decrypt(event.press or "")
            keep_press(event.reader_id, f"{store}:{event.number}", told, at)


@transaction.atomic
def _write_reads(
    controller_id: int,
    store: str,
    events: Sequence[Told],
    at: datetime,
    clock_off_seconds: int,
) -> None:
    known = [event for event in events if isinstance(event, Event)]
    typed = [event for event in known if event.typed is not None]
    if typed:
        seal = seal_between(key_of_controller(controller_id))
        for event in typed:
            with suppress(InvalidToken):  # nobody can type it again but the cardholder
                keep_typed(event.reader_id, seal.decrypt(event.typed or "").decode(), at)
    # what is only typed or laid on a scanner at a desk is no read, and stands in no record
    seen = [event for event in known if event.raw or event.reason]
    reads = reads_in(controller_id, store, [*_with_owners(controller_id, seen)])
    clock_off = timedelta(seconds=clock_off_seconds)
    moved = [event for event in events if isinstance(event, DoorEvent)]
    note_happenings((event.door_id, event.happening, event.at - clock_off) for event in moved)
    reads += _alarms(controller_id, store, moved)
    note_went(
        WentInto(event.went.area_id, event.went.people, event.at - clock_off)
        for event in known
        if event.went is not None
    )
    reads += [
        _unreadable(controller_id, store, event, at)
        for event in events
        if isinstance(event, Unreadable)
    ]
    for read in reads:
        is_off = abs(clock_off_seconds) > WRONG_CLOCK_SECONDS and not read.unreadable
        read.clock_off_seconds = clock_off_seconds if is_off else None
    write_reads(reads)
    _count_uses(controller_id, store, reads, clock_off)


def _alarms(controller_id: int, store: str, events: Iterable[DoorEvent]) -> Iterable[ReadRow]:
    """Yield what doors did that somebody should look at, as it stands in the record."""
    alarms = [event for event in events if event.happening in ALARMS]
    names = names_of("door", {event.door_id for event in alarms})
    for event in alarms:
        yield ReadRow(
            at=event.at,
            controller_id=controller_id,
            store=store,
            event_number=event.number,
            reader_name=names.get(event.door_id, ""),
            door_id=event.door_id if event.door_id in names else None,
            happening=event.happening.value,
        )


def _with_owners(controller_id: int, events: Iterable[Event]) -> Iterable[Event]:
    """Return the events, and of a PIN that the controller did not know, whose it is if it opens
    alone anywhere.
    """
    for event in events:
        owner = None
        if event.tried is not None:
            seal = seal_between(key_of_controller(controller_id))
            with suppress(InvalidToken, UnicodeDecodeError):
                hashes = seal.decrypt(event.tried).decode().split()
                owner = owner_of_hashes(hashes[:2])
        yield (replace(event, cardholder_id=owner.id, name=owner.display_name) if owner else event)


def _unreadable(controller_id: int, store: str, event: Unreadable, at: datetime) -> ReadRow:
    """Return what could not be read as a read that says so: it was something, and somebody should
    look at it.
    """
    return ReadRow(
        at=at,
        controller_id=controller_id,
        store=store,
        event_number=event.number,
        reader_name=names_of("controller", [controller_id])[controller_id],
        unreadable=event.text or "?",
    )


def _count_uses(
    controller_id: int, store: str, reads: Iterable[ReadRow], clock_off: timedelta
) -> None:
    """Count anew the uses that this memory told of, for every card among the reads that works only
    so many times.

    Counted from what is written, so that it is right whenever and however often something is told.
    """
    opened = {
        (r.format_id, r.facility_code, r.card_number)
        for r in reads
        if r.reason == Reason.GRANTED.value
    }
    for card in limited_cards(opened):
        told = Read.objects.filter(
            controller_id=controller_id,
            store=store,
            format_id=card.identity[0],
            facility_code=card.identity[1],
            card_number=card.identity[2],
            reason=Reason.GRANTED,
            at__gte=card.counted_from + clock_off,  # by the controller's own clock
        )
        note_uses(card.id, name_of_memory(controller_id, store), told.count())
        if card.holder_id:
            mark_for_delivery(Subject.CARDHOLDER, [card.holder_id], is_withdrawal=True)


def reads_in(controller_id: int, store: str, events: Iterable[Event]) -> list[ReadRow]:
    """Read a controller's events, with the names of what they are about; nothing is written."""
    told = list(events)
    readers = readers_named(event.reader_id for event in told)
    people = ids_there(event.cardholder_id for event in told)
    groups = names_of("group", {event.group_id for event in told if event.group_id})
    layouts = formats()
    reads = []
    for event in told:
        read = _read_of(controller_id, store, event, readers.get(event.reader_id), layouts)
        read.group_name = groups.get(event.group_id or 0, "")
        read.cardholder_id = event.cardholder_id if event.cardholder_id in people else None
        reads.append(read)
    return reads


def _read_of(
    controller_id: int,
    store: str,
    event: Event,
    reader: ReaderAt | None,
    layouts: Mapping[int, CardFormat],
) -> ReadRow:
    """Return what an event says by itself, and of its reader."""
    card = event.card or _card_at_desk(event, layouts)
    return ReadRow(
        at=event.at,
        controller_id=controller_id,
        store=store,
        event_number=event.number,
        reader_id=event.reader_id if reader else None,
        reader_name=reader.name if reader else event.reader_name,
        door_id=reader.door_id if reader else None,
        raw=event.raw,
        format_id=card.format_id if card and card.format_id in layouts else None,
        facility_code=card.facility_code if card else None,
        card_number=card.card_number if card else None,
        reason=event.reason.value if event.reason else "",
        factors=",".join(event.factors),
        plate=event.plate,
        is_duress=event.is_duress,
        is_watched=event.is_watched,
        is_passed_back=event.is_passed_back,
        opens_at=event.opens_at,
        cardholder_name=event.name,
    )


def _card_at_desk(event: Event, layouts: Mapping[int, CardFormat]) -> CardKey | None:
    """Decode the bits shown at a desk, which decides nothing; a door tells what card it took them
    for.
    """
    if event.reason:
        return None
    try:
        keys = read_card(RawRead.parse(event.raw), layouts)
    except Invalid:
        return None
    return None if isinstance(keys, DecodeFault) else keys[0]

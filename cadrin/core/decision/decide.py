"""Decide one read from the records a controller holds: verdict, reason, and the steps that led to it."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta
from enum import StrEnum
from typing import NamedTuple, Protocol

from cadrin.core.access.plan import ANY_CARD, Card, CardKey, Holder, Pin, Plan, ReaderMode, Way
from cadrin.core.access.rights import Reason, judge_card, judge_holder, judge_memberships, judge_pin, next_opening
from cadrin.core.cards.formats import CardFormat, CardNumbers, DecodeFault, RawRead
from cadrin.core.errors import Invalid
from cadrin.core.validity import Span

LOOKS_AHEAD = timedelta(weeks=2)
OPEN_SECONDS, EXTENDED_OPEN_SECONDS = 5, 20
"""How long a door stays unlocked after a read (common practice), and for whoever needs longer."""


class Records(Protocol):
    """What a decision is made from."""

    @property
    def plan(self) -> Plan: ...
    @property
    def holder_of_card(self) -> Mapping[CardKey, tuple[Card, Holder]]: ...
    @property
    def holder_of_pin(self) -> Mapping[str, tuple[Pin, Holder]]: ...
    def uses_of(self, card: Card) -> int: ...


class Check(StrEnum):
    """The questions a decision asks, in this order. The first that fails ends it."""

    READER = "reader"
    TAKEN = "taken"
    READ = "read"
    CARD_KNOWN = "card_known"
    CARD_IN_FORCE = "card_in_force"
    PIN = "pin"
    CARDHOLDER_IN_FORCE = "cardholder_in_force"
    MEMBERSHIP = "membership"
    HOURS = "hours"


FAILING_CHECK = {
    Reason.UNKNOWN_READER: Check.READER,
    Reason.NO_WAY_IN: Check.READER,
    Reason.CARD_NOT_TAKEN: Check.TAKEN,
    Reason.PIN_NOT_TAKEN: Check.TAKEN,
    Reason.KEYPAD_RESTS: Check.TAKEN,
    Reason.FORMAT_NOT_READ: Check.READ,
    Reason.WRONG_LENGTH: Check.READ,
    Reason.WRONG_PARITY: Check.READ,
    Reason.UNKNOWN_CARD: Check.CARD_KNOWN,
    Reason.CARD_PENDING: Check.CARD_IN_FORCE,
    Reason.CARD_EXPIRED: Check.CARD_IN_FORCE,
    Reason.CARD_SUSPENDED: Check.CARD_IN_FORCE,
    Reason.CARD_LOST: Check.CARD_IN_FORCE,
    Reason.CARD_STOLEN: Check.CARD_IN_FORCE,
    Reason.CARD_DAMAGED: Check.CARD_IN_FORCE,
    Reason.CARD_NOT_ISSUED: Check.CARD_IN_FORCE,
    Reason.CARD_SUPERSEDED: Check.CARD_IN_FORCE,
    Reason.CARD_USED_UP: Check.CARD_IN_FORCE,
    Reason.CARD_OUTSIDE_HOURS: Check.CARD_IN_FORCE,
    Reason.PIN_MISSING: Check.PIN,
    Reason.PIN_WRONG: Check.PIN,
    Reason.PIN_EXPIRED: Check.PIN,
    Reason.CARDHOLDER_PENDING: Check.CARDHOLDER_IN_FORCE,
    Reason.CARDHOLDER_EXPIRED: Check.CARDHOLDER_IN_FORCE,
    Reason.CARDHOLDER_SUSPENDED: Check.CARDHOLDER_IN_FORCE,
    Reason.CARDHOLDER_BARRED: Check.CARDHOLDER_IN_FORCE,
    Reason.CARDHOLDER_DEPARTED: Check.CARDHOLDER_IN_FORCE,
    Reason.NO_MEMBERSHIP: Check.MEMBERSHIP,
    Reason.MEMBERSHIP_PENDING: Check.MEMBERSHIP,
    Reason.MEMBERSHIP_EXPIRED: Check.MEMBERSHIP,
    Reason.OUTSIDE_HOURS: Check.HOURS,
}


class Shown(StrEnum):
    """What somebody showed to a reader."""

    CARD = "card"
    PIN = "pin"
    CARD_AND_PIN = "card_and_pin"


_NOT_ASKED = {
    Shown.CARD: frozenset({Check.PIN}),
    Shown.PIN: frozenset({Check.READ, Check.CARD_KNOWN, Check.CARD_IN_FORCE}),
    Shown.CARD_AND_PIN: frozenset[Check](),
}


class Step(NamedTuple):
    """One question and its answer; ``passed`` is None where the decision never came so far."""

    check: Check
    passed: bool | None


def steps_to(reason: Reason, shown: Shown = Shown.CARD) -> tuple[Step, ...]:
    """Give every question in order that is asked of what was shown, up to the one that decided and on."""
    failing = FAILING_CHECK.get(reason)
    steps, answer = [], True
    for check in Check:
        if check in _NOT_ASKED[shown] and check is not failing:
            continue
        if check is failing:
            steps.append(Step(check, False))
            answer = False
        else:
            steps.append(Step(check, True if answer else None))
    return tuple(steps)


class Verdict(NamedTuple):
    """The outcome of one read, with what was found on the way to it.

    ``group_id`` is the access group that opened the door, or came closest; ``pin_id`` the PIN that was typed, where
    it was a right one. Under duress nothing at the door looks different.
    """

    reason: Reason
    card: CardKey | None = None
    holder: Holder | None = None
    group_id: int | None = None
    shown: Shown = Shown.CARD
    is_duress: bool = False
    is_watched: bool = False
    pin_id: int | None = None

    @property
    def is_granted(self) -> bool:
        return self.reason is Reason.GRANTED

    @property
    def open_seconds(self) -> int:
        """How long the door stays open; 0 when it does not open."""
        if not self.is_granted:
            return 0
        return EXTENDED_OPEN_SECONDS if self.holder and self.holder.extended_time else OPEN_SECONDS

    @property
    def steps(self) -> tuple[Step, ...]:
        return steps_to(self.reason, self.shown)


def bits_of(key: CardKey, formats: Mapping[int, CardFormat], issue_level: int | None = None) -> RawRead:
    """Give the bits a card with these numbers sends; of which issue it is, where its format has that.

    Raises Invalid for an unknown format, or numbers it cannot carry.
    """
    layout = formats.get(key.format_id)
    if layout is None:
        raise Invalid.of("input.no_longer_there", "format")
    others = {} if issue_level is None or layout.issue_level is None else {"issue_level": issue_level}
    return layout.encode(CardNumbers(key.facility_code, key.card_number), others)


def read_card(read: RawRead, formats: Mapping[int, CardFormat]) -> tuple[CardKey, ...] | DecodeFault:
    """Give every card a raw read may stand for, in the order of the formats, or why it stands for none."""
    fault = DecodeFault.WRONG_LENGTH
    keys = []
    length_bits = read.length_bits
    for format_id, card_format in formats.items():
        if card_format.length_bits != length_bits:
            continue
        found = card_format.decode(read)
        if isinstance(found, tuple):
            facility_code, card_number = found
            keys.append(CardKey(format_id, facility_code, card_number))
        else:
            # whatever does not add up, an operator is told the same of it: a bad read, or another format
            fault = DecodeFault.WRONG_PARITY
    return tuple(keys) or fault


def decide(
    read: RawRead | None,
    reader_id: int,
    at: datetime,
    records: Records,
    typed: str | None = None,
    *,
    is_resting: bool = False,
) -> Verdict:
    """Decide at an instant what was shown to a reader: a card, a PIN that was typed, or both.

    The same records, credentials and instant always give the same verdict. ``is_resting`` says that the keypad
    takes no PIN just now.
    """
    if typed is not None:
        return _decide_with_pin(read, typed, reader_id, at, records, is_resting)
    plan = records.plan
    door_id = plan.door_of_reader.get(reader_id)
    if door_id is None or read is None:
        return Verdict(Reason.UNKNOWN_READER)
    way = plan.way_of_reader.get(reader_id, ANY_CARD)
    found = _find_card(read, way, at, records)
    if isinstance(found, Verdict):
        return found
    card, holder = found
    if way.mode is ReaderMode.CARD_AND_PIN:
        return Verdict(Reason.PIN_MISSING, card.key, holder, None, Shown.CARD_AND_PIN, False, card.is_watched)
    reason, group_id = _judge_holder_at(holder, door_id, plan, at)
    return Verdict(reason, card.key, holder, group_id, Shown.CARD, False, card.is_watched)


def _judge_holder_at(holder: Holder, door_id: int, plan: Plan, at: datetime) -> tuple[Reason, int | None]:
    if against_holder := judge_holder(holder, at):
        return against_holder, None
    return judge_memberships(holder.memberships, door_id, plan, at)


def _find_card(read: RawRead, way: Way, at: datetime, records: Records) -> tuple[Card, Holder] | Verdict:
    """Give the card that was read, with its holder, or the verdict when it is none that counts."""
    formats = records.plan.formats
    if way is not ANY_CARD:
        if not way.mode.takes_cards:
            return Verdict(Reason.CARD_NOT_TAKEN)
        formats = {id_: one for id_, one in formats.items() if way.reads(id_)}
    keys = read_card(read, formats)
    if isinstance(keys, DecodeFault):
        if way.formats is not None and isinstance(others := read_card(read, records.plan.formats), tuple):
            return Verdict(Reason.FORMAT_NOT_READ, others[0])
        return Verdict(Reason(keys.value))
    for key in keys:
        if known := records.holder_of_card.get(key):
            break
    else:
        return Verdict(Reason.UNKNOWN_CARD, keys[0])
    card, holder = known
    against = judge_card(card, at, records.uses_of(card) if card.limit else 0)
    is_old = card.issue_level is not None and _level_in(read, formats[key.format_id]) != card.issue_level
    if is_old and against in (None, Reason.CARD_OUTSIDE_HOURS):  # at no hour does an earlier issue open anything
        against = Reason.CARD_SUPERSEDED
    return Verdict(against, key, holder, is_watched=card.is_watched) if against else known


def _level_in(read: RawRead, card_format: CardFormat) -> int | None:
    fields = card_format.read_fields(read)
    return None if isinstance(fields, DecodeFault) else fields.get("issue_level")


def _decide_with_pin(
    read: RawRead | None, typed: str, reader_id: int, at: datetime, records: Records, is_resting: bool
) -> Verdict:
    plan = records.plan
    door_id = plan.door_of_reader.get(reader_id)
    way = plan.way_of_reader.get(reader_id, ANY_CARD)
    shown = Shown.PIN if read is None else Shown.CARD_AND_PIN
    if door_id is None:
        return Verdict(Reason.UNKNOWN_READER, shown=shown)
    if not way.mode.takes_pins or (read is None and not way.mode.takes_pins_alone):
        return Verdict(Reason.PIN_NOT_TAKEN, shown=shown)
    if is_resting:
        return Verdict(Reason.KEYPAD_RESTS, shown=shown)
    plainly, under_duress = plan.pins.hashes(typed)
    if read is None:
        return _decide_by_pin_alone(plainly, under_duress, door_id, at, records)
    found = _find_card(read, way, at, records)
    if isinstance(found, Verdict):
        return found._replace(shown=shown)
    card, holder = found
    about = Verdict(Reason.PIN_WRONG, card.key, holder, None, shown, False, card.is_watched)
    for hash_, is_duress in ((plainly, False), (under_duress, True)):
        if pin := next((one for one in holder.pins if one.hash == hash_), None):
            reason, group_id = judge_pin(pin, at), None
            if reason is None:
                reason, group_id = _judge_holder_at(holder, door_id, plan, at)
            return about._replace(reason=reason, group_id=group_id, is_duress=is_duress, pin_id=pin.id)
    return about if holder.pins else about._replace(reason=Reason.PIN_MISSING)


def _decide_by_pin_alone(
    plainly: str, under_duress: str | None, door_id: int, at: datetime, records: Records
) -> Verdict:
    known = records.holder_of_pin.get(plainly)
    is_duress = known is None and under_duress is not None
    if is_duress:
        known = records.holder_of_pin.get(under_duress or "")
    if known is None:
        return Verdict(Reason.PIN_WRONG, shown=Shown.PIN)
    pin, holder = known
    reason, group_id = judge_pin(pin, at), None
    if reason is None:
        reason, group_id = _judge_holder_at(holder, door_id, records.plan, at)
    return Verdict(reason, None, holder, group_id, Shown.PIN, is_duress, pin_id=pin.id)


def opens_next(verdict: Verdict, reader_id: int, at: datetime, records: Records) -> datetime | None:
    """Give, for a read that was outside of the hours, when they begin next; None when not within two weeks.

    A door needs no answer to this, so `decide` does not wait for it.
    """
    if verdict.reason not in (Reason.OUTSIDE_HOURS, Reason.CARD_OUTSIDE_HOURS) or verdict.holder is None:
        return None
    plan, holder = records.plan, verdict.holder
    # only by what was shown: another card or PIN of theirs may open it sooner
    shown = replace(
        holder,
        cards=tuple(card for card in holder.cards if card.key == verdict.card),
        pins=tuple(replace(pin, opens_alone=True) for pin in holder.pins if pin.id == verdict.pin_id),
    )
    way = plan.way_of_reader.get(reader_id, ANY_CARD)._replace(mode=ReaderMode(verdict.shown.value))
    return next_opening(shown, plan.door_of_reader[reader_id], plan, at, Span(at, at + LOOKS_AHEAD), [way])


def told(verdict: Verdict, opens_at: datetime | None) -> dict[str, object]:
    """Write a verdict as an event carries it, with when the hours begin next."""
    marks = {
        "shown": verdict.shown.value if verdict.shown is not Shown.CARD else None,
        "duress": verdict.is_duress or None,
        "watched": verdict.is_watched or None,
    }
    event: dict[str, object] = {
        "reason": verdict.reason.value,
        "card": list(verdict.card) if verdict.card else None,
        "cardholder": verdict.holder.id if verdict.holder else None,
        "name": verdict.holder.display_name if verdict.holder else "",
        "group": verdict.group_id,
        "opens_at": opens_at.isoformat() if opens_at else None,
    }
    return event | {name: mark for name, mark in marks.items() if mark}

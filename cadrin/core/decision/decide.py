"""Decide one read from the records a controller holds: verdict, reason, and the steps that led to it."""

from collections.abc import Mapping
from datetime import datetime, timedelta
from enum import StrEnum
from typing import NamedTuple, Protocol

from cadrin.core.access.plan import Card, CardKey, Holder, Plan
from cadrin.core.access.rights import Reason, judge_card, judge_holder, judge_memberships, next_opening
from cadrin.core.cards.formats import CardFormat, DecodeFault, RawRead
from cadrin.core.validity import Span

LOOKS_AHEAD = timedelta(weeks=2)


class Records(Protocol):
    """What a decision is made from."""

    @property
    def plan(self) -> Plan: ...
    @property
    def holder_of_card(self) -> Mapping[CardKey, tuple[Card, Holder]]: ...


class Check(StrEnum):
    """The questions a decision asks, in this order. The first that fails ends it."""

    READER = "reader"
    READ = "read"
    CARD_KNOWN = "card_known"
    CARD_IN_FORCE = "card_in_force"
    CARDHOLDER_IN_FORCE = "cardholder_in_force"
    MEMBERSHIP = "membership"
    HOURS = "hours"


FAILING_CHECK = {
    Reason.UNKNOWN_READER: Check.READER,
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


class Step(NamedTuple):
    """One question and its answer; ``passed`` is None where the decision never came so far."""

    check: Check
    passed: bool | None


def steps_to(reason: Reason) -> tuple[Step, ...]:
    """Give every question in order, up to the one that decided and on to those no longer asked."""
    failing = FAILING_CHECK.get(reason)
    steps, answer = [], True
    for check in Check:
        if check is failing:
            steps.append(Step(check, False))
            answer = False
        else:
            steps.append(Step(check, True if answer else None))
    return tuple(steps)


_STEPS = {reason: steps_to(reason) for reason in Reason}


class Verdict(NamedTuple):
    """The outcome of one read, with what was found on the way to it.

    ``group_id`` is the access group that opened the door, or came closest.
    """

    reason: Reason
    card: CardKey | None = None
    holder: Holder | None = None
    group_id: int | None = None

    @property
    def is_granted(self) -> bool:
        return self.reason is Reason.GRANTED

    @property
    def steps(self) -> tuple[Step, ...]:
        return _STEPS[self.reason]


def read_card(read: RawRead, formats: Mapping[int, CardFormat]) -> tuple[CardKey, ...] | DecodeFault:
    """Give every card a raw read may stand for, in the order of the formats, or why it stands for none."""
    fault = DecodeFault.WRONG_LENGTH
    keys = []
    for format_id, card_format in formats.items():
        found = card_format.decode(read)
        if isinstance(found, tuple):
            facility_code, card_number = found
            keys.append(CardKey(format_id, facility_code, card_number))
        elif found is not DecodeFault.WRONG_LENGTH:
            # whatever does not add up, an operator is told the same of it: a bad read, or another format
            fault = DecodeFault.WRONG_PARITY
    return tuple(keys) or fault


def decide(read: RawRead, reader_id: int, at: datetime, records: Records) -> Verdict:
    """Decide one read at an instant. The same records, read and instant always give the same verdict."""
    plan = records.plan
    door_id = plan.door_of_reader.get(reader_id)
    if door_id is None:
        return Verdict(Reason.UNKNOWN_READER)
    keys = read_card(read, plan.formats)
    if isinstance(keys, DecodeFault):
        return Verdict(Reason(keys.value))
    for key in keys:
        if known := records.holder_of_card.get(key):
            break
    else:
        return Verdict(Reason.UNKNOWN_CARD, keys[0])
    card, holder = known
    if against_card := judge_card(card, at):
        return Verdict(against_card, key, holder)
    if against_holder := judge_holder(holder, at):
        return Verdict(against_holder, key, holder)
    reason, group_id = judge_memberships(holder.memberships, door_id, plan, at)
    return Verdict(reason, key, holder, group_id)


def opens_next(verdict: Verdict, reader_id: int, at: datetime, records: Records) -> datetime | None:
    """Give, for a read that was outside of the hours, when they begin next; None when not within two weeks.

    A door needs no answer to this, so `decide` does not wait for it.
    """
    if verdict.reason is not Reason.OUTSIDE_HOURS or verdict.holder is None:
        return None
    door_id = records.plan.door_of_reader[reader_id]
    cards = [card for card in verdict.holder.cards if card.key == verdict.card]
    return next_opening(verdict.holder, door_id, records.plan, at, Span(at, at + LOOKS_AHEAD), cards)


def told(verdict: Verdict, opens_at: datetime | None) -> dict[str, object]:
    """Write a verdict as an event carries it, with when the hours begin next."""
    return {
        "reason": verdict.reason.value,
        "card": list(verdict.card) if verdict.card else None,
        "cardholder": verdict.holder.id if verdict.holder else None,
        "name": verdict.holder.display_name if verdict.holder else "",
        "group": verdict.group_id,
        "opens_at": opens_at.isoformat() if opens_at else None,
    }

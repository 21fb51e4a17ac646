"""Decide one read from the records a controller holds: verdict, reason, and the steps that led to
it.
"""

from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta
from typing import NamedTuple, Protocol

from cadrin.core.access.plan import ANY_DOOR, Holder, Plan
from cadrin.core.access.rights import judge_holder, judge_memberships, next_opening
from cadrin.core.credentials.biometric import Biometric, Sample
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.raw_reads import DecodeFault, RawRead
from cadrin.core.credentials.card.reading import level_in, read_card
from cadrin.core.credentials.factors import (
    ANY_CARD,
    FACTORS,
    JUST_A_CARD,
    Evidence,
    Factor,
    Factors,
    ReaderPolicy,
    alternatives_by_card_alone,
    factors_of,
)
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.reasons import REASONS, Check, Reason
from cadrin.core.validity import Span

LOOKS_AHEAD = timedelta(weeks=2)


class Records(Protocol):
    """What a decision is made from."""

    @property
    def plan(self) -> Plan: ...
    @property
    def holder_of_card(self) -> Mapping[CardKey, tuple[Card, Holder]]: ...
    @property
    def holder_of_pin(self) -> Mapping[str, tuple[Pin, Holder]]: ...
    @property
    def holder_of_plate(self) -> Mapping[str, tuple[Plate, Holder]]: ...
    def uses_of(self, card: Card) -> int: ...
    def matching(
        self, factor: Factor, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return whose finger or face it is, among everybody's or one cardholder's, and the
        template that is most like it; None where none is like enough.
        """


class Step(NamedTuple):
    """One question and its answer; ``passed`` is None where the decision never came so far."""

    check: Check
    passed: bool | None


def steps_to(reason: Reason, factors: Factors = JUST_A_CARD) -> tuple[Step, ...]:
    """Return every question in order that is asked of these factors, up to the one that decided and
    on.
    """
    failing = None if reason is Reason.GRANTED else REASONS[reason].check
    not_asked = frozenset[Check]().union(
        *(FACTORS[factor].checks for factor in Factor if factor not in factors)
    )
    steps, answer = [], True
    for check in Check:
        if check in not_asked and check is not failing:
            continue
        if check is failing:
            steps.append(Step(check, False))
            answer = False
        else:
            steps.append(Step(check, True if answer else None))
    return tuple(steps)


class Verdict(NamedTuple):
    """The outcome of one read, with what was found on the way to it.

    ``group_id`` is the access group that opened the door, or came closest; ``factors`` what was
    presented, and what was missing beside it; ``pin_id`` the PIN that was typed, where it was a
    right one. Under duress nothing at the door looks different. ``open_seconds`` is how long the
    door stays open; 0 when it does not open.
    """

    reason: Reason
    card: CardKey | None = None
    holder: Holder | None = None
    group_id: int | None = None
    factors: Factors = JUST_A_CARD
    is_duress: bool = False
    is_watched: bool = False
    pin_id: int | None = None
    open_seconds: int = 0

    @property
    def is_granted(self) -> bool:
        return self.reason is Reason.GRANTED

    @property
    def steps(self) -> tuple[Step, ...]:
        return steps_to(self.reason, self.factors)


def decide(
    evidence: Evidence, reader_id: int, at: datetime, records: Records, *, is_locked: bool = False
) -> Verdict:
    """Decide at an instant what was presented to a reader: a card, a plate, a finger, a face, a PIN
    that was typed, or several of them.

    The same records, evidence and instant always give the same verdict. ``is_locked`` says that the
    keypad takes no PIN just now. Everything that is presented must be right, whether the reader
    asked for it or not.
    """
    plan, factors = records.plan, evidence.factors
    door_id = plan.door_of_reader.get(reader_id)
    if door_id is None or not factors:
        return Verdict(Reason.UNKNOWN_READER, factors=factors)
    policy = plan.policy_of_reader.get(reader_id, ANY_CARD).at(at)
    is_plain = factors is JUST_A_CARD and policy is ANY_CARD  # nearly always
    if not is_plain and (not_taken := _not_taken(factors, policy, is_locked)):
        return Verdict(not_taken, factors=factors)
    found = (
        _find_card(evidence.read, policy, at, records)
        if is_plain and evidence.read is not None
        else _identify(evidence, factors, policy, at, records)
    )
    if found.reason is not Reason.GRANTED or found.holder is None:
        return found
    if not is_plain and (short := _what_is_short(found, found.holder, policy, at)):
        return short
    return _judge_holder(found, found.holder, door_id, plan, at)


def _what_is_short(
    found: Verdict, holder: Holder, policy: ReaderPolicy, at: datetime
) -> Verdict | None:
    """Return the verdict where what was presented, right as it is, is not enough; None where it
    is.
    """
    factors = found.factors
    less = alternatives_by_card_alone(policy.alternatives) if holder.is_by_card_alone(at) else ()
    if Factor.CARD in factors and not less and not policy.takes(Factor.CARD):
        return found._replace(reason=Reason.CARD_NOT_TAKEN, is_duress=False)
    missing = _missing(factors, (*_alternatives_for(found, policy), *less))
    if missing is None:
        return None
    both = factors_of((*factors, missing))
    return found._replace(
        reason=FACTORS[missing].missing, factors=both, pin_id=None, is_duress=False
    )


def _not_taken(factors: Factors, policy: ReaderPolicy, is_locked: bool) -> Reason | None:
    """Return the reason against presenting these at all. A PIN says who it is only where it opens
    alone.
    """
    # the PIN first: while the keypad is locked nothing is looked at
    for factor in reversed(factors):
        is_alone = factors == (Factor.PIN,)
        is_taken = policy.takes(factor) or (factor is Factor.CARD and policy.looks_at_cards)
        if not is_taken or (is_alone and factors not in policy.alternatives):
            return FACTORS[factor].not_taken
        if factor is Factor.PIN and is_locked:
            return Reason.KEYPAD_LOCKED
    return None


def _alternatives_for(found: Verdict, policy: ReaderPolicy) -> tuple[Factors, ...]:
    """Return the alternatives that count: a PIN that needs a card beside it meets none that asks
    for it alone.
    """
    pins = found.holder.pins if found.holder and found.pin_id is not None else ()
    if not any(pin.id == found.pin_id and not pin.opens_alone for pin in pins):
        return policy.alternatives
    return tuple(alternative for alternative in policy.alternatives if alternative != (Factor.PIN,))


def _missing(factors: Factors, alternatives: tuple[Factors, ...]) -> Factor | None:
    """Return the first factor that is missing for the alternative that these come closest to; None
    when one is met.
    """
    lacking = [
        [factor for factor in alternative if factor not in factors]
        for alternative in alternatives
        if set(alternative) & set(factors)
    ]
    nearest = min(lacking, key=len, default=[])
    return nearest[0] if nearest else None


def _identify(
    evidence: Evidence, factors: Factors, policy: ReaderPolicy, at: datetime, records: Records
) -> Verdict:
    """Find whose evidence it is, and whether each piece of it is theirs and works: GRANTED so far,
    or why not.
    """
    found = Verdict(Reason.GRANTED, factors=factors)
    if evidence.read is not None:
        found = _find_card(evidence.read, policy, at, records)
        if factors is not JUST_A_CARD:
            found = found._replace(factors=factors)
    if evidence.plate is not None and found.is_granted:
        found = _find_plate(evidence.plate, found, records)
    for factor, sample in ((Factor.FINGER, evidence.finger), (Factor.FACE, evidence.face)):
        if sample is not None and found.is_granted:
            found = _find_biometric(factor, sample, policy, found, at, records)
    if evidence.typed is not None and found.is_granted:
        found = _find_pin(evidence.typed, found, at, records)
    return found


def _find_card(read: RawRead, policy: ReaderPolicy, at: datetime, records: Records) -> Verdict:
    formats = records.plan.formats
    if policy.formats is not None:
        formats = {id_: layout for id_, layout in formats.items() if policy.reads(id_)}
    keys = read_card(read, formats)
    if isinstance(keys, DecodeFault):
        if policy.formats is not None and isinstance(
            others := read_card(read, records.plan.formats), tuple
        ):
            return Verdict(Reason.FORMAT_NOT_READ, others[0])
        return Verdict(Reason(keys.value))
    for key in keys:
        if known := records.holder_of_card.get(key):
            break
    else:
        return Verdict(Reason.UNKNOWN_CARD, keys[0])
    card, holder = known
    against = card.reason_against(at, records.uses_of(card) if card.limit else 0)
    is_old = (
        card.issue_level is not None and level_in(read, formats[key.format_id]) != card.issue_level
    )
    # at no hour does an earlier issue open anything
    if is_old and against in (None, Reason.CARD_OUTSIDE_HOURS):
        against = Reason.CARD_SUPERSEDED
    reason = against or Reason.GRANTED
    return Verdict(reason, key, holder, None, JUST_A_CARD, False, card.is_watched)


def _find_plate(number: str, found: Verdict, records: Records) -> Verdict:
    known = records.holder_of_plate.get(number)
    if known is None:
        return found._replace(reason=Reason.UNKNOWN_PLATE)
    _, holder = known
    if found.holder is not None and found.holder.id != holder.id:
        return found._replace(reason=Reason.PLATE_OF_ANOTHER)
    return found._replace(holder=holder)


def _find_biometric(
    factor: Factor,
    sample: Sample,
    policy: ReaderPolicy,
    found: Verdict,
    at: datetime,
    records: Records,
) -> Verdict:
    """Compare a finger or a face with those of whoever was found, or find whose it is."""
    facts = _BIOMETRIC_REASONS[factor]
    if found.holder is not None and not found.holder.biometrics(factor):
        return found._replace(reason=facts.missing)
    known = records.matching(factor, sample, policy, found.holder)
    if known is None:
        return found._replace(reason=facts.unknown if found.holder is None else facts.of_another)
    template, holder = known
    return found._replace(
        reason=template.reason_against(at) or Reason.GRANTED,
        holder=holder,
        is_duress=found.is_duress or template.is_duress,
    )


class _BiometricReasons(NamedTuple):
    missing: Reason
    unknown: Reason
    of_another: Reason


_BIOMETRIC_REASONS: Mapping[Factor, _BiometricReasons] = {
    Factor.FINGER: _BiometricReasons(
        Reason.FINGER_MISSING, Reason.UNKNOWN_FINGER, Reason.FINGER_OF_ANOTHER
    ),
    Factor.FACE: _BiometricReasons(
        Reason.FACE_MISSING, Reason.UNKNOWN_FACE, Reason.FACE_OF_ANOTHER
    ),
}


def _find_pin(typed: str, found: Verdict, at: datetime, records: Records) -> Verdict:
    """Compare what was typed with the PINs of whoever was found, or find whose it is; plainly, then
    under duress.
    """
    hashes = records.plan.pins.hashes(typed)
    for hash_, is_duress in zip(hashes, (False, True), strict=True):
        pin, holder = _pin_with(hash_, found.holder, records)
        if pin is not None:
            reason = pin.reason_against(at) or Reason.GRANTED
            return found._replace(
                reason=reason,
                holder=holder,
                is_duress=found.is_duress or is_duress,
                pin_id=pin.id,
            )
    has_none = found.holder is not None and not found.holder.pins
    return found._replace(reason=Reason.PIN_MISSING if has_none else Reason.PIN_WRONG)


def _pin_with(
    hash_: str | None, holder: Holder | None, records: Records
) -> tuple[Pin | None, Holder | None]:
    if holder is not None:
        return next((pin for pin in holder.pins if pin.hash == hash_), None), holder
    return records.holder_of_pin.get(hash_ or "", (None, None))


def _judge_holder(
    found: Verdict, holder: Holder, door_id: int, plan: Plan, at: datetime
) -> Verdict:
    if against := judge_holder(holder, at):
        return found._replace(reason=against)
    reason, group_id = judge_memberships(holder.memberships, door_id, plan, at)
    open_seconds = 0
    if reason is Reason.GRANTED:
        door = plan.doors.get(door_id, ANY_DOOR)
        open_seconds = door.extended_open_seconds if holder.extended_time else door.open_seconds
    return Verdict(
        reason,
        found.card,
        holder,
        group_id,
        found.factors,
        found.is_duress,
        found.is_watched,
        found.pin_id,
        open_seconds,
    )


def opens_next(verdict: Verdict, reader_id: int, at: datetime, records: Records) -> datetime | None:
    """Return, for a read that was outside of the hours, when they begin next; None when not within
    two weeks.

    A door needs no answer to this, so `decide` does not wait for it.
    """
    if (
        verdict.reason not in (Reason.OUTSIDE_HOURS, Reason.CARD_OUTSIDE_HOURS)
        or verdict.holder is None
    ):
        return None
    plan, holder = records.plan, verdict.holder
    # only by what was presented: another card or PIN of theirs may open it sooner
    presented = replace(
        holder,
        cards=tuple(card for card in holder.cards if card.key == verdict.card),
        pins=tuple(
            replace(pin, opens_alone=True) for pin in holder.pins if pin.id == verdict.pin_id
        ),
    )
    policy = plan.policy_of_reader.get(reader_id, ANY_CARD)
    if not policy.by_hours:
        policy = replace(policy, alternatives=(verdict.factors,))
    span = Span(at, at + LOOKS_AHEAD)
    return next_opening(presented, plan.door_of_reader[reader_id], plan, at, span, [policy])

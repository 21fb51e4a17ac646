"""Decide one read from the records a controller holds: verdict, reason, and the steps that led to
it.
"""

from dataclasses import replace
from datetime import datetime, timedelta

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.rights import judge_holder, judge_memberships, next_opening
from cadrin.core.credentials.card.raw_reads import RawRead
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
from cadrin.core.decision.identifying import Records, identify
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.judging import judge_door
from cadrin.core.doors.rules import ANY_DOOR, DoorRules
from cadrin.core.doors.state import NOBODY_THERE, House
from cadrin.core.validity import ALWAYS, Span

LOOKS_AHEAD = timedelta(weeks=2)
_GRANTED = Reason.GRANTED
_OF_HOURS = (Reason.OUTSIDE_HOURS, Reason.CARD_OUTSIDE_HOURS, Reason.DOOR_CLOSED)


def decide(
    evidence: Evidence,
    reader_id: int,
    at: datetime,
    records: Records,
    house: House = NOBODY_THERE,
    *,
    is_locked: bool = False,
) -> Verdict:
    """Decide at an instant what was presented to a reader: a card, a plate, a finger, a face, a PIN
    that was typed, or several of them.

    The same records, evidence and instant always give the same verdict. ``is_locked`` says that the
    keypad takes no PIN just now; ``house`` is what doors and people did before, which
    `cadrin.core.doors.passing.after_read` takes further. Everything that is presented must be right, whether the reader
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
    is_out = reader_id in plan.readers_out
    judged = None
    if is_plain and evidence.read is not None:
        judged = _of_plain_card(evidence.read, door_id, at, records, is_out)
    if judged is None:
        found = identify(evidence, factors, policy, at, records)
        if found.reason is not _GRANTED or found.holder is None:
            return found
        if not is_plain and (short := _what_is_short(found, found.holder, policy, at)):
            return short
        reason, group_id, seconds = _judge_holder(found.holder, door_id, plan, at, is_out)
        judged = found._replace(reason=reason, group_id=group_id, open_seconds=seconds)
    rules = plan.doors.get(door_id)
    if rules is None or judged.reason is not _GRANTED or judged.holder is None:
        return judged
    return _judge_door(judged, judged.holder, reader_id, rules, plan, house, at)


def _judge_door(
    judged: Verdict,
    holder: Holder,
    reader_id: int,
    rules: DoorRules,
    plan: Plan,
    house: House,
    at: datetime,
) -> Verdict:
    said = judge_door(holder.id, reader_id, rules, plan, house, at)
    if said.reason is _GRANTED and not said.is_passed_back:
        return judged
    open_seconds = judged.open_seconds if said.reason is _GRANTED else 0
    return judged._replace(
        reason=said.reason, open_seconds=open_seconds, is_passed_back=said.is_passed_back
    )


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


def _of_plain_card(
    read: RawRead, door_id: int, at: datetime, records: Records, is_out: bool
) -> Verdict | None:
    """Judge a card that is found by its bits, and against which nothing speaks, in one step; None
    where it takes a closer look.
    """
    known = records.holder_of_bits.get(read.as_one)
    if known is None:
        return None
    card, holder = known
    span = card.span
    if span is not ALWAYS and at not in span:
        return None
    reason, group_id, seconds = _judge_holder(holder, door_id, records.plan, at, is_out)
    # all fields by place: a third of the time that naming them takes
    said = (reason, card.key, holder, group_id, JUST_A_CARD, False, card.is_watched, None, seconds)
    return Verdict._make((*said, False))


def _judge_holder(
    holder: Holder, door_id: int, plan: Plan, at: datetime, is_out: bool
) -> tuple[Reason, int | None, int]:
    """Return the reason, the access group it rests on, and for how many seconds the door opens."""
    if against := judge_holder(holder, at):
        return against, None, 0
    reason, group_id = judge_memberships(holder.memberships, door_id, plan, at, is_out=is_out)
    if reason is not _GRANTED:
        return reason, group_id, 0
    door = plan.doors.get(door_id, ANY_DOOR)
    seconds = door.extended_open_seconds if holder.extended_time else door.open_seconds
    return reason, group_id, seconds


def opens_next(verdict: Verdict, reader_id: int, at: datetime, records: Records) -> datetime | None:
    """Return, for a read that was outside of the hours, when they begin next; None when not within
    two weeks.

    A door needs no answer to this, so `decide` does not wait for it.
    """
    if verdict.reason not in _OF_HOURS or verdict.holder is None:
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
    door_id, is_out = plan.door_of_reader[reader_id], reader_id in plan.readers_out
    return next_opening(presented, door_id, plan, at, span, [policy], is_out=is_out)

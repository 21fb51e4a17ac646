"""The entitlement of one cardholder at one door, and the one reason that holds at an instant."""

from collections.abc import Iterable
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.access.plan import Card, Holder, Membership, Pin, Plan, ReaderMode, Way
from cadrin.core.cards.status import CardStatus, card_state_at
from cadrin.core.validity import Span, Standing, State, bounds, join, meet, span_in_force, state_at, state_in_span


class Reason(StrEnum):
    """Why a read was granted or denied: exactly one for each verdict."""

    GRANTED = "granted"
    UNKNOWN_READER = "unknown_reader"
    NO_WAY_IN = "no_way_in"
    WRONG_LENGTH = "wrong_length"
    WRONG_PARITY = "wrong_parity"
    UNKNOWN_CARD = "unknown_card"
    CARD_PENDING = "card_pending"
    CARD_EXPIRED = "card_expired"
    CARD_SUSPENDED = "card_suspended"
    CARD_LOST = "card_lost"
    CARD_STOLEN = "card_stolen"
    CARD_DAMAGED = "card_damaged"
    CARD_NOT_ISSUED = "card_not_issued"
    CARD_SUPERSEDED = "card_superseded"
    CARD_USED_UP = "card_used_up"
    CARD_OUTSIDE_HOURS = "card_outside_hours"
    CARD_NOT_TAKEN = "card_not_taken"
    FORMAT_NOT_READ = "format_not_read"
    PIN_NOT_TAKEN = "pin_not_taken"
    PIN_MISSING = "pin_missing"
    PIN_WRONG = "pin_wrong"
    PIN_EXPIRED = "pin_expired"
    KEYPAD_RESTS = "keypad_rests"
    CARDHOLDER_PENDING = "cardholder_pending"
    CARDHOLDER_EXPIRED = "cardholder_expired"
    CARDHOLDER_SUSPENDED = "cardholder_suspended"
    CARDHOLDER_BARRED = "cardholder_barred"
    CARDHOLDER_DEPARTED = "cardholder_departed"
    NO_MEMBERSHIP = "no_membership"
    MEMBERSHIP_PENDING = "membership_pending"
    MEMBERSHIP_EXPIRED = "membership_expired"
    OUTSIDE_HOURS = "outside_hours"


REASON_OF_HOLDER_STATE = {
    State.PENDING: Reason.CARDHOLDER_PENDING,
    State.EXPIRED: Reason.CARDHOLDER_EXPIRED,
    State.SUSPENDED: Reason.CARDHOLDER_SUSPENDED,
    State.BARRED: Reason.CARDHOLDER_BARRED,
    State.DEPARTED: Reason.CARDHOLDER_DEPARTED,
}
REASON_OF_CARD_STATUS = {
    CardStatus.SUSPENDED: Reason.CARD_SUSPENDED,
    CardStatus.LOST: Reason.CARD_LOST,
    CardStatus.STOLEN: Reason.CARD_STOLEN,
    CardStatus.DAMAGED: Reason.CARD_DAMAGED,
    CardStatus.IN_STOCK: Reason.CARD_NOT_ISSUED,
    CardStatus.RETURNED: Reason.CARD_NOT_ISSUED,
    CardStatus.DESTROYED: Reason.CARD_NOT_ISSUED,
}


class Judgement(NamedTuple):
    """A reason, and the access group it rests on, if it rests on one."""

    reason: Reason
    group_id: int | None = None


def judge_card(card: Card, at: datetime, uses_here: int = 0) -> Reason | None:
    """Give the reason against a card at an instant; None when there is none.

    ``uses_here`` are those that only the controller that asks knows of.
    """
    if card.limit is None and card.hours is None and card.status is CardStatus.ISSUED and at in card.span:
        return None  # nearly always, at doors
    if against := judge_card_at_any_hour(card, at, uses_here):
        return against
    return None if card.hours is None or card.hours.is_open(at) else Reason.CARD_OUTSIDE_HOURS


def judge_card_at_any_hour(card: Card, at: datetime, uses_here: int = 0) -> Reason | None:
    """Give the reason against a card, leaving its own hours aside."""
    state = card_state_at(card.status, card.span, at, card.suspended_until).state
    if state is State.SUSPENDED:
        return REASON_OF_CARD_STATUS[card.status]
    if state is not State.IN_FORCE:
        return Reason.CARD_PENDING if state is State.PENDING else Reason.CARD_EXPIRED
    return Reason.CARD_USED_UP if card.limit and card.limit.is_used_up(uses_here) else None


def judge_pin(pin: Pin, at: datetime) -> Reason | None:
    """Give the reason against a PIN at an instant; None when there is none."""
    return None if at in pin.span else Reason.PIN_EXPIRED


def judge_credentials(holder: Holder, way: Way, at: datetime) -> Reason | None:
    """Give what the best of a cardholder's credentials would meet with at a reader; None when one is taken.

    Without any card the reason is UNKNOWN_CARD: there is nothing a reader could know.
    """
    if not way.mode.takes_cards:
        return _best_pin(holder, at, alone=True)
    against = _best_card(holder, way, at)
    if way.mode is ReaderMode.CARD_AND_PIN:
        return against or _best_pin(holder, at, alone=False)
    if against and way.mode is ReaderMode.CARD_OR_PIN and _best_pin(holder, at, alone=True) is None:
        return None
    return against


def _best_card(holder: Holder, way: Way, at: datetime) -> Reason | None:
    if not holder.cards:
        return Reason.UNKNOWN_CARD
    against = [judge_card(card, at) for card in holder.cards if way.reads(card.key.format_id)]
    if not against:
        return Reason.FORMAT_NOT_READ
    return None if None in against else against[0]


def _best_pin(holder: Holder, at: datetime, *, alone: bool) -> Reason | None:
    against = [judge_pin(pin, at) for pin in holder.pins if pin.opens_alone or not alone]
    if not against:
        return Reason.PIN_MISSING
    return None if None in against else against[0]


def judge_holder(holder: Holder, at: datetime) -> Reason | None:
    """Give the reason against a cardholder at an instant, wherever they are; None when there is none."""
    if holder.standing is Standing.ACTIVE and at in holder.span:  # nearly always, at doors
        return None
    state = state_at(holder.standing, holder.span, at, holder.suspended_until).state
    return None if state is State.IN_FORCE else REASON_OF_HOLDER_STATE[state]


def judge_memberships(memberships: tuple[Membership, ...], door_id: int, plan: Plan, at: datetime) -> Judgement:
    """Say whether one of the memberships opens the door at an instant, or come as close to it as any does."""
    ahead = over = closed = None
    for membership in memberships:
        group = plan.groups.get(membership.group_id)
        if group is None or (schedule_ids := group.schedules_of_door.get(door_id)) is None:
            continue
        span = membership.span
        if at in span:
            for schedule_id in schedule_ids:
                schedule = plan.schedules.get(schedule_id)
                if schedule is not None and schedule.is_open(at):
                    return Judgement(Reason.GRANTED, membership.group_id)
            closed = membership.group_id
        elif state_in_span(span, at).state is State.PENDING:
            ahead = membership.group_id
        else:
            over = membership.group_id
    if closed is not None:
        return Judgement(Reason.OUTSIDE_HOURS, closed)
    if ahead is not None:
        return Judgement(Reason.MEMBERSHIP_PENDING, ahead)
    if over is not None:
        return Judgement(Reason.MEMBERSHIP_EXPIRED, over)
    return Judgement(Reason.NO_MEMBERSHIP)


def lit_at_door(
    holder: Holder, door_id: int, plan: Plan, span: Span, ways: Iterable[Way] | None = None
) -> tuple[Span, ...]:
    """Give the time in a bounded span in which the door opens for the cardholder, by any of ``ways``.

    ``ways`` are those into the door unless given. This is `decide` for every instant at once.
    """
    in_force = span_in_force(holder.standing, holder.span, holder.suspended_until)
    if in_force is None:
        return ()
    carried = [
        piece
        for way in (plan.ways_into(door_id) if ways is None else ways)
        for credential in _credentials(holder, way, span)
        if not (piece := meet(credential, in_force)).is_empty
    ]
    if not carried:
        return ()
    return join(
        [
            piece
            for hours, membership in _hours_with_membership(holder.memberships, door_id, plan, span)
            for credential in carried
            if not (piece := meet(hours, meet(membership, credential))).is_empty
        ]
    )


def _credentials(holder: Holder, way: Way, span: Span) -> list[Span]:
    """Give the time within a bounded span in which a reader would take one credential or another."""
    cards = [
        piece
        for card in holder.cards
        if way.reads(card.key.format_id) and (in_force := card.in_force)
        for piece in ([in_force] if card.hours is None else [meet(in_force, lit) for lit in card.hours.lit(span)])
    ]
    if way.mode is ReaderMode.CARD:
        return cards
    if way.mode is ReaderMode.CARD_AND_PIN:
        return [meet(card, pin.span) for card in cards for pin in holder.pins]
    return cards + [pin.span for pin in holder.pins if pin.opens_alone]


def _hours_with_membership(
    memberships: tuple[Membership, ...], door_id: int, plan: Plan, span: Span
) -> Iterable[tuple[Span, Span]]:
    for membership in memberships:
        group = plan.groups.get(membership.group_id)
        for schedule_id in group.schedules_of_door.get(door_id, ()) if group else ():
            schedule = plan.schedules.get(schedule_id)
            for hours in schedule.lit(span) if schedule else ():
                yield hours, membership.span


def next_opening(
    holder: Holder, door_id: int, plan: Plan, at: datetime, span: Span, ways: Iterable[Way] | None = None
) -> datetime | None:
    """Give the first instant of ``span`` from ``at`` on in which the door opens; None when it stays shut.

    ``ways`` are those into the door unless given.
    """
    taken = plan.ways_into(door_id) if ways is None else tuple(ways)
    if taken and all(way.mode is ReaderMode.CARD for way in taken):
        quick = _opening_in_hours(holder, door_id, plan, at)
        if quick is not None and all(way.reads(holder.cards[0].key.format_id) for way in taken):
            return quick if quick in span else None
    for start, end in map(bounds, lit_at_door(holder, door_id, plan, span, taken)):
        if at < end:
            return max(start, at)
    return None


def _opening_in_hours(holder: Holder, door_id: int, plan: Plan, at: datetime) -> datetime | None:
    """Answer the common case, in which only the hours stand in the way, without working out two weeks of them."""
    cards = holder.cards
    if len(cards) != 1 or cards[0].hours or judge_card(cards[0], at) or judge_holder(holder, at):
        return None
    first: tuple[datetime, Membership] | None = None
    for membership in holder.memberships:
        group = plan.groups.get(membership.group_id)
        for schedule_id in group.schedules_of_door.get(door_id, ()) if group else ():
            schedule = plan.schedules.get(schedule_id)
            if schedule is None:
                continue
            if at not in membership.span or schedule.is_open(at):
                return None
            opens_at = schedule.opens_after(at)
            if opens_at and (first is None or opens_at < first[0]):
                first = opens_at, membership
    if first is None or any(first[0] not in one.span for one in (first[1], cards[0], holder)):
        return None
    return first[0]

"""The entitlement of one cardholder at one door, and the one reason that holds at an instant."""

from collections.abc import Iterable
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.access.plan import Card, Holder, Membership, Plan
from cadrin.core.cards.status import CardStatus, card_state_at
from cadrin.core.validity import Span, Standing, State, bounds, join, meet, span_in_force, state_at, state_in_span


class Reason(StrEnum):
    """Why a read was granted or denied: exactly one for each verdict."""

    GRANTED = "granted"
    UNKNOWN_READER = "unknown_reader"
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


def judge_card(card: Card, at: datetime) -> Reason | None:
    """Give the reason against a card at an instant; None when there is none."""
    if card.status is CardStatus.ISSUED and at in card.span:  # nearly always, at doors
        return None
    state = card_state_at(card.status, card.span, at).state
    if state is State.IN_FORCE:
        return None
    if card.status is not CardStatus.ISSUED:
        return REASON_OF_CARD_STATUS[card.status]
    return Reason.CARD_PENDING if state is State.PENDING else Reason.CARD_EXPIRED


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
    holder: Holder, door_id: int, plan: Plan, span: Span, cards: Iterable[Card] | None = None
) -> tuple[Span, ...]:
    """Give the time in a bounded span in which the door opens for the cardholder, with any of ``cards``.

    ``cards`` are all of the cardholder's unless given. This is `decide` for every instant at once.
    """
    in_force = span_in_force(holder.standing, holder.span, holder.suspended_until)
    if in_force is None:
        return ()
    carried = [
        meet(card.span, in_force)
        for card in (holder.cards if cards is None else cards)
        if card.status is CardStatus.ISSUED and not card.span.is_empty
    ]
    return join(
        [
            piece
            for hours, membership in _hours_with_membership(holder.memberships, door_id, plan, span)
            for card_span in carried
            if not (piece := meet(hours, meet(membership, card_span))).is_empty
        ]
    )


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
    holder: Holder, door_id: int, plan: Plan, at: datetime, span: Span, cards: Iterable[Card] | None = None
) -> datetime | None:
    """Give the first instant of ``span`` from ``at`` on in which the door opens; None when it stays shut."""
    carried = tuple(holder.cards if cards is None else cards)
    quick = _opening_in_hours(holder, door_id, plan, at, carried)
    if quick is not None:
        return quick if quick in span else None
    for start, end in map(bounds, lit_at_door(holder, door_id, plan, span, carried)):
        if at < end:
            return max(start, at)
    return None


def _opening_in_hours(
    holder: Holder, door_id: int, plan: Plan, at: datetime, cards: tuple[Card, ...]
) -> datetime | None:
    """Answer the common case, in which only the hours stand in the way, without working out two weeks of them."""
    if len(cards) != 1 or judge_card(cards[0], at) or judge_holder(holder, at):
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

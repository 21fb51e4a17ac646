"""The entitlement of one cardholder at one door, and the one reason that holds at an instant."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from cadrin.core.access.plan import Holder, Membership, Plan
from cadrin.core.credentials.factors import (
    ANY_CARD,
    FACTORS,
    Credential,
    Factor,
    Factors,
    ReaderPolicy,
    alternatives_by_card_alone,
)
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.rules import Lock
from cadrin.core.validity import (
    ALWAYS,
    Span,
    Standing,
    State,
    bounds,
    intersection,
    merged,
    minus,
    span_in_force,
    state_at,
    state_in_span,
)

REASON_OF_HOLDER_STATE = {
    State.PENDING: Reason.CARDHOLDER_PENDING,
    State.EXPIRED: Reason.CARDHOLDER_EXPIRED,
    State.SUSPENDED: Reason.CARDHOLDER_SUSPENDED,
    State.BARRED: Reason.CARDHOLDER_BARRED,
    State.DEPARTED: Reason.CARDHOLDER_DEPARTED,
}


# in Python 3.11 a member of an enumeration costs ten times what a global name does
_ACTIVE, _GRANTED, _OUTSIDE_HOURS = Standing.ACTIVE, Reason.GRANTED, Reason.OUTSIDE_HOURS

_WHY_NOBODY = {Lock.CLOSED: Reason.DOOR_CLOSED, Lock.KEPT_SHUT: Reason.DOOR_KEPT_SHUT}


class Judgement(NamedTuple):
    """A reason, and the access group it rests on, if it rests on one."""

    reason: Reason
    group_id: int | None = None


def credentials_of(
    holder: Holder, factor: Factor, policy: ReaderPolicy, *, alone: bool
) -> tuple[Credential, ...]:
    """Return what a cardholder has of a factor that a reader can take; ``alone`` where it asks for
    nothing else.
    """
    match factor:
        case Factor.CARD:
            return tuple(card for card in holder.cards if policy.reads(card.key.format_id))
        case Factor.PLATE:
            return holder.plates
        case Factor.FINGER | Factor.FACE:
            return holder.biometrics(factor)
        case Factor.PIN:
            return tuple(pin for pin in holder.pins if pin.opens_alone or not alone)


def judge_credentials(holder: Holder, policy: ReaderPolicy, at: datetime) -> Reason | None:
    """Return what the best of a cardholder's credentials would meet with at a reader; None when it
    lets them in.

    Without any card the reason is UNKNOWN_CARD: there is nothing a reader could know.
    """
    asked = policy.at(at).alternatives
    less = alternatives_by_card_alone(asked) if holder.is_by_card_alone(at) else ()
    against = [
        _judge_alternative(holder, alternative, policy, at) for alternative in (*asked, *less)
    ]
    return None if None in against else against[0]


def _judge_alternative(
    holder: Holder, alternative: Factors, policy: ReaderPolicy, at: datetime
) -> Reason | None:
    alone = len(alternative) == 1
    return next(
        (reason for factor in alternative if (reason := _best(holder, factor, policy, at, alone))),
        None,
    )


def _best(
    holder: Holder, factor: Factor, policy: ReaderPolicy, at: datetime, alone: bool
) -> Reason | None:
    against = [
        found.reason_against(at) for found in credentials_of(holder, factor, policy, alone=alone)
    ]
    if not against:
        has_another = factor is Factor.CARD and bool(holder.cards)
        return Reason.FORMAT_NOT_READ if has_another else FACTORS[factor].nothing_known
    return None if None in against else against[0]


def judge_holder(holder: Holder, at: datetime) -> Reason | None:
    """Return the reason against a cardholder at an instant, wherever they are; None when there is
    none.
    """
    span = holder.span
    # nearly always, at doors
    if holder.standing is _ACTIVE and (span is ALWAYS or at in span):
        return None
    state = state_at(holder.standing, holder.span, at, holder.suspended_until).state
    return None if state is State.IN_FORCE else REASON_OF_HOLDER_STATE[state]


def judge_memberships(
    memberships: tuple[Membership, ...],
    door_id: int,
    plan: Plan,
    at: datetime,
    *,
    is_out: bool = False,
) -> Judgement:
    """Say whether one of the memberships opens the door at an instant, on the way in or out, or come
    as close to it as any does.
    """
    ahead = over = closed = nobody = None
    openings = plan.openings(door_id, is_out=is_out)
    for membership in memberships:
        opening = openings.get(membership.group_id)
        if opening is None:
            continue
        span = membership.span
        if span is ALWAYS or at in span:
            schedules, rules = opening
            for schedule in schedules:
                if not schedule.is_open(at):
                    continue
                if rules is None or (lock := rules.lets_nobody_in(at)) is None:
                    return Judgement._make((_GRANTED, membership.group_id))
                nobody = Judgement(_WHY_NOBODY[lock], membership.group_id)
            closed = membership.group_id
        elif state_in_span(span, at).state is State.PENDING:
            ahead = membership.group_id
        else:
            over = membership.group_id
    if nobody is not None:
        return nobody
    if closed is not None:
        return Judgement._make((_OUTSIDE_HOURS, closed))
    if ahead is not None:
        return Judgement(Reason.MEMBERSHIP_PENDING, ahead)
    if over is not None:
        return Judgement(Reason.MEMBERSHIP_EXPIRED, over)
    return Judgement(Reason.NO_MEMBERSHIP)


class OpenTime:
    """When doors open for a cardholder in a bounded span. What many doors ask alike, of credentials and
    of schedules, is worked out once.
    """

    def __init__(self, holder: Holder, plan: Plan, span: Span) -> None:
        self._holder, self._plan, self.span = holder, plan, span
        self._in_force = span_in_force(holder.standing, holder.span, holder.suspended_until)
        self._carried: dict[tuple[ReaderPolicy, ...], tuple[Span, ...]] = {}
        self._hours: dict[int, tuple[Span, ...]] = {}
        self._doors = plan.doors_of(holder.memberships)

    def at_door(
        self,
        door_id: int,
        policies: Iterable[ReaderPolicy] | None = None,
        *,
        is_out: bool = False,
    ) -> tuple[Span, ...]:
        """Return the time in which the door opens, on the way in or out, by any of the policies.

        They are those of that way unless given. This is `decide` for every instant at once.
        """
        if self._in_force is None or door_id not in self._doors:
            return ()
        asked = self._plan.policies_of(door_id, is_out=is_out) if policies is None else policies
        carried = self._carried_for(tuple(asked))
        if not carried:
            return ()
        return merged(
            [
                piece
                for hours, membership in self._hours_with_membership(door_id, is_out=is_out)
                if not (theirs := intersection(hours, membership)).is_empty
                for credential in carried
                if not (piece := intersection(theirs, credential)).is_empty
            ]
        )

    def of_memberships(self, door_id: int, *, is_out: bool = False) -> tuple[Span, ...]:
        """Return the time in which memberships open a door, whatever is carried."""
        hours = self._hours_with_membership(door_id, is_out=is_out)
        return merged([intersection(opened, of_membership) for opened, of_membership in hours])

    def _carried_for(self, policies: tuple[ReaderPolicy, ...]) -> tuple[Span, ...]:
        """Return the time in which a reader would take something of theirs, while they count."""
        if policies not in self._carried and self._in_force is not None:
            self._carried[policies] = tuple(
                piece
                for policy in policies
                for credential in _credential_spans(self._holder, policy, self.span)
                if not (piece := intersection(credential, self._in_force)).is_empty
            )
        return self._carried[policies]

    def _hours_of(self, schedule_id: int) -> tuple[Span, ...]:
        if schedule_id not in self._hours:
            schedule = self._plan.schedules.get(schedule_id)
            self._hours[schedule_id] = schedule.open_spans(self.span) if schedule else ()
        return self._hours[schedule_id]

    def _hours_with_membership(self, door_id: int, *, is_out: bool) -> Iterable[tuple[Span, Span]]:
        rules = self._plan.doors.get(door_id)
        nobody = rules.spans_without_anybody(self.span) if rules else ()
        for membership in self._holder.memberships:
            group = self._plan.groups.get(membership.group_id)
            for schedule_id in group.schedules_at(door_id, is_out=is_out) if group else ():
                spans = self._hours_of(schedule_id)
                if nobody and group and not group.overrides:
                    spans = minus(spans, nobody)
                for hours in spans:
                    yield hours, membership.span


def open_spans_at_door(
    holder: Holder,
    door_id: int,
    plan: Plan,
    span: Span,
    policies: Iterable[ReaderPolicy] | None = None,
    *,
    is_out: bool = False,
) -> tuple[Span, ...]:
    """Return what `OpenTime` says of one door."""
    return OpenTime(holder, plan, span).at_door(door_id, policies, is_out=is_out)


def _credential_spans(holder: Holder, policy: ReaderPolicy, span: Span) -> list[Span]:
    """Return the time in which a reader would take one alternative or another, as far as the span
    is asked for.
    """
    if not policy.by_hours:
        return _spans_of_any(holder, policy, span)
    return [
        intersection(piece, found)
        for piece, here in policy.through(span)
        for found in _spans_of_any(holder, here, piece)
    ]


def _spans_of_any(holder: Holder, policy: ReaderPolicy, span: Span) -> list[Span]:
    """Return the time in which somebody has what one alternative asks for, or is let in by card
    alone.
    """
    found = [
        window for asked in policy.alternatives for window in _spans_of(holder, asked, policy, span)
    ]
    if holder.card_alone is not None:
        found += [
            intersection(window, holder.card_alone)
            for less in alternatives_by_card_alone(policy.alternatives)
            for window in _spans_of(holder, less, policy, span)
        ]
    return found


def _spans_of(holder: Holder, alternative: Factors, policy: ReaderPolicy, span: Span) -> list[Span]:
    """Return the time in which somebody has everything that an alternative asks for."""
    found: list[Span] | None = None
    for factor in alternative:
        credentials = credentials_of(holder, factor, policy, alone=len(alternative) == 1)
        spans = [window for credential in credentials for window in credential.open_spans(span)]
        found = (
            spans
            if found is None
            else [intersection(first, second) for first in found for second in spans]
        )
    return found or []


def spans_of_memberships(
    memberships: tuple[Membership, ...],
    door_id: int,
    plan: Plan,
    span: Span,
    *,
    is_out: bool = False,
) -> tuple[Span, ...]:
    """Return the time in a bounded span in which memberships open a door, on the way in or out,
    whatever is carried.
    """
    somebody = Holder(0, "", "", memberships=memberships)
    return OpenTime(somebody, plan, span).of_memberships(door_id, is_out=is_out)


def next_opening(
    holder: Holder,
    door_id: int,
    plan: Plan,
    at: datetime,
    span: Span,
    policies: Iterable[ReaderPolicy] | None = None,
    *,
    is_out: bool = False,
) -> datetime | None:
    """Return the first instant of ``span`` from ``at`` on in which the door opens, on the way in or
    out; None when it stays shut.

    The policies are those of that way unless given.
    """
    asked = plan.policies_of(door_id, is_out=is_out) if policies is None else tuple(policies)
    if asked and all(policy.asked_at_any_hour == ANY_CARD.alternatives for policy in asked):
        quick = _opening_in_hours(holder, door_id, plan, at, is_out=is_out)
        if quick is not None and all(
            policy.reads(holder.cards[0].key.format_id) for policy in asked
        ):
            return quick if quick in span else None
    spans = open_spans_at_door(holder, door_id, plan, span, asked, is_out=is_out)
    for start, end in map(bounds, spans):
        if at < end:
            return max(start, at)
    return None


def _opening_in_hours(
    holder: Holder, door_id: int, plan: Plan, at: datetime, *, is_out: bool
) -> datetime | None:
    """Answer the common case, in which only the hours stand in the way, without working out two
    weeks of them.
    """
    cards, rules = holder.cards, plan.doors.get(door_id)
    if rules is not None and (rules.closed is not None or rules.ordered is not None):
        return None
    if len(cards) != 1 or cards[0].hours or cards[0].reason_against(at) or judge_holder(holder, at):
        return None
    first: tuple[datetime, Membership] | None = None
    for membership in holder.memberships:
        group = plan.groups.get(membership.group_id)
        for schedule_id in group.schedules_at(door_id, is_out=is_out) if group else ():
            schedule = plan.schedules.get(schedule_id)
            if schedule is None:
                continue
            if at not in membership.span or schedule.is_open(at):
                return None
            opens_at = schedule.opens_after(at)
            if opens_at and (first is None or opens_at < first[0]):
                first = opens_at, membership
    if first is None or any(first[0] not in part.span for part in (first[1], cards[0], holder)):
        return None
    return first[0]

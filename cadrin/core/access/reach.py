"""Reach: for one cardholder every door, open to them or not, at an instant and through a week."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.rights import (
    Judgement,
    OpenTime,
    judge_credentials,
    judge_holder,
    judge_memberships,
)
from cadrin.core.credentials.factors import ReaderPolicy
from cadrin.core.decision.reasons import Reason
from cadrin.core.validity import Span, bounds

A_WEEK = timedelta(weeks=1)

Credentials = dict[ReaderPolicy, Reason | None]
"""What stands against somebody's credentials at an instant, by what a reader asks for."""


@dataclass(frozen=True, slots=True)
class DoorReach:
    """One door for one cardholder, on the way in.

    ``reason`` is GRANTED when the door opens at the instant asked for. ``changes_at`` is when that
    will be different, within the span; None when it stays so. ``open_spans`` is the open time in
    the span. ``reason_out`` and ``open_spans_out`` say the same of the way out; None where no
    reader stands there.
    """

    door_id: int
    reason: Reason
    group_id: int | None
    changes_at: datetime | None
    open_spans: tuple[Span, ...]
    reason_out: Reason | None = None
    open_spans_out: tuple[Span, ...] = ()

    @property
    def is_open(self) -> bool:
        return self.reason is Reason.GRANTED


def reason_at_door(
    holder: Holder,
    door_id: int,
    plan: Plan,
    at: datetime,
    *,
    is_out: bool = False,
    known: Credentials | None = None,
) -> Judgement:
    """Return what the best of a cardholder's credentials would meet with at a door, on the way in or
    out, as `decide` would put it. ``known`` is what was found of them at this instant already.
    """
    known = {} if known is None else known
    against = []
    for policy in plan.policies_of(door_id, is_out=is_out):
        if policy not in known:
            known[policy] = judge_credentials(holder, policy, at)
        against.append(known[policy])
    if not against:
        return Judgement(Reason.NO_WAY_IN)
    if against_all := None if None in against else against[0]:
        return Judgement(against_all)
    if against_holder := judge_holder(holder, at):
        return Judgement(against_holder)
    return judge_memberships(holder.memberships, door_id, plan, at, is_out=is_out)


def reach(
    holder: Holder, door_ids: Iterable[int], plan: Plan, at: datetime, span: Span
) -> tuple[DoorReach, ...]:
    """Return every one of the doors, in the order asked for; ``span`` is bounded,
    usually a week.
    """
    time = OpenTime(holder, plan, span)
    known: Credentials = {}
    return tuple(_door_reach(holder, door_id, plan, at, time, known) for door_id in door_ids)


def _door_reach(
    holder: Holder, door_id: int, plan: Plan, at: datetime, time: OpenTime, known: Credentials
) -> DoorReach:
    judgement = reason_at_door(holder, door_id, plan, at, known=known)
    spans = time.at_door(door_id)
    edges = (edge for piece in spans for edge in bounds(piece))
    changes_at = next((edge for edge in edges if at < edge and edge != time.span.end), None)
    policies_out = plan.policies_out_of(door_id)
    if not policies_out:
        return DoorReach(door_id, judgement.reason, judgement.group_id, changes_at, spans)
    reason_out, open_spans_out = judgement.reason, spans
    if plan.ways_differ(door_id, holder.memberships):
        reason_out = reason_at_door(holder, door_id, plan, at, is_out=True, known=known).reason
        open_spans_out = time.at_door(door_id, is_out=True)
    return DoorReach(
        door_id, judgement.reason, judgement.group_id, changes_at, spans, reason_out, open_spans_out
    )

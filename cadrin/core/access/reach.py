"""Reach: for one cardholder every door, open to them or not, at an instant and through a week."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.rights import (
    Judgement,
    judge_credentials,
    judge_holder,
    judge_memberships,
    open_spans_at_door,
)
from cadrin.core.credentials.factors import ReaderPolicy
from cadrin.core.decision.reasons import Reason
from cadrin.core.validity import Span, bounds

A_WEEK = timedelta(weeks=1)


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
    policies: Iterable[ReaderPolicy] | None = None,
) -> Judgement:
    """Return what the best of a cardholder's credentials would meet with at a door, as `decide`
    would put it.

    The policies are those into the door unless given.
    """
    against = [
        judge_credentials(holder, policy, at)
        for policy in (plan.policies_into(door_id) if policies is None else policies)
    ]
    if not against:
        return Judgement(Reason.NO_WAY_IN)
    if against_all := None if None in against else against[0]:
        return Judgement(against_all)
    if against_holder := judge_holder(holder, at):
        return Judgement(against_holder)
    return judge_memberships(holder.memberships, door_id, plan, at)


def reach(
    holder: Holder, door_ids: Iterable[int], plan: Plan, at: datetime, span: Span
) -> tuple[DoorReach, ...]:
    """Return every one of the doors, in the order asked for; ``span`` is bounded,
    usually a week.
    """
    return tuple(_door_reach(holder, door_id, plan, at, span) for door_id in door_ids)


def _door_reach(holder: Holder, door_id: int, plan: Plan, at: datetime, span: Span) -> DoorReach:
    judgement = reason_at_door(holder, door_id, plan, at)
    spans = open_spans_at_door(holder, door_id, plan, span)
    edges = (edge for piece in spans for edge in bounds(piece))
    changes_at = next((edge for edge in edges if at < edge and edge != span.end), None)
    policies_out = plan.policies_out_of(door_id)
    if not policies_out:
        return DoorReach(door_id, judgement.reason, judgement.group_id, changes_at, spans)
    reason_out, open_spans_out = judgement.reason, spans
    if set(policies_out) != set(plan.policies_into(door_id)):
        reason_out = reason_at_door(holder, door_id, plan, at, policies_out).reason
        open_spans_out = open_spans_at_door(holder, door_id, plan, span, policies_out)
    return DoorReach(
        door_id, judgement.reason, judgement.group_id, changes_at, spans, reason_out, open_spans_out
    )

"""What a change opens and closes: the open time before held against the open time after."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.reach import A_WEEK
from cadrin.core.access.rights import open_spans_at_door
from cadrin.core.validity import Span, merged

OpenSpansOfDoors = Mapping[int, tuple[Span, ...]]
"""Door to the time in which it opens."""


@dataclass(frozen=True, slots=True)
class ReachDifference:
    """Doors by what happens to them in the time compared; each tuple in the order of the doors."""

    gained: tuple[int, ...]
    lost: tuple[int, ...]
    other_hours: tuple[int, ...]

    @property
    def is_empty(self) -> bool:
        return not (self.gained or self.lost or self.other_hours)


def weeks_that_matter(at: datetime, *holders: Holder) -> tuple[Span, ...]:
    """Return the coming week, and a week from every later instant at which something of theirs
    begins or ends.
    """
    edges = {at}
    for holder in holders:
        own = (holder.span, *(c.span for c in holder.cards), *(m.span for m in holder.memberships))
        found = [
            edge
            for span in (*own, *(pin.span for pin in holder.pins))
            for edge in (span.start, span.end)
        ]
        found += [holder.suspended_until, *(card.suspended_until for card in holder.cards)]
        edges.update(edge for edge in found if edge and edge > at)
    return merged([Span(edge, edge + A_WEEK) for edge in edges])


def open_spans_of_doors(
    holder: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]
) -> OpenSpansOfDoors:
    """Return for each door when it opens for the cardholder on the way in, within bounded spans."""
    time = tuple(spans)
    return {
        id_: merged(
            [found for span in time for found in open_spans_at_door(holder, id_, plan, span)]
        )
        for id_ in door_ids
    }


def open_spans_of_ways_out(
    holder: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]
) -> OpenSpansOfDoors:
    """Return the same of the ways out, for each door whose reader there takes something else than
    on the way in.
    """
    time = tuple(spans)
    policies = {id_: plan.policies_out_of(id_) for id_ in door_ids}
    return {
        id_: merged(
            [found for span in time for found in open_spans_at_door(holder, id_, plan, span, out)]
        )
        for id_, out in policies.items()
        if out and set(out) != set(plan.policies_into(id_))
    }


def compare(before: OpenSpansOfDoors, after: OpenSpansOfDoors) -> ReachDifference:
    """Hold two reaches over the same doors and time against each other. A door counts as had if it
    ever opens.
    """
    gained, lost, other_hours = [], [], []
    for door_id, new in after.items():
        old = before[door_id]
        if new and not old:
            gained.append(door_id)
        elif old and not new:
            lost.append(door_id)
        elif old != new:
            other_hours.append(door_id)
    return ReachDifference(tuple(gained), tuple(lost), tuple(other_hours))

"""What a change opens and closes: the open time before held against the open time after."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.reach import A_WEEK
from cadrin.core.access.rights import lit_at_door
from cadrin.core.validity import Span, join

LitDoors = Mapping[int, tuple[Span, ...]]
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
    """Give the coming week, and a week from every later instant at which something of theirs begins or ends."""
    edges = {at}
    for holder in holders:
        own = (holder.span, *(c.span for c in holder.cards), *(m.span for m in holder.memberships))
        found = [edge for span in (*own, *(pin.span for pin in holder.pins)) for edge in (span.start, span.end)]
        found += [holder.suspended_until, *(card.suspended_until for card in holder.cards)]
        edges.update(edge for edge in found if edge and edge > at)
    return join([Span(edge, edge + A_WEEK) for edge in edges])


def lit_doors(holder: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]) -> LitDoors:
    """Give for each door when it opens for the cardholder on the way in, within bounded spans."""
    time = tuple(spans)
    return {id_: join([lit for span in time for lit in lit_at_door(holder, id_, plan, span)]) for id_ in door_ids}


def lit_ways_out(holder: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]) -> LitDoors:
    """Give the same of the ways out, for each door whose reader there takes something else than on the way in."""
    time = tuple(spans)
    ways = {id_: plan.ways_out_of(id_) for id_ in door_ids}
    return {
        id_: join([lit for span in time for lit in lit_at_door(holder, id_, plan, span, out)])
        for id_, out in ways.items()
        if out and set(out) != set(plan.ways_into(id_))
    }


def compare(before: LitDoors, after: LitDoors) -> ReachDifference:
    """Hold two reaches over the same doors and time against each other. A door counts as had if ever lit."""
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

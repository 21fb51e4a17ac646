"""What a change opens and closes: the open time before held against the open time after."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.reach import A_WEEK
from cadrin.core.access.rights import OpenTime
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


NOTHING_DIFFERS = ReachDifference((), (), ())


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
    times = [OpenTime(holder, plan, span) for span in spans]
    return {
        id_: merged([found for time in times for found in time.at_door(id_)]) for id_ in door_ids
    }


def open_spans_of_ways_out(
    holder: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]
) -> OpenSpansOfDoors:
    """Return the same of the ways out, for each door that may open otherwise there than on the way
    in, be it by its reader or by a group that opens one way alone.
    """
    times = [OpenTime(holder, plan, span) for span in spans]
    one_way = {place[0] for group in plan.groups.values() for place in group.one_way}
    return {
        id_: merged([found for time in times for found in time.at_door(id_, is_out=True)])
        for id_ in door_ids
        if plan.ways_differ(id_, ()) or (id_ in one_way and plan.policies_out_of(id_))
    }


def reach_difference(
    before: Holder, after: Holder, door_ids: Iterable[int], plan: Plan, spans: Iterable[Span]
) -> tuple[ReachDifference, ReachDifference]:
    """Return what becomes otherwise at the doors within bounded spans, on the way in and on the way
    out: only those are looked at to which a group of theirs leads, before or after.
    """
    if before == after:
        return NOTHING_DIFFERS, NOTHING_DIFFERS
    theirs = plan.doors_of(before.memberships) | plan.doors_of(after.memberships)
    doors, weeks = [id_ for id_ in door_ids if id_ in theirs], tuple(spans)
    way_in, way_out = (
        compare(open_spans(before, doors, plan, weeks), open_spans(after, doors, plan, weeks))
        for open_spans in (open_spans_of_doors, open_spans_of_ways_out)
    )
    return way_in, way_out


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

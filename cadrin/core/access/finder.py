"""Who may open a door now, over everybody at once."""

from collections.abc import Iterable, Sequence
from datetime import datetime

import numpy as np
import numpy.typing as npt

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.cards.status import CardStatus
from cadrin.core.validity import Span, span_in_force

_OPEN_START, _OPEN_END = np.iinfo(np.int64).min, np.iinfo(np.int64).max
Flags = npt.NDArray[np.bool_]


def _edges(span: Span | None) -> tuple[int, int]:
    """Write a span as whole seconds; None, and an empty span, contain no instant."""
    if span is None:
        return _OPEN_END, _OPEN_START
    start = _OPEN_START if span.start is None else int(span.start.timestamp())
    end = _OPEN_END if span.end is None else int(span.end.timestamp())
    return start, end


class _Spans:
    """Spans as columns, each with the row of the cardholder it belongs to; those without ends stand apart."""

    def __init__(self, triples: Iterable[tuple[int, int, int]]) -> None:
        table = np.array(list(triples), dtype=np.int64).reshape(-1, 3)
        is_endless = (table[:, 1] == _OPEN_START) & (table[:, 2] == _OPEN_END)
        self._endless = table[is_endless, 0].copy()
        self._rows, self._starts, self._ends = (column.copy() for column in table[~is_endless].T)

    def mark(self, rows: Flags, second: int) -> None:
        """Set the flag of every row that has a span which holds the instant."""
        rows[self._endless] = True
        rows[self._rows[(self._starts <= second) & (second < self._ends)]] = True


class _Everybody:
    """Spans that nearly everybody has: the flags of the endless ones are kept ready."""

    def __init__(self, triples: Iterable[tuple[int, int, int]], count: int) -> None:
        listed = list(triples)
        self._ready = np.zeros(count, dtype=bool)
        self._ready[[row for row, *edges in listed if edges == [_OPEN_START, _OPEN_END]]] = True
        self._others = _Spans(one for one in listed if one[1:] != (_OPEN_START, _OPEN_END))

    def at(self, second: int) -> Flags:
        flags = self._ready.copy()
        self._others.mark(flags, second)
        return flags


class Roster:
    """Everybody's spans as columns, so that one question about 100,000 people is a few array operations."""

    def __init__(self, holders: Sequence[Holder]) -> None:
        self._ids = np.array([holder.id for holder in holders], dtype=np.int64)
        self._holders = _Everybody(
            ((row, *_edges(span_in_force(h.standing, h.span, h.suspended_until))) for row, h in enumerate(holders)),
            len(holders),
        )
        self._cards = _Everybody(
            (
                (row, *_edges(card.span))
                for row, holder in enumerate(holders)
                for card in holder.cards
                if card.status is CardStatus.ISSUED
            ),
            len(holders),
        )
        members: dict[int, list[tuple[int, int, int]]] = {}
        for row, holder in enumerate(holders):
            for membership in holder.memberships:
                members.setdefault(membership.group_id, []).append((row, *_edges(membership.span)))
        self._members = {group_id: _Spans(triples) for group_id, triples in members.items()}

    def who_may_open(self, door_id: int, plan: Plan, at: datetime) -> tuple[int, ...]:
        """Give the ids of everybody for whom a read at the door would be granted at ``at``, ascending."""
        second = int(at.timestamp())
        admitted = np.zeros(len(self._ids), dtype=bool)
        for group in plan.groups.values():
            schedule_ids = group.schedules_of_door.get(door_id, ())
            if group.id in self._members and any(
                plan.schedules[id_].is_open(at) for id_ in schedule_ids if id_ in plan.schedules
            ):
                self._members[group.id].mark(admitted, second)
        admitted &= self._holders.at(second)
        admitted &= self._cards.at(second)
        return tuple(np.sort(self._ids[admitted]).tolist())

"""Who may open a door now, over everybody at once."""

from collections.abc import Iterable, Sequence
from datetime import datetime

import numpy as np
import numpy.typing as npt

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.factors import (
    BIOMETRIC,
    Factor,
    Factors,
    ReaderPolicy,
    without_biometrics,
)
from cadrin.core.validity import ALWAYS, Span, span_in_force

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
    """Spans as columns, each with the row of the cardholder it belongs to; those without ends stand
    apart.
    """

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
        self._others = _Spans(row for row in listed if row[1:] != (_OPEN_START, _OPEN_END))

    def at(self, second: int) -> Flags:
        flags = self._ready.copy()
        self._others.mark(flags, second)
        return flags


class Roster:
    """Everybody's spans as columns, so that one question about 100,000 people is a few array
    operations.
    """

    def __init__(self, holders: Sequence[Holder]) -> None:
        self._ids = np.array([holder.id for holder in holders], dtype=np.int64)
        self._holders = _Everybody(
            (
                (row, *_edges(span_in_force(h.standing, h.span, h.suspended_until)))
                for row, h in enumerate(holders)
            ),
            len(holders),
        )
        plain: dict[int, list[tuple[int, int, int]]] = {}
        self._with_hours: list[tuple[int, Card]] = []
        for row, holder in enumerate(holders):
            for card in holder.cards:
                if card.hours is not None:
                    self._with_hours.append((row, card))
                elif in_force := card.in_force:
                    plain.setdefault(card.key.format_id, []).append((row, *_edges(in_force)))
        self._cards = {
            format_id: _Everybody(triples, len(holders)) for format_id, triples in plain.items()
        }
        pins = [
            (row, pin.opens_alone, *_edges(pin.span))
            for row, holder in enumerate(holders)
            for pin in holder.pins
        ]
        self._pins = _Spans((row, start, end) for row, _, start, end in pins)
        self._pins_alone = _Spans((row, start, end) for row, alone, start, end in pins if alone)
        self._plates = np.array([bool(holder.plates) for holder in holders], dtype=bool)
        self._biometrics = {
            factor: _Spans(
                (row, *_edges(span))
                for row, holder in enumerate(holders)
                for template in holder.biometrics(factor)
                for span in template.open_spans(ALWAYS)
            )
            for factor in BIOMETRIC
        }
        self._by_card_alone = _Spans(
            (row, *_edges(holder.card_alone))
            for row, holder in enumerate(holders)
            if holder.card_alone is not None
        )
        members: dict[int, list[tuple[int, int, int]]] = {}
        for row, holder in enumerate(holders):
            for membership in holder.memberships:
                members.setdefault(membership.group_id, []).append((row, *_edges(membership.span)))
        self._members = {group_id: _Spans(triples) for group_id, triples in members.items()}

    def who_may_open(self, door_id: int, plan: Plan, at: datetime) -> tuple[int, ...]:
        """Return the ids of everybody for whom a read at the door would be granted at ``at``,
        ascending.
        """
        second = int(at.timestamp())
        admitted = np.zeros(len(self._ids), dtype=bool)
        rules = plan.doors.get(door_id)
        nobody = rules.lets_nobody_in(at) if rules else None
        for group in plan.groups.values():
            schedule_ids = group.schedules_of_door.get(door_id, ())
            if (
                group.id in self._members
                and (nobody is None or group.overrides)
                and any(
                    plan.schedules[id_].is_open(at) for id_ in schedule_ids if id_ in plan.schedules
                )
            ):
                self._members[group.id].mark(admitted, second)
        admitted &= self._holders.at(second)
        admitted &= self._with_credentials(plan.policies_into(door_id), at)
        return tuple(np.sort(self._ids[admitted]).tolist())

    def _with_credentials(self, policies: Iterable[ReaderPolicy], at: datetime) -> Flags:
        """Flag everybody who has what one reader of a door or another asks for."""
        found = np.zeros(len(self._ids), dtype=bool)
        for policy in policies:
            for alternative in policy.at(at).alternatives:
                found |= self._with_all(alternative, policy, at)
                if less := without_biometrics(alternative):
                    excused = np.zeros(len(self._ids), dtype=bool)
                    self._by_card_alone.mark(excused, int(at.timestamp()))
                    found |= excused & self._with_all(less, policy, at)
        return found

    def _with_all(self, alternative: Factors, policy: ReaderPolicy, at: datetime) -> Flags:
        has_all = np.ones(len(self._ids), dtype=bool)
        for factor in alternative:
            has_all &= self._with(factor, policy, at, alone=len(alternative) == 1)
        return has_all

    def _with(self, factor: Factor, policy: ReaderPolicy, at: datetime, *, alone: bool) -> Flags:
        """Flag everybody who has a credential of one factor that the reader takes at an instant."""
        match factor:
            case Factor.CARD:
                return self._with_a_card(policy, at)
            case Factor.PLATE:
                return self._plates
            case Factor.FINGER | Factor.FACE:
                enrolled = np.zeros(len(self._ids), dtype=bool)
                self._biometrics[factor].mark(enrolled, int(at.timestamp()))
                return enrolled
            case Factor.PIN:
                typed = np.zeros(len(self._ids), dtype=bool)
                (self._pins_alone if alone else self._pins).mark(typed, int(at.timestamp()))
                return typed

    def _with_a_card(self, policy: ReaderPolicy, at: datetime) -> Flags:
        carried = np.zeros(len(self._ids), dtype=bool)
        for format_id, cards in self._cards.items():
            if policy.reads(format_id):
                carried |= cards.at(int(at.timestamp()))
        for row, card in self._with_hours:
            if policy.reads(card.key.format_id) and card.reason_against(at) is None:
                carried[row] = True
        return carried

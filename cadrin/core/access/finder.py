"""Who may open a door, or come into an area, over everybody at once."""

from collections.abc import Iterable, Sequence
from datetime import datetime

import numpy as np
import numpy.typing as npt

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.access.ways import Doorway
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.factors import (
    BIOMETRIC,
    Factor,
    Factors,
    ReaderPolicy,
    without_biometrics,
)
from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.rules import ANY_DOOR, OUTSIDE
from cadrin.core.doors.state import SHUT
from cadrin.core.validity import ALWAYS, Span, span_in_force

_OPEN_START, _OPEN_END = np.iinfo(np.int64).min, np.iinfo(np.int64).max
Flags = npt.NDArray[np.bool_]
Packed = npt.NDArray[np.uint8]
"""Flags, eight to a byte."""


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
        return self._those(_Instant(self, plan, at).admitted(door_id, plan.policies_into(door_id)))

    def matrix(self, door_ids: Sequence[int], plan: Plan, at: datetime) -> Packed:
        """Return for each of the doors a row of bits: for whom a read there would be granted at ``at``,
        in the order of the holders, eight to a byte.
        """
        instant = _Instant(self, plan, at)
        rows = np.empty((len(door_ids), (len(self._ids) + 7) // 8), dtype=np.uint8)
        for door_id, row in zip(door_ids, rows, strict=True):
            instant.admit(door_id, plan.policies_into(door_id), row)
        return rows

    def who_gets_into(
        self, goal: int, doorways: Iterable[Doorway], plan: Plan, at: datetime
    ) -> tuple[int, ...]:
        """Return the ids of everybody who could come from outside into an area at ``at``, ascending: by
        doors that open for them or are unlocked, and ways out that ask for nothing. Whoever is not
        in force then is left out, though an unlocked door would not ask.
        """
        instant = _Instant(self, plan, at)
        from_area: dict[int, dict[int, Packed]] = {}
        for door_id, origin, destination in doorways:
            for is_out in (False, True):
                here, into = (destination, origin) if is_out else (origin, destination)
                through, may_pass = (
                    from_area.setdefault(here, {}),
                    instant.may_pass(door_id, is_out),
                )
                through[into] = through[into] | may_pass if into in through else may_pass
        been = {OUTSIDE: instant.in_force}
        nobody = np.zeros_like(instant.in_force)
        waiting = {OUTSIDE}
        while waiting:
            area = waiting.pop()
            for into, may_pass in from_area.get(area, {}).items():
                known = been.get(into, nobody)
                coming = known | (been[area] & may_pass)
                if not np.array_equal(coming, known):
                    been[into] = coming
                    waiting.add(into)
        return self._those(been.get(goal, nobody))

    def _those(self, packed: Packed) -> tuple[int, ...]:
        flags = np.unpackbits(packed, count=len(self._ids)).astype(bool)
        return tuple(np.sort(self._ids[flags]).tolist())

    def in_force(self, second: int) -> Flags:
        """Flag everybody who is in force."""
        return self._holders.at(second)

    def members(self, group_id: int, second: int) -> Flags:
        """Flag everybody whose membership in a group counts."""
        flags = np.zeros(len(self._ids), dtype=bool)
        if group_id in self._members:
            self._members[group_id].mark(flags, second)
        return flags

    def with_credentials(self, policies: Iterable[ReaderPolicy], at: datetime) -> Flags:
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


class _Instant:
    """A roster and a plan at one instant: what is worked out once counts for every door."""

    def __init__(self, roster: Roster, plan: Plan, at: datetime) -> None:
        self._roster, self._plan, self._at = roster, plan, at
        self._second = int(at.timestamp())
        self.in_force = np.packbits(roster.in_force(self._second))
        self._members: dict[int, Packed] = {}
        self._carrying: dict[tuple[ReaderPolicy, ...], Packed] = {}
        self._is_open: dict[int, bool] = {}

    def may_pass(self, door_id: int, is_out: bool) -> Packed:
        """Say who could go through a door: it is unlocked, asks for nothing, or is granted them."""
        plan = self._plan
        policies = plan.policies_of(door_id, is_out=is_out)
        lock = lock_of(plan.doors.get(door_id, ANY_DOOR), SHUT, self._at)
        if lock.is_unlocked or (is_out and not policies):
            return np.full_like(self.in_force, 255)
        return self.admitted(door_id, policies, is_out=is_out)

    def admitted(
        self, door_id: int, policies: tuple[ReaderPolicy, ...], *, is_out: bool = False
    ) -> Packed:
        """Say for whom a read that asks for these would be granted at a door."""
        found = np.empty_like(self.in_force)
        self.admit(door_id, policies, found, is_out=is_out)
        return found

    def admit(
        self,
        door_id: int,
        policies: tuple[ReaderPolicy, ...],
        found: Packed,
        *,
        is_out: bool = False,
    ) -> None:
        """The same, into a row that held anything."""
        rules = self._plan.doors.get(door_id)
        nobody = rules.lets_nobody_in(self._at) if rules else None
        let = [
            self._members_of(group.id)
            for group in self._plan.groups_at(door_id)
            if (nobody is None or group.overrides)
            and any(map(self._opens, group.schedules_at(door_id, is_out=is_out)))
        ]
        if not let:
            found.fill(0)
            return
        if policies not in self._carrying:
            flags = self._roster.with_credentials(policies, self._at)
            self._carrying[policies] = np.packbits(flags) & self.in_force
        # the row is gone over as seldom as it can be
        carrying = self._carrying[policies]
        if len(let) == 1:
            np.bitwise_and(let[0], carrying, out=found)
            return
        np.bitwise_or(let[0], let[1], out=found)
        for others in let[2:]:
            found |= others
        found &= carrying

    def _members_of(self, group_id: int) -> Packed:
        if group_id not in self._members:
            self._members[group_id] = np.packbits(self._roster.members(group_id, self._second))
        return self._members[group_id]

    def _opens(self, schedule_id: int) -> bool:
        if schedule_id not in self._is_open:
            schedule = self._plan.schedules.get(schedule_id)
            self._is_open[schedule_id] = schedule is not None and schedule.is_open(self._at)
        return self._is_open[schedule_id]

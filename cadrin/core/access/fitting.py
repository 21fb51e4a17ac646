"""Which access groups give what is wanted: exactly, with more or with less, alone or together.

What opens when is kept as one long number for each door: a bit for each minute of a bounded span,
so that a year of one door is compared in a few microseconds.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple

import numpy as np

from cadrin.core.access.plan import AccessGroup, Membership, Plan
from cadrin.core.schedules import Schedule
from cadrin.core.validity import Span

Minutes = int
"""A set of minutes: bit *n* stands for the *n*-th minute of the span that is looked at."""

Openings = Mapping[int, Minutes]
"""For each door the minutes in which it opens on the way in; under the negative of its id those of
the way out, where a reader stands there. A door that never opens is not in it.
"""

_A_MINUTE = timedelta(minutes=1)
MOST_STEPS = 4_000
"""So far the smallest set is looked for; what is found by then covers all, and may be too large."""


def minutes_of(schedule: Schedule, span: Span) -> Minutes:
    """Return the minutes of a bounded span in which a schedule is open."""
    start, end = span.start, span.end
    if start is None or end is None:
        raise ValueError("minutes are counted in a bounded span")
    flags = np.zeros(-(-(end - start) // _A_MINUTE), dtype=bool)
    for piece in schedule.open_spans(span):
        first, last = (piece.start or start) - start, (piece.end or end) - start
        flags[first // _A_MINUTE : -(-last // _A_MINUTE)] = True
    return int.from_bytes(np.packbits(flags, bitorder="little").tobytes(), "little")


class Year:
    """What the schedules, and by them the groups, of a plan give in a span."""

    def __init__(self, plan: Plan, span: Span) -> None:
        self.plan, self.span = plan, span
        self.schedules = {id_: minutes_of(one, span) for id_, one in plan.schedules.items()}
        self._known: dict[frozenset[int], Minutes] = {}
        self.groups = {id_: self.of_group(group) for id_, group in plan.groups.items()}

    def of_group(self, group: AccessGroup) -> Openings:
        """Return what the grants of a group give together."""
        found = {}
        for door_id in group.schedules_of_door:
            for is_out in (False, True) if self.plan.policies_out_of(door_id) else (False,):
                schedule_ids = group.schedules_at(door_id, is_out=is_out)
                if minutes := self._together(frozenset(schedule_ids)):
                    found[-door_id if is_out else door_id] = minutes
        return found

    def _together(self, schedule_ids: frozenset[int]) -> Minutes:
        """Return the minutes of several schedules; the same number, and not its copy, each time."""
        if schedule_ids not in self._known:
            minutes = 0
            for schedule_id in schedule_ids:
                minutes |= self.schedules.get(schedule_id, 0)
            self._known[schedule_ids] = minutes
        return self._known[schedule_ids]

    def of_memberships(self, memberships: Iterable[Membership], at: datetime) -> Openings:
        """Return what the memberships that count at an instant give, whatever comes after it."""
        counting = [one.group_id for one in memberships if at in one.span]
        return joined(self.groups[id_] for id_ in counting if id_ in self.groups)


def joined(many: Iterable[Openings]) -> dict[int, Minutes]:
    """Return what several give together."""
    found: dict[int, Minutes] = {}
    for one in many:
        for door_id, minutes in one.items():
            found[door_id] = found.get(door_id, 0) | minutes
    return found


def beyond(one: Openings, other: Openings) -> dict[int, Minutes]:
    """Return what the one gives and the other does not."""
    left = {door_id: minutes & ~other.get(door_id, 0) for door_id, minutes in one.items()}
    return {door_id: minutes for door_id, minutes in left.items() if minutes}


def size(openings: Openings) -> int:
    """Return how many minutes at doors these are."""
    return sum(minutes.bit_count() for minutes in openings.values())


def likeness(one: Openings, other: Openings) -> float:
    """Return which part of what either gives both do: 1 where they are alike, 0 where they share
    nothing (the Jaccard index). Two that give nothing are alike.
    """
    both = sum((minutes & other.get(door_id, 0)).bit_count() for door_id, minutes in one.items())
    return _share(both, size(one), size(other))


def _share(both: int, one: int, other: int) -> float:
    either = one + other - both
    return both / either if either else 1.0


class Fit(NamedTuple):
    """A group beside what is wanted: what more it gives, and what less."""

    group_id: int
    more: Openings
    less: Openings

    @property
    def is_exact(self) -> bool:
        return not self.more and not self.less


def fits(wanted: Openings, groups: Mapping[int, Openings]) -> list[Fit]:
    """Return the groups that give something of what is wanted: exact ones first, then those that give
    all of it with the least more, then those with the least less.
    """
    found = [
        Fit(id_, beyond(gives, wanted), beyond(wanted, gives))
        for id_, gives in groups.items()
        if any(minutes & gives.get(door_id, 0) for door_id, minutes in wanted.items())
    ]
    return sorted(found, key=lambda one: (size(one.less), size(one.more), one.group_id))


@dataclass(frozen=True, slots=True)
class Cover:
    """The fewest groups that give together all that any group can give of what is wanted, and of
    those the ones with the least beside it; ``lacking`` is what no group gives. ``is_smallest`` is
    False where the search was given up.
    """

    group_ids: tuple[int, ...]
    more: Openings
    lacking: Openings
    is_smallest: bool = True


def smallest_cover(
    wanted: Openings, groups: Mapping[int, Openings], steps: int = MOST_STEPS
) -> Cover:
    """Return the smallest set of groups that covers what is wanted, by branch and bound."""
    given = joined({id_: gives.get(id_, 0) for id_ in wanted} for gives in groups.values())
    lacking = beyond(wanted, given)
    to_cover = beyond(wanted, lacking)
    useful = {
        id_: gives
        for id_, gives in groups.items()
        if any(minutes & gives.get(door_id, 0) for door_id, minutes in to_cover.items())
    }
    inside = _Pieces(to_cover, useful)
    outside = _Pieces(beyond(joined(useful.values()), wanted), useful)
    search = _Search(inside, outside, steps)
    search.look(inside.whole, 0, 0, ())
    chosen = tuple(sorted(search.best))
    more = beyond(joined(groups[id_] for id_ in chosen), wanted)
    return Cover(chosen, more, lacking, is_smallest=search.steps > 0)


class _Pieces:
    """Minutes at doors, cut so that each group gives a piece whole or not at all: a set of pieces is
    a short number, however long the time is.
    """

    def __init__(self, whole: Openings, groups: Mapping[int, Openings]) -> None:
        self.sizes: list[int] = []
        self.of_group = dict.fromkeys(groups, 0)
        for door_id, minutes in whole.items():
            at_door = {
                id_: gives[door_id] for id_, gives in groups.items() if gives.get(door_id, 0)
            }
            pieces = [minutes]
            for given in set(at_door.values()):
                cut = ((piece & given, piece & ~given) for piece in pieces)
                pieces = [part for both in cut for part in both if part]
            for piece in pieces:
                bit = 1 << len(self.sizes)
                self.sizes.append(piece.bit_count())
                for id_, given in at_door.items():
                    if piece & given:
                        self.of_group[id_] |= bit
        self.whole = (1 << len(self.sizes)) - 1

    def size(self, pieces: int) -> int:
        """Return how many minutes these pieces are."""
        found = 0
        while pieces:
            lowest = pieces & -pieces
            found += self.sizes[lowest.bit_length() - 1]
            pieces ^= lowest
        return found


class _Search:
    """The smallest set that covers every piece inside, and of those the one with least outside."""

    def __init__(self, inside: _Pieces, outside: _Pieces, steps: int) -> None:
        self.inside, self.outside, self.steps = inside, outside, steps
        self.best = self._greedy()
        beside = 0
        for id_ in self.best:
            beside |= outside.of_group[id_]
        self.excess = outside.size(beside)
        self._giving = [
            sorted(
                (id_ for id_, pieces in inside.of_group.items() if pieces >> place & 1),
                key=lambda id_: (outside.size(outside.of_group[id_]), id_),
            )
            for place in range(len(inside.sizes))
        ]

    def _greedy(self) -> tuple[int, ...]:
        """Take whatever covers most of what is left, until nothing is left."""
        chosen: list[int] = []
        left = self.inside.whole
        while left:
            of_group = self.inside.of_group
            best = min(of_group, key=lambda id_: (self.inside.size(left & ~of_group[id_]), id_))
            chosen.append(best)
            left &= ~of_group[best]
        return tuple(chosen)

    def look(self, left: int, beside: int, excess: int, chosen: tuple[int, ...]) -> None:
        """Go on from some groups that were chosen: ``left`` is what they do not cover, ``beside`` what
        they give outside, ``excess`` how many minutes that is.
        """
        if not left:
            if (len(chosen), excess) < (len(self.best), self.excess):
                self.best, self.excess = chosen, excess
            return
        needed = len(chosen) + self._at_least(left)
        if needed > len(self.best) or (needed == len(self.best) and excess >= self.excess):
            return
        for id_ in self._scarcest(left):
            self.steps -= 1
            if self.steps <= 0:
                return
            new = self.outside.of_group[id_] & ~beside
            self.look(
                left & ~self.inside.of_group[id_],
                beside | new,
                excess + self.outside.size(new),
                (*chosen, id_),
            )

    def _at_least(self, left: int) -> int:
        """Return how many groups are needed at least, by the one that gives most pieces."""
        most = max((left & pieces).bit_count() for pieces in self.inside.of_group.values())
        return -(-left.bit_count() // most)

    def _scarcest(self, left: int) -> Sequence[int]:
        """Return the groups that give the piece which the fewest give, those with the least beside it
        first: one of them is in every set.
        """
        found: Sequence[int] | None = None
        while left:
            lowest = left & -left
            giving = self._giving[lowest.bit_length() - 1]
            if found is None or len(giving) < len(found):
                found = giving
            left ^= lowest
        return found or ()


class Alike(NamedTuple):
    """Two groups that give nearly the same; 1 where they give exactly the same."""

    one_id: int
    other_id: int
    likeness: float


def nearly_alike(groups: Mapping[int, Openings], least: float) -> list[Alike]:
    """Return the pairs of groups that give something and are at least so much alike, the most alike
    first.
    """
    counted: dict[tuple[int, int], int] = {}

    def common(one: Minutes, other: Minutes) -> int:
        # groups share the minutes of a few schedules: those are counted once, by which they are
        pair = (id(one), id(other))
        if pair not in counted:
            counted[pair] = (one & other).bit_count()
        return counted[pair]

    sizes = {
        id_: sum(common(minutes, minutes) for minutes in gives.values())
        for id_, gives in groups.items()
        if gives
    }
    by_size = sorted(sizes, key=lambda id_: (sizes[id_], id_))
    found = []
    for place, one in enumerate(by_size):
        for other in by_size[place + 1 :]:
            if sizes[one] < least * sizes[other]:  # whatever they share, it is too little
                break
            here, there = groups[one], groups[other]
            both = sum(common(here[id_], there[id_]) for id_ in here.keys() & there.keys())
            share = _share(both, sizes[one], sizes[other])
            if both and share >= least:
                found.append(Alike(min(one, other), max(one, other), share))
    return sorted(found, key=lambda pair: (-pair.likeness, pair.one_id, pair.other_id))

"""Boxes of cards: a range of numbers with one facility code and format."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.life import FREE, HELD_STATUSES, CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.errors import Problem

LARGEST_BOX = 65_536
FEW_PART, FEWEST = 10, 20
"""Few are left when less than a tenth is free, or fewer than so many of a large box."""


class CardRange(NamedTuple):
    """Card numbers from the first to the last, both included."""

    facility_code: int
    first: int
    last: int

    @property
    def size(self) -> int:
        return self.last - self.first + 1


def problems_with_range(wanted: CardRange, layout: CardFormat) -> tuple[Problem, ...]:
    """Return everything against a box with these numbers, each beside its field."""
    problems = [
        Problem(
            problem.code,
            "facility_code" if problem.field == "facility_code" else name,
            problem.params,
        )
        for name, number in (("first", wanted.first), ("last", wanted.last))
        for problem in layout.problems_with(CardNumbers(wanted.facility_code, number))
        if problem.field != "facility_code" or name == "first"
    ]
    if wanted.last < wanted.first:
        problems.append(Problem("box.ends_before_it_begins", "last"))
    elif wanted.size > LARGEST_BOX:
        problems.append(Problem("box.too_large", "last", {"most": LARGEST_BOX}))
    return tuple(problems)


@dataclass(frozen=True, slots=True)
class BoxCount:
    """What has become of a box: with somebody, free to be issued, gone for good, and not in the
    sequence any more.
    """

    size: int
    held: int
    free: int
    gone: int

    @property
    def missing(self) -> int:
        return self.size - self.held - self.free - self.gone

    @property
    def is_running_out(self) -> bool:
        """Say whether few are left.

        >>> [BoxCount(100, 100 - free, free, 0).is_running_out for free in (0, 9, 10)]
        [True, True, False]
        >>> BoxCount(10_000, 9_981, 19, 0).is_running_out, BoxCount(10_000, 9_000, 1_000, 0).is_running_out
        (True, False)
        """
        return self.free * FEW_PART < min(self.size, FEWEST * FEW_PART)


def count_of(size: int, by_status: Mapping[CardStatus, int]) -> BoxCount:
    """Count a box by what became of its cards."""
    free = sum(by_status.get(status, 0) for status in FREE)
    held = sum(by_status.get(status, 0) for status in HELD_STATUSES)
    return BoxCount(size, held, free, sum(by_status.values()) - free - held)

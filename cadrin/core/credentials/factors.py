"""Factors: the kinds of evidence a reader can ask for, what is presented to it, and its policy."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from itertools import pairwise
from typing import NamedTuple, Protocol

from cadrin.core.credentials.biometric import Sample
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.decision.reasons import Check, Reason
from cadrin.core.errors import Invalid, Problem
from cadrin.core.schedules import Schedule
from cadrin.core.validity import Span, bounds


class Factor(StrEnum):
    """A kind of evidence, in the order in which it is looked at."""

    CARD = "card"
    PLATE = "plate"
    FINGER = "finger"
    FACE = "face"
    PIN = "pin"


class FactorFacts(NamedTuple):
    """The checks that are about a factor, and the reasons when a reader takes none, or
    misses it.
    """

    checks: frozenset[Check]
    not_taken: Reason
    missing: Reason
    nothing_known: Reason
    """The reason for somebody who has none."""


FACTORS: Mapping[Factor, FactorFacts] = {
    Factor.CARD: FactorFacts(
        frozenset({Check.READ, Check.CARD_KNOWN, Check.CARD_IN_FORCE}),
        Reason.CARD_NOT_TAKEN,
        Reason.CARD_MISSING,
        Reason.UNKNOWN_CARD,
    ),
    Factor.PLATE: FactorFacts(
        frozenset({Check.PLATE}), Reason.PLATE_NOT_TAKEN, Reason.PLATE_MISSING, Reason.PLATE_MISSING
    ),
    Factor.FINGER: FactorFacts(
        frozenset({Check.FINGER}),
        Reason.FINGER_NOT_TAKEN,
        Reason.FINGER_MISSING,
        Reason.FINGER_MISSING,
    ),
    Factor.FACE: FactorFacts(
        frozenset({Check.FACE}), Reason.FACE_NOT_TAKEN, Reason.FACE_MISSING, Reason.FACE_MISSING
    ),
    Factor.PIN: FactorFacts(
        frozenset({Check.PIN}), Reason.PIN_NOT_TAKEN, Reason.PIN_MISSING, Reason.PIN_MISSING
    ),
}

BIOMETRIC = frozenset({Factor.FINGER, Factor.FACE})
"""What is part of a person, and needs their consent."""

Factors = tuple[Factor, ...]
"""Several factors together, in their order, each once."""
_ORDER = {factor: place for place, factor in enumerate(Factor)}


def factors_of(factors: Iterable[Factor]) -> Factors:
    """Return factors in their order, each once."""
    return tuple(sorted(set(factors), key=_ORDER.__getitem__))


class Credential(Protocol):
    """What every credential can say of itself."""

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works, as far as a bounded span is asked for; it may reach
        beyond.
        """

    def reason_against(self, at: datetime) -> Reason | None:
        """Return the reason against it at an instant, or None."""


class Evidence(NamedTuple):
    """What somebody presents to a reader, together: a card's raw read, a PIN as it is typed, a
    plate as a camera reads it, a finger and a face as readers make them ready to be compared.
    """

    read: RawRead | None = None
    typed: str | None = None
    plate: str | None = None
    finger: Sample | None = None
    face: Sample | None = None

    @property
    def factors(self) -> Factors:
        if self[1:] == _NOTHING_ELSE and self[0] is not None:  # nearly always, at doors
            return JUST_A_CARD
        shown = (
            (Factor.CARD, self.read),
            (Factor.PLATE, self.plate),
            (Factor.FINGER, self.finger),
            (Factor.FACE, self.face),
            (Factor.PIN, self.typed),
        )
        return tuple(factor for factor, value in shown if value is not None)


_NOTHING_ELSE = (None, None, None, None)


class PolicyHours(NamedTuple):
    """Other alternatives, in force while a schedule is open."""

    schedule: Schedule
    alternatives: tuple[Factors, ...]


JUST_A_CARD: Factors = (Factor.CARD,)


@dataclass(frozen=True, slots=True)
class ReaderPolicy:
    """What a reader asks for: any one of the alternatives, each a set of factors presented
    together.

    ``formats`` are the card formats it can read; None are all of them. Of ``by_hours`` the first
    whose schedule is open counts instead of the alternatives. ``finger_match`` and ``face_match``
    are how alike a finger or a face must be to one that is known, in hundredths; None is what the
    site has. Raises Invalid when an alternative asks for nothing, or none is there.
    """

    alternatives: tuple[Factors, ...] = (JUST_A_CARD,)
    formats: frozenset[int] | None = None
    by_hours: tuple[PolicyHours, ...] = ()
    finger_match: int | None = None
    face_match: int | None = None

    def __post_init__(self) -> None:
        object.__setattr__(self, "alternatives", _ordered(self.alternatives))
        windows = tuple(PolicyHours(schedule, _ordered(asked)) for schedule, asked in self.by_hours)
        object.__setattr__(self, "by_hours", windows)

    @property
    def asked_at_any_hour(self) -> tuple[Factors, ...]:
        """Every alternative that it has at some hour."""
        if not self.by_hours:
            return self.alternatives
        return (
            *self.alternatives,
            *(asked for hours in self.by_hours for asked in hours.alternatives),
        )

    def takes(self, factor: Factor) -> bool:
        """Say whether it asks for a factor at any hour, alone or with others."""
        return any(factor in alternative for alternative in self.asked_at_any_hour)

    def needs(self, factor: Factor) -> bool:
        """Say whether nobody gets past it without a factor, at any hour."""
        return all(factor in alternative for alternative in self.asked_at_any_hour)

    @property
    def looks_at_cards(self) -> bool:
        """Say whether a card says anything here: where it is asked for, or where a finger or a face
        is, of which somebody may be excused.
        """
        return self.takes(Factor.CARD) or any(map(self.takes, BIOMETRIC))

    def reads(self, format_id: int) -> bool:
        return (self.formats is None or format_id in self.formats) and self.looks_at_cards

    def match_needed(self, factor: Factor) -> int | None:
        """Return how alike a finger or a face must be here, in hundredths; None for the usual."""
        return self.finger_match if factor is Factor.FINGER else self.face_match

    def at(self, at: datetime) -> "ReaderPolicy":
        """Return what it asks for at an instant, whatever the hours."""
        for schedule, alternatives in self.by_hours:
            if schedule.is_open(at):
                return replace(self, alternatives=alternatives, by_hours=())
        return replace(self, by_hours=()) if self.by_hours else self

    def through(self, span: Span) -> Iterator[tuple[Span, "ReaderPolicy"]]:
        """Cut a bounded span where what it asks for changes, in order."""
        if not self.by_hours:
            yield span, self
            return
        start, end = bounds(span)
        edges = {start, end}
        for schedule, _ in self.by_hours:
            edges.update(edge for window in schedule.open_spans(span) for edge in bounds(window))
        for begin, finish in pairwise(sorted(edges)):
            yield Span(begin, finish), self.at(begin)


def without_biometrics(alternative: Factors) -> Factors | None:
    """Return what is asked of somebody who is let in by card alone; None where it is no less.

    >>> without_biometrics((Factor.FINGER, Factor.PIN))
    (<Factor.CARD: 'card'>, <Factor.PIN: 'pin'>)
    """
    if BIOMETRIC.isdisjoint(alternative):
        return None
    return factors_of({*alternative, Factor.CARD} - BIOMETRIC)


def alternatives_by_card_alone(alternatives: Iterable[Factors]) -> tuple[Factors, ...]:
    """Return what else is enough of somebody who is let in by card alone."""
    return tuple(less for asked in alternatives if (less := without_biometrics(asked)))


def _ordered(alternatives: Iterable[Iterable[Factor]]) -> tuple[Factors, ...]:
    found = {factors_of(alternative) for alternative in alternatives}
    if not found or () in found:
        raise Invalid([Problem("policy.asks_for_nothing", "policy")])
    return tuple(sorted(found, key=lambda factors: [_ORDER[factor] for factor in factors]))


ANY_CARD = ReaderPolicy()

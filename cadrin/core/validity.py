"""Spans, standings, and the state something is in at an instant."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.errors import Problem


@dataclass(frozen=True, slots=True)
class Span:
    """The time something counts: from ``start`` on, up to but not at ``end``; None is open."""

    start: datetime | None = None
    end: datetime | None = None

    def __contains__(self, at: datetime) -> bool:
        return (self.start is None or self.start <= at) and (self.end is None or at < self.end)

    @property
    def is_empty(self) -> bool:
        return self.start is not None and self.end is not None and self.end <= self.start


ALWAYS = Span()


def problems_with_span(span: Span, field: str = "expiry_at") -> tuple[Problem, ...]:
    """Refuse an expiry that is not after the activation."""
    return (Problem("span.ends_before_it_begins", field),) if span.is_empty else ()


class Standing(StrEnum):
    """What the operator decided about a cardholder."""

    ACTIVE = "active"
    SUSPENDED = "suspended"
    BARRED = "barred"
    DEPARTED = "departed"


class State(StrEnum):
    """What holds at an instant. Derived, never stored."""

    PENDING = "pending"
    IN_FORCE = "in_force"
    EXPIRED = "expired"
    SUSPENDED = "suspended"
    BARRED = "barred"
    DEPARTED = "departed"


class Condition(NamedTuple):
    """A state, and the next instant at which it changes by itself; None when time alone changes
    nothing.
    """

    state: State
    until: datetime | None


def state_in_span(span: Span, at: datetime) -> Condition:
    """Return the state of something that only has a span.

    An empty span is never in force: it goes from pending to expired at its end.
    """
    if span.end is not None and span.end <= at:
        return Condition(State.EXPIRED, None)
    if span.start is not None and at < span.start:
        return Condition(State.PENDING, min(span.start, span.end) if span.end else span.start)
    return Condition(State.IN_FORCE, span.end)


def state_at(
    standing: Standing, span: Span, at: datetime, suspended_until: datetime | None = None
) -> Condition:
    """Return a cardholder's state: what the operator decided comes before what the calendar says.

    A suspension with an end is over at that end; without one it lasts until an operator ends it.
    """
    match standing:
        case Standing.BARRED:
            return Condition(State.BARRED, None)
        case Standing.DEPARTED:
            return Condition(State.DEPARTED, None)
        case Standing.SUSPENDED if suspended_until is None or at < suspended_until:
            return Condition(State.SUSPENDED, suspended_until)
        case Standing.ACTIVE | Standing.SUSPENDED:
            return state_in_span(span, at)


def span_in_force(
    standing: Standing, span: Span, suspended_until: datetime | None = None
) -> Span | None:
    """Return the one span in which `state_at` says in force, or None when there is none."""
    if standing in (Standing.BARRED, Standing.DEPARTED):
        return None
    if standing is Standing.SUSPENDED:
        if suspended_until is None:
            return None
        span = intersection(span, Span(suspended_until, None))
    return None if span.is_empty else span


def overlap(first: Span, second: Span) -> bool:
    """Say whether there is an instant that lies in both."""
    return not intersection(first, second).is_empty


def intersection(first: Span, second: Span) -> Span:
    """Return the time that lies in both; it may be empty."""
    if (
        second.start is None and second.end is None
    ):  # nearly always: memberships and cards without end
        return first
    if first.start is None and first.end is None:
        return second
    starts = [span.start for span in (first, second) if span.start is not None]
    ends = [span.end for span in (first, second) if span.end is not None]
    return Span(max(starts, default=None), min(ends, default=None))


def merged(spans: Iterable[Span]) -> tuple[Span, ...]:
    """Return the same time as closed spans in order that neither overlap nor touch. Takes bounded
    spans only.
    """
    found: list[Span] = []
    for span in sorted(
        (span for span in spans if not span.is_empty), key=lambda span: bounds(span)[0]
    ):
        if found and bounds(span)[0] <= bounds(found[-1])[1]:
            last = found[-1]
            found[-1] = Span(last.start, max(bounds(last)[1], bounds(span)[1]))
        else:
            found.append(span)
    return tuple(found)


def as_one(one: Span, other: Span) -> Span | None:
    """Return the time of two spans as one; None where there is time between them."""
    if one.is_empty or other.is_empty:
        return other if one.is_empty else one
    for first, second in ((one, other), (other, one)):
        if first.end is not None and second.start is not None and first.end < second.start:
            return None
    starts, ends = (one.start, other.start), (one.end, other.end)
    return Span(
        None if None in starts else min(filter(None, starts)),
        None if None in ends else max(filter(None, ends)),
    )


def minus(first: Iterable[Span], second: Iterable[Span]) -> tuple[Span, ...]:
    """Return the time of bounded spans in order that is not in others, which are in order as well."""
    found, others, place = [], [bounds(span) for span in second], 0
    for start, end in map(bounds, first):
        while place < len(others) and others[place][1] <= start:
            place += 1
        here, n = start, place
        while n < len(others) and others[n][0] < end:
            if here < others[n][0]:
                found.append(Span(here, others[n][0]))
            here = max(here, others[n][1])
            n += 1
        if here < end:
            found.append(Span(here, end))
    return tuple(found)


def bounds(span: Span) -> tuple[datetime, datetime]:
    """Return both ends of a bounded span. Raises ValueError for an open one."""
    if span.start is None or span.end is None:
        raise ValueError("an open span has no two ends")
    return span.start, span.end

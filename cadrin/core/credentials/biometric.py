"""Templates of fingers and faces as doors know them, consent to them, and being let in without."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from typing import TYPE_CHECKING, NamedTuple

from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Problem
from cadrin.core.validity import (
    ALWAYS,
    Span,
    State,
    intersection,
    problems_with_span,
    state_in_span,
)

if TYPE_CHECKING:
    from cadrin.core.credentials.factors import Factor

Sample = object
"""What a reader made of the finger that was laid or the face that was shown: only the records it is
compared with know what it is.
"""


class Against(NamedTuple):
    """What may stand against a template, in this order."""

    without_consent: Reason
    suspended: Reason
    pending: Reason
    expired: Reason


AGAINST_A_FINGER = Against(
    Reason.FINGER_WITHOUT_CONSENT,
    Reason.FINGER_SUSPENDED,
    Reason.FINGER_PENDING,
    Reason.FINGER_EXPIRED,
)
AGAINST_A_FACE = Against(
    Reason.FACE_WITHOUT_CONSENT, Reason.FACE_SUSPENDED, Reason.FACE_PENDING, Reason.FACE_EXPIRED
)


@dataclass(frozen=True, slots=True)
class Biometric:
    """A template of a finger or a face: an open record, as base64. It counts in ``span``, as long as
    the consent to it is in force (``agreed``); with ``is_duress`` it opens and raises a silent
    alarm. One that is suspended has no record: no door needs it.
    """

    id: int
    record: str
    against: Against
    agreed: Span = ALWAYS
    span: Span = ALWAYS
    is_suspended: bool = False
    is_duress: bool = False

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works; it may reach beyond the span that is asked for."""
        return () if self.is_suspended else (intersection(self.agreed, self.span),)

    def reason_against(self, at: datetime) -> Reason | None:
        """Return the reason against it at an instant, or None."""
        if at not in self.agreed:
            return self.against.without_consent
        if self.is_suspended:
            return self.against.suspended
        if at in self.span:
            return None
        is_pending = state_in_span(self.span, at).state is State.PENDING
        return self.against.pending if is_pending else self.against.expired


class HowGiven(StrEnum):
    """How somebody gave their consent."""

    SIGNATURE = "signature"
    TICK = "tick"
    PAPER = "paper"
    MAIL = "mail"


PROVEN_BY_A_FILE = (HowGiven.SIGNATURE, HowGiven.PAPER, HowGiven.MAIL)


@dataclass(frozen=True, slots=True)
class Consent:
    """A cardholder's agreement to templates of one factor, and the time in which it is in force."""

    factor: "Factor"
    span: Span = ALWAYS


_NEVER = Span(None, datetime.fromtimestamp(0, UTC))


def time_covered(consents: Iterable[Consent], factor: "Factor") -> Span:
    """Return the time in which templates of a factor count: that of the consent that lasts longest;
    never without any.
    """
    ends = [consent.span.end for consent in consents if consent.factor is factor]
    if not ends:
        return _NEVER
    return Span(None, None if None in ends else max(end for end in ends if end is not None))


FEWEST_LETTERS, MOST_LETTERS = 5, 200


def problems_with_card_alone(reason: str) -> Iterable[Problem]:
    """Yield what stands against letting somebody in by card alone for a reason."""
    if len(reason.strip()) < FEWEST_LETTERS:
        yield Problem("card_alone.needs_reason", "reason", {"least": FEWEST_LETTERS})
    if len(reason) > MOST_LETTERS:
        yield Problem("input.too_long", "reason", {"most": MOST_LETTERS})


def without_room(counts: Iterable[tuple[int, int]], most: int) -> frozenset[int]:
    """Return the cardholders whose templates a controller has no room for, which keeps ``most`` of
    everybody together. ``counts`` are how many each has, whoever came last at the end.

    >>> sorted(without_room([(1, 2), (2, 2), (3, 1)], 3))
    [2]
    """
    left_out, kept = set(), 0
    for holder_id, count in counts:
        if kept + count <= most:
            kept += count
        else:
            left_out.add(holder_id)
    return frozenset(left_out)


LONGEST_LABEL = 40


def problems_with_terms(label: str, span: Span, at: datetime) -> Iterable[Problem]:
    """Yield what stands against the label of a template and the time in which it counts. One goes at
    its end, so that must be yet to come.
    """
    if len(label) > LONGEST_LABEL:
        yield Problem("input.too_long", "label", {"most": LONGEST_LABEL})
    yield from problems_with_span(span)
    if span.end is not None and span.end <= at:
        yield Problem("template.end_is_past", "expiry_at")

"""Templates of fingers and faces as doors know them, consent to them, and being let in without."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from typing import TYPE_CHECKING

from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Problem
from cadrin.core.validity import ALWAYS, Span

if TYPE_CHECKING:
    from cadrin.core.credentials.factors import Factor

Sample = object
"""What a reader made of the finger that was laid or the face that was shown: only the records it is
compared with know what it is.
"""


@dataclass(frozen=True, slots=True)
class Biometric:
    """A template of a finger or a face: an open record, as base64. It counts in ``span``, while the
    consent to it is in force; with ``is_duress`` it opens and raises a silent alarm.
    """

    id: int
    record: str
    reason_when_ended: Reason
    span: Span = ALWAYS
    is_duress: bool = False

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works; it may reach beyond the span that is asked for."""
        return (self.span,)

    def reason_against(self, at: datetime) -> Reason | None:
        """Return the reason against it at an instant, or None."""
        return None if at in self.span else self.reason_when_ended


class HowGiven(StrEnum):
    """How somebody gave their consent."""

    SIGNATURE = "signature"
    TICK = "tick"
    PAPER = "paper"


@dataclass(frozen=True, slots=True)
class Consent:
    """A cardholder's agreement to templates of one factor, and the time in which it is in force."""

    factor: "Factor"
    span: Span = ALWAYS


_EPOCH = datetime.fromtimestamp(0, UTC)
_NEVER = Span(_EPOCH, _EPOCH)


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

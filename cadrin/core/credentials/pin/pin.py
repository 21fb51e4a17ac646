"""A PIN as doors know it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.decision.reasons import Reason
from cadrin.core.validity import ALWAYS, Span


@dataclass(frozen=True, slots=True)
class Pin:
    """A PIN, known by its keyed hash. One that opens alone needs no card beside it."""

    id: int
    hash: str
    opens_alone: bool = False
    span: Span = ALWAYS

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works; it may reach beyond the span that is asked for."""
        return (self.span,)

    def reason_against(self, at: datetime) -> Reason | None:
        """Return the reason against it at an instant, or None."""
        return None if at in self.span else Reason.PIN_EXPIRED

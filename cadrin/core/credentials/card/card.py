"""A card as doors know it: its key, its terms, and whether it works at an instant."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple

from cadrin.core.credentials.card.life import CardStatus, card_span_in_force, card_state_at
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.decision.reasons import Reason
from cadrin.core.schedules import Schedule
from cadrin.core.validity import ALWAYS, Span, State, intersection

REASON_OF_STATUS = {
    CardStatus.SUSPENDED: Reason.CARD_SUSPENDED,
    CardStatus.LOST: Reason.CARD_LOST,
    CardStatus.STOLEN: Reason.CARD_STOLEN,
    CardStatus.DAMAGED: Reason.CARD_DAMAGED,
    CardStatus.IN_STOCK: Reason.CARD_NOT_ISSUED,
    CardStatus.RETURNED: Reason.CARD_NOT_ISSUED,
    CardStatus.DESTROYED: Reason.CARD_NOT_ISSUED,
}


_ISSUED = CardStatus.ISSUED


class CardKey(NamedTuple):
    """What makes a card one card: its format, facility code and card number."""

    format_id: int
    facility_code: int
    card_number: int

    @classmethod
    def of(cls, format_id: int, numbers: CardNumbers) -> "CardKey":
        return cls(format_id, numbers.facility_code, numbers.card_number)


@dataclass(frozen=True, slots=True)
class Card:
    """A card in somebody's hands.

    ``hours`` are its own, beside those of its holder's groups. ``issue_level`` is the one it was
    last issued with, None where that is not known; an earlier one is dead.
    """

    key: CardKey
    status: CardStatus = CardStatus.ISSUED
    span: Span = ALWAYS
    suspended_until: datetime | None = None
    hours: Schedule | None = None
    limit: UseLimit | None = None
    is_watched: bool = False
    issue_level: int | None = None

    @property
    def is_plain(self) -> bool:
        """Whether nothing but its span can speak against it: so it is with nearly every card."""
        return (
            self.limit is None
            and self.hours is None
            and self.issue_level is None
            and self.status is _ISSUED
        )

    @property
    def in_force(self) -> Span | None:
        """The time in which it counts, by what is known of its uses; its own hours cut that
        further.
        """
        if self.limit and self.limit.is_used_up():
            return None
        return card_span_in_force(self.status, self.span, self.suspended_until)

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works, as far as a bounded span is asked for; it may reach
        beyond.
        """
        in_force = self.in_force
        if in_force is None:
            return ()
        if self.hours is None:
            return (in_force,)
        return [intersection(in_force, window) for window in self.hours.open_spans(span)]

    def reason_against(self, at: datetime, uses_here: int = 0) -> Reason | None:
        """Return the reason against it at an instant, or None.

        ``uses_here`` are those that only the controller that asks knows of.
        """
        if (
            self.limit is None
            and self.hours is None
            and self.status is CardStatus.ISSUED
            and at in self.span
        ):
            return None  # nearly always, at doors
        if against := self.reason_against_at_any_hour(at, uses_here):
            return against
        return None if self.hours is None or self.hours.is_open(at) else Reason.CARD_OUTSIDE_HOURS

    def reason_against_at_any_hour(self, at: datetime, uses_here: int = 0) -> Reason | None:
        """Return the reason against it, leaving its own hours aside, or None."""
        state = card_state_at(self.status, self.span, at, self.suspended_until).state
        if state is State.SUSPENDED:
            return REASON_OF_STATUS[self.status]
        if state is not State.IN_FORCE:
            return Reason.CARD_PENDING if state is State.PENDING else Reason.CARD_EXPIRED
        return Reason.CARD_USED_UP if self.limit and self.limit.is_used_up(uses_here) else None

"""A card as an operator wants a cardholder to have it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.validity import Span
from cadrin.credentials.models import Card

CardIdentity = tuple[int, int, int]
"""Format, facility code and card number."""


@dataclass(frozen=True, slots=True)
class CardDraft:
    """A card as an operator wants a cardholder to have it. ``hours`` are its own, in ``zone``; none
    are any time.
    """

    format_id: int
    facility_code: int
    card_number: int
    status: CardStatus = CardStatus.ISSUED
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    suspended_until: datetime | None = None
    label: str = ""
    is_watched: bool = False
    is_temporary: bool = False
    issue_level: int | None = None
    use_limit: int | None = None
    hours: tuple[Hours, ...] = ()
    zone: str = "UTC"

    @property
    def identity(self) -> CardIdentity:
        return self.format_id, self.facility_code, self.card_number

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)

    def kept(self) -> dict[str, Any]:
        """Return everything but the identity, by the names of the columns it is kept in."""
        is_suspended = self.status is CardStatus.SUSPENDED
        hours = [[h.weekday, h.start_minute, h.end_minute] for h in sorted(self.hours)]
        return {
            "status": self.status.value,
            "activation_at": self.activation_at,
            "expiry_at": self.expiry_at,
            "suspended_until": self.suspended_until if is_suspended else None,
            "label": self.label.strip(),
            "is_watched": self.is_watched,
            "is_temporary": self.is_temporary,
            "issue_level": self.issue_level,
            "use_limit": self.use_limit,
            "hours": {"zone": self.zone, "hours": hours} if hours else None,
        }

    def told(self) -> dict[str, Any]:
        """Return what is kept of it as JSON knows it."""
        return {
            name: value.isoformat() if isinstance(value, datetime) else value
            for name, value in self.kept().items()
        }


def draft_of(card: Card) -> CardDraft:
    """Return a card as it is stored."""
    hours = card.hours or {"zone": "UTC", "hours": []}
    return CardDraft(
        card.format_id,
        card.facility_code,
        card.card_number,
        CardStatus(card.status),
        card.activation_at,
        card.expiry_at,
        card.suspended_until,
        card.label,
        card.is_watched,
        card.is_temporary,
        card.issue_level,
        card.use_limit,
        tuple(Hours(*window) for window in hours["hours"]),
        hours["zone"],
    )


def schedule_of_card(hours: Mapping[str, Any] | None) -> Schedule | None:
    """Read the hours of a card as they are kept."""
    return (
        Schedule(hours["zone"], tuple(Hours(*window) for window in hours["hours"]))
        if hours
        else None
    )

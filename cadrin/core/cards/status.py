"""What has become of a card, and whether it counts."""

from datetime import datetime
from enum import StrEnum

from cadrin.core.validity import Condition, Span, State, state_in_span


class CardStatus(StrEnum):
    """Where a card is in its life. Only an issued card opens anything."""

    IN_STOCK = "in_stock"
    ISSUED = "issued"
    SUSPENDED = "suspended"
    LOST = "lost"
    STOLEN = "stolen"
    DAMAGED = "damaged"
    RETURNED = "returned"
    DESTROYED = "destroyed"


HELD_STATUSES = (CardStatus.ISSUED, CardStatus.SUSPENDED, CardStatus.LOST, CardStatus.STOLEN, CardStatus.DAMAGED)
"""The statuses in which a card is somebody's; in the others it has no holder."""


def card_state_at(status: CardStatus, span: Span, at: datetime) -> Condition:
    """Give a card's state: any status but issued withdraws it, whatever its span says."""
    return state_in_span(span, at) if status is CardStatus.ISSUED else Condition(State.SUSPENDED, None)

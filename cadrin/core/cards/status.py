"""What has become of a card, and whether it counts."""

from collections.abc import Mapping
from datetime import datetime
from enum import StrEnum

from cadrin.core.validity import Condition, Span, State, meet, state_in_span


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
"""The statuses in which a card may be somebody's."""
ALIVE = (CardStatus.ISSUED, CardStatus.SUSPENDED)
"""The statuses in which a card must be somebody's, and works or may work again."""
FREE = (CardStatus.IN_STOCK, CardStatus.RETURNED)
"""The statuses in which a card may be given to somebody."""
WHEN_GIVEN_UP: Mapping[CardStatus, CardStatus] = {
    CardStatus.ISSUED: CardStatus.RETURNED,
    CardStatus.SUSPENDED: CardStatus.RETURNED,
    CardStatus.LOST: CardStatus.LOST,
    CardStatus.STOLEN: CardStatus.STOLEN,
    CardStatus.DAMAGED: CardStatus.DAMAGED,
}
"""What a card becomes when it is nobody's any more. One that is lost is not back by that: whoever has it in hand says
so of the card itself, and until then nobody is given it."""


def card_state_at(status: CardStatus, span: Span, at: datetime, suspended_until: datetime | None = None) -> Condition:
    """Give a card's state: any status but issued withdraws it, whatever its span says.

    A suspension with an end is over at that end: a card that was left at home comes back by itself.
    """
    if status is CardStatus.ISSUED or _is_back(status, suspended_until, at):
        return state_in_span(span, at)
    return Condition(State.SUSPENDED, suspended_until if status is CardStatus.SUSPENDED else None)


def _is_back(status: CardStatus, suspended_until: datetime | None, at: datetime) -> bool:
    return status is CardStatus.SUSPENDED and suspended_until is not None and suspended_until <= at


def card_span_in_force(status: CardStatus, span: Span, suspended_until: datetime | None = None) -> Span | None:
    """Give the one span in which `card_state_at` says in force, or None when there is none."""
    if status is CardStatus.SUSPENDED and suspended_until is not None:
        span = meet(span, Span(suspended_until, None))
    elif status is not CardStatus.ISSUED:
        return None
    return None if span.is_empty else span

"""What has become of a card, and whether it counts."""

from collections.abc import Mapping
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.validity import Condition, Span, State, intersection, state_in_span


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


class Life(NamedTuple):
    """What may be said of a card in a status: whether it may be somebody's, and must be, as it
    works or may again; whether it may be given to somebody; what it becomes when it is nobody's any
    more; and what may follow.
    """

    is_held: bool
    is_alive: bool
    is_free: bool
    when_given_up: CardStatus | None
    may_become: frozenset[CardStatus]


def _life(
    *follows: CardStatus,
    held: bool = False,
    alive: bool = False,
    free: bool = False,
    given_up: CardStatus | None = None,
) -> Life:
    return Life(held, alive, free, given_up, frozenset(follows))


_IN_HANDS = (
    CardStatus.ISSUED,
    CardStatus.SUSPENDED,
    CardStatus.LOST,
    CardStatus.STOLEN,
    CardStatus.DAMAGED,
)
_PUT_AWAY = (CardStatus.IN_STOCK, CardStatus.DESTROYED)
LIFE: Mapping[CardStatus, Life] = {
    CardStatus.IN_STOCK: _life(*_IN_HANDS, CardStatus.DESTROYED, free=True),
    CardStatus.ISSUED: _life(
        *_IN_HANDS, CardStatus.RETURNED, held=True, alive=True, given_up=CardStatus.RETURNED
    ),
    CardStatus.SUSPENDED: _life(
        *_IN_HANDS, CardStatus.RETURNED, held=True, alive=True, given_up=CardStatus.RETURNED
    ),
    # one that is lost is not back by being nobody's: whoever has it in hand says so, and till then
    # nobody is given it
    CardStatus.LOST: _life(*_IN_HANDS, *_PUT_AWAY, held=True, given_up=CardStatus.LOST),
    CardStatus.STOLEN: _life(*_IN_HANDS, *_PUT_AWAY, held=True, given_up=CardStatus.STOLEN),
    CardStatus.DAMAGED: _life(*_IN_HANDS, *_PUT_AWAY, held=True, given_up=CardStatus.DAMAGED),
    CardStatus.RETURNED: _life(*_IN_HANDS, *_PUT_AWAY, free=True),
    CardStatus.DESTROYED: _life(CardStatus.IN_STOCK),
}
"""The one table of a card's life."""

HELD_STATUSES = tuple(status for status, life in LIFE.items() if life.is_held)
ALIVE = tuple(status for status, life in LIFE.items() if life.is_alive)
FREE = tuple(status for status, life in LIFE.items() if life.is_free)


def given_up(status: CardStatus) -> CardStatus:
    """Say what a card becomes when it is nobody's any more. Raises ValueError for one that is
    nobody's.
    """
    after = LIFE[status].when_given_up
    if after is None:
        raise ValueError(f"a card that is {status} is nobody's")
    return after


def card_state_at(
    status: CardStatus, span: Span, at: datetime, suspended_until: datetime | None = None
) -> Condition:
    """Return a card's state: any status but issued withdraws it, whatever its span says.

    A suspension with an end is over at that end: a card that was left at home comes back by itself.
    """
    if status is CardStatus.ISSUED or _is_back(status, suspended_until, at):
        return state_in_span(span, at)
    return Condition(State.SUSPENDED, suspended_until if status is CardStatus.SUSPENDED else None)


def _is_back(status: CardStatus, suspended_until: datetime | None, at: datetime) -> bool:
    return status is CardStatus.SUSPENDED and suspended_until is not None and suspended_until <= at


def card_span_in_force(
    status: CardStatus, span: Span, suspended_until: datetime | None = None
) -> Span | None:
    """Return the one span in which `card_state_at` says in force, or None when there is none."""
    if status is CardStatus.SUSPENDED and suspended_until is not None:
        span = intersection(span, Span(suspended_until, None))
    elif status is not CardStatus.ISSUED:
        return None
    return None if span.is_empty else span

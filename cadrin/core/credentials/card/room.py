"""Which of somebody's cards a controller keeps that has no room for all of them."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.life import CardStatus


class Memory(NamedTuple):
    """A controller's memory: its name, by which uses are counted, how many cards and memberships of
    one cardholder it keeps, how many schedules, how long a name, the last second that its calendar
    knows, and how many seconds a span from one instant to another may be long. Of the cardholders in
    ``without_templates`` it keeps no fingers and faces: it has no room for them.
    """

    name: str = ""
    most_cards: int | None = None
    longest_name: int | None = None
    latest: int | None = None
    without_templates: frozenset[int] = frozenset()
    longest_span: int | None = None
    most_memberships: int | None = None
    most_schedules: int | None = None


ANY_MEMORY = Memory()


def name_of_memory(controller_id: int, store: str) -> str:
    """Return the name under which a memory of a controller counts uses of cards."""
    return f"{controller_id}:{store}"


def cards_kept(cards: Iterable[Card], memory: Memory) -> tuple[Card, ...]:
    """Return the cards that a memory has room for, by what makes a card: the most important stay.

    First those that work now or will by themselves, of these the ones that work longest; then those
    that are suspended, for which the door can say so; then the others.
    """
    return tuple(
        sorted(sorted(cards, key=_importance)[: memory.most_cards], key=lambda card: card.key)
    )


def first_to_go(cards: Iterable[Card], memory: Memory) -> Card:
    """Return the least important of the cards that a memory keeps: without it there is room for
    another.
    """
    return sorted(cards, key=_importance)[: memory.most_cards][-1]


def cards_left_out(cards: Iterable[Card], memory: Memory, at: datetime) -> tuple[Card, ...]:
    """Return the cards that work, or will, and for which a memory has no room: they open nothing at
    its doors.
    """
    every = tuple(cards)
    kept = {card.key for card in cards_kept(every, memory)}
    return tuple(card for card in every if _works_from(card, at) and card.key not in kept)


def _works_from(card: Card, at: datetime) -> bool:
    span = card.in_force
    return span is not None and (span.end is None or at < span.end)


def _importance(card: Card) -> tuple[int, bool, float, CardKey]:
    end = card.in_force.end if card.in_force else None
    rank = 0 if card.in_force else 1 if card.status is CardStatus.SUSPENDED else 2
    return rank, end is not None, -end.timestamp() if end else 0.0, card.key

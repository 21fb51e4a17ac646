"""A card's whole life, for whoever finds one or asks what became of it."""

from typing import Any, NamedTuple

from cadrin.activity.queries import ReadFilters, reads
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import FREE
from cadrin.credentials.queries import boxes_with, find_card
from cadrin.desk.journal import history_of_card
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.scoping import only_seen


class CardHistory(NamedTuple):
    """What is known of a card; ``is_anothers`` when its holder is out of the actor's reach. Newest
    first.
    """

    status: str | None
    can_be_issued: bool
    label: str
    holder_id: int | None
    holder_name: str
    is_anothers: bool
    use_limit: int | None
    used: int
    boxes: Rows
    acts: list[dict[str, Any]]
    reads: list[dict[str, Any]]


def card_history(actor: Actor, key: CardKey) -> CardHistory:
    """Return everything that is known of a card, also of one that is in no list here."""
    rows = boxes_with(key)
    seen = reads(actor, ReadFilters(card=key), most=30)
    card = find_card(key)
    if card is None:
        return CardHistory(None, True, "", None, "", False, None, 0, rows, [], seen)
    holder = card.holder if card.holder_id and only_seen(actor, [card.holder_id]) else None
    return CardHistory(
        card.status,
        card.status in FREE,
        card.label if holder else "",
        holder.pk if holder else None,
        holder.display_name if holder else "",
        card.holder_id is not None and holder is None,
        card.use_limit,
        card.used,
        rows,
        history_of_card(actor, card.pk),
        seen,
    )

"""How often cards with a use limit were used, and whose a PIN is that a door did not know."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from cadrin.credentials.card_draft import CardIdentity
from cadrin.credentials.models import Card, CardUse, Pin


class LimitedCard(NamedTuple):
    """A card that works only so many times, counted from an instant."""

    id: int
    identity: CardIdentity
    holder_id: int | None
    counted_from: datetime


def limited_cards(
    identities: Iterable[tuple[int | None, int | None, int | None]],
) -> list[LimitedCard]:
    """Return those of the cards that have a use limit."""
    wanted = set(identities)
    numbers = [number for _, _, number in wanted if number is not None]
    cards = Card.objects.filter(
        card_number__in=numbers, use_limit__isnull=False, counted_from__isnull=False
    )
    return [
        LimitedCard(card.pk, identity, card.holder_id, card.counted_from)
        for card in cards
        for identity in [(card.format_id, card.facility_code, card.card_number)]
        if identity in wanted and card.counted_from
    ]


def note_uses(card_id: int, memory: str, count: int) -> None:
    """Note how often one memory of one controller tells of a card; the sum is kept for lists."""
    CardUse.objects.update_or_create(card_id=card_id, memory=memory, defaults={"count": count})
    told = CardUse.objects.filter(card_id=card_id).values_list("count", flat=True)
    Card.objects.filter(pk=card_id).update(used=sum(told))


class Owner(NamedTuple):
    """Whose a credential is."""

    id: int
    display_name: str


def owner_of_hashes(hashes: Iterable[str]) -> Owner | None:
    """Return whose PIN it is that opens alone and has one of the hashes, or None."""
    found = Pin.objects.filter(door_hash__in=list(hashes), opens_alone=True)
    row = found.values_list("holder_id", "holder__display_name").first()
    return Owner(*row) if row else None

"""Cards, PINs and licence plates as doors know them."""

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.credentials.card.card import Card as CoreCard
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.pin.pin import Pin as CorePin
from cadrin.core.credentials.plate.plate import Plate as CorePlate
from cadrin.core.validity import Span
from cadrin.credentials.card_draft import schedule_of_card
from cadrin.credentials.models import Card, CardUse, Pin, Plate

_CARD = (
    "holder_id", "id", "format_id", "facility_code", "card_number", "status", "activation_at",
    "expiry_at",
    "suspended_until", "hours", "use_limit", "counted_from", "is_watched", "issue_level",
)  # fmt: skip
_cards = RowsByIds(
    lambda: (
        Card.objects.filter(holder_id__among=IDS).order_by("holder_id", "id").values_list(*_CARD)
    )
)
_pins = RowsByIds(
    lambda: (
        Pin.objects.filter(holder_id__among=IDS)
        .order_by("holder_id", "id")
        .values_list("holder_id", "id", "door_hash", "opens_alone", "expiry_at")
    )
)
_plates = RowsByIds(
    lambda: (
        Plate.objects.filter(holder_id__among=IDS)
        .order_by("holder_id", "id")
        .values_list("holder_id", "number")
    )
)


def cards_at_doors(holder_ids: list[int]) -> dict[int, list[CoreCard]]:
    """Return the cards of cardholders, with the uses that are counted."""
    rows = _cards(holder_ids)
    uses: dict[int, list[tuple[str, int]]] = {}
    if limited := [id_ for _, id_, *_, limit, _, _, _ in rows if limit]:
        told = CardUse.objects.filter(card_id__in=limited).order_by("memory")
        for id_, memory, count in told.values_list("card_id", "memory", "count"):
            uses.setdefault(id_, []).append((memory, count))
    cards: dict[int, list[CoreCard]] = {}
    for (
        holder_id,
        id_,
        format_id,
        code,
        number,
        status,
        start,
        end,
        until,
        hours,
        limit,
        since,
        watched,
        level,
    ) in rows:
        card = CoreCard(
            CardKey(format_id, code, number),
            CardStatus(status),
            Span(start, end),
            until,
            schedule_of_card(hours),
            UseLimit(limit, since, tuple(uses.get(id_, ()))) if limit else None,
            watched,
            level,
        )
        cards.setdefault(holder_id, []).append(card)
    return cards


def pins_at_doors_of(holder_ids: list[int]) -> dict[int, list[CorePin]]:
    """Return the PINs of cardholders, by the hashes that controllers know."""
    pins: dict[int, list[CorePin]] = {}
    for holder_id, id_, hash_, alone, end in _pins(holder_ids):
        pins.setdefault(holder_id, []).append(CorePin(id_, hash_, alone, Span(None, end)))
    return pins


def plates_at_doors(holder_ids: list[int]) -> dict[int, list[CorePlate]]:
    """Return the licence plates of cardholders."""
    plates: dict[int, list[CorePlate]] = {}
    for holder_id, number in _plates(holder_ids):
        plates.setdefault(holder_id, []).append(CorePlate(number))
    return plates

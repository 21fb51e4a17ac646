"""Read cards and their formats."""

from functools import lru_cache
from typing import Any

from django.db.models import F

from cadrin.cards.models import Card, CardFormat
from cadrin.core.access.plan import CardKey
from cadrin.core.cards.formats import CardFormat as Layout
from cadrin.core.cards.formats import CardNumbers, RawRead
from cadrin.core.delivery import format_from
from cadrin.core.errors import Invalid
from cadrin.outbox.rows import Rows


def formats() -> dict[int, Layout]:
    """Give every format in use here, in the order in which a read is tried against them."""
    rows = CardFormat.objects.order_by("id").values_list("id", "layout")
    return {id_: _layout(id_, _frozen(layout)) for id_, layout in rows}


def _frozen(layout: Any) -> Any:
    if isinstance(layout, dict):
        return tuple((name, _frozen(value)) for name, value in layout.items())
    return tuple(_frozen(value) for value in layout) if isinstance(layout, list) else layout


@lru_cache(maxsize=64)
def _layout(id_: int, layout: Any) -> Layout:
    return format_from(dict(layout))


def card_formats() -> Rows:
    return list(CardFormat.objects.order_by("id").values("id", "name", about=F("source")))


def find_card(key: CardKey) -> Card | None:
    """Find a card by what makes it one card, with its holder."""
    return (
        Card.objects.select_related("holder")
        .filter(format_id=key.format_id, facility_code=key.facility_code, card_number=key.card_number)
        .first()
    )


def raw_of(key: CardKey) -> RawRead:
    """Give the bits a card with these numbers sends.

    Raises Invalid for an unknown format, or numbers it cannot carry.
    """
    layout = formats().get(key.format_id)
    if layout is None:
        raise Invalid.of("input.no_longer_there", "format")
    return layout.encode(CardNumbers(key.facility_code, key.card_number))

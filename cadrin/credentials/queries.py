"""Read cards and their formats."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from datetime import datetime
from functools import lru_cache
from typing import Any, NamedTuple

from django.db.models import Count, Exists, F, OuterRef, Q

from cadrin.config.database.instants import Turn, Window, turns
from cadrin.config.database.reading import IDS, ObjectsByIds, RowsByIds
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.detective import Clue, Explanation, investigate
from cadrin.core.credentials.card.formats import CardFormat as Layout
from cadrin.core.credentials.card.life import ALIVE, FREE
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.card.reading import bits_of
from cadrin.core.credentials.card.signs import NEAR, KnownHere
from cadrin.core.credentials.card.signs import Box as KnownBox
from cadrin.core.credentials.card.writings import Writing
from cadrin.core.errors import NotFound
from cadrin.core.records.card_formats import decode_format
from cadrin.credentials.card_draft import CardDraft, CardIdentity, draft_of
from cadrin.credentials.models import Box, Card, CardFormat, Pin
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.scoping import people_seen

MOST_WEIGHED = 60
"""Cards that may explain a number; so many are looked up before the likeliest are chosen."""


cards_with_numbers = ObjectsByIds(Card, lambda: Card.objects.filter(card_number__among=IDS))
"""The cards that have one of these numbers, of whatever format and facility code."""
_layouts = RowsByIds(lambda: CardFormat.objects.order_by("id").values_list("id", "layout"))


def formats() -> dict[int, Layout]:
    """Return every format in use here, in the order in which a read is tried against them."""
    return {id_: _layout(id_, _frozen(layout)) for id_, layout in _layouts()}


def _frozen(layout: Any) -> Any:
    if isinstance(layout, dict):
        return tuple((name, _frozen(value)) for name, value in layout.items())
    return tuple(_frozen(value) for value in layout) if isinstance(layout, list) else layout


@lru_cache(maxsize=64)
def _layout(id_: int, layout: Any) -> Layout:
    return decode_format(dict(layout))


def card_formats() -> Rows:
    levels = {id_: layout.issue_level for id_, layout in formats().items()}
    return [
        dict(row) | {"highest_issue_level": level.highest if (level := levels[row["id"]]) else None}
        for row in CardFormat.objects.order_by("id").values("id", "name", about=F("source"))
    ]


def formats_in_full() -> Rows:
    """Return every format as it is described, with how many cards there are of it."""
    found = CardFormat.objects.order_by("id").annotate(card_count=Count("cards"))
    return list(found.values("id", "name", "source", "layout", "version", "card_count"))


def what_is_known(candidates: Iterable[tuple[int, CardNumbers]]) -> KnownHere:
    """Return what the site knows that bears on these cards: themselves, those near them, and its
    facility codes.
    """
    return KnownHere(_cards_near(candidates), facility_codes(), boxes_known())


def _cards_near(candidates: Iterable[tuple[int, CardNumbers]]) -> set[tuple[int, int, int]]:
    near = Q(pk__in=[])
    for format_id, (facility_code, number) in candidates:
        span = (number - NEAR, number + NEAR)
        near |= Q(format_id=format_id, facility_code=facility_code, card_number__range=span)
    found = Card.objects.filter(near).values_list("format_id", "facility_code", "card_number")
    return set(found)


def boxes_known() -> tuple[KnownBox, ...]:
    rows = Box.objects.values_list("format_id", "facility_code", "first", "last")
    return tuple(KnownBox(*row) for row in rows)


def boxes_with(key: CardKey) -> Rows:
    """Return the boxes that a card belongs to, newest first."""
    boxes = Box.objects.filter(
        format_id=key.format_id,
        facility_code=key.facility_code,
        first__lte=key.card_number,
        last__gte=key.card_number,
    )
    return list(boxes.order_by("-id").values("id", "first", "last", "kept_where", "remarks"))


def is_held() -> Exists:
    """Match rows with a format, facility code and card number that somebody's card has."""
    return Exists(
        Card.objects.filter(
            format_id=OuterRef("format_id"),
            facility_code=OuterRef("facility_code"),
            card_number=OuterRef("card_number"),
            holder__isnull=False,
        )
    )


def facility_codes() -> dict[int, frozenset[int]]:
    """Return the facility codes that cards here have, by format."""
    found: dict[int, set[int]] = {}
    for format_id, code in Card.objects.values_list("format_id", "facility_code").distinct():
        found.setdefault(format_id, set()).add(code)
    return {format_id: frozenset(codes) for format_id, codes in found.items()}


def foreign_facility_codes(identities: Iterable[CardIdentity]) -> set[tuple[int, int]]:
    """Return those of these formats with facility codes that no card and no box here has; none of a
    format without cards.
    """
    asked = {(format_id, code) for format_id, code, _ in identities}
    boxes = set(Box.objects.values_list("format_id", "facility_code"))
    return {
        (format_id, code)
        for format_id, code in asked - boxes
        if (of_format := Card.objects.filter(format_id=format_id)).exists()
        and not of_format.filter(facility_code=code).exists()
    }


def investigated(
    clues: Sequence[Clue], shown: frozenset[tuple[int, int, int]] = frozenset()
) -> tuple[Explanation, ...]:
    """Return the cards that explain every clue, by what is known here and what was ``shown`` at
    readers lately; the likeliest first.
    """
    layouts = formats()
    plain = KnownHere(facility_codes=facility_codes(), shown=shown)
    wide = investigate(clues, layouts, plain, MOST_WEIGHED)
    known = what_is_known((item.format_id, item.numbers) for item in wide)
    return investigate(clues, layouts, replace(known, shown=shown))


class Investigator:
    """Explains many numbers, one after the other: what the site knows is read once.

    A number that says its facility code, or a raw read, is mostly explained without looking at cards.
    """

    _SAYS_ALL = frozenset({Writing.PARTED, Writing.RAW, Writing.RAW_HEX})

    def __init__(self) -> None:
        self._layouts, self._codes, self._boxes = formats(), facility_codes(), boxes_known()

    def explain(self, text: str) -> tuple[Explanation, ...]:
        """Return the likeliest explanations of a number as it was written, as `investigated` does."""
        clues = [Clue(text=text)]
        plain = KnownHere(facility_codes=self._codes, boxes=self._boxes)
        found = investigate(clues, self._layouts, plain, MOST_WEIGHED)
        if found and set(found[0].writings) <= self._SAYS_ALL:
            same_way = [item for item in found if item.writings == found[0].writings]
            if len(same_way) == 1:
                return found[:1]
        near = _cards_near((item.format_id, item.numbers) for item in found)
        return investigate(clues, self._layouts, KnownHere(near, self._codes, self._boxes))


def holders_of(cards: Iterable[tuple[int, CardNumbers]]) -> dict[tuple[int, CardNumbers], Card]:
    """Return those of these cards that there are, with their holders."""
    wanted = list(cards)
    numbers = [numbers.card_number for _, numbers in wanted]
    found = Card.objects.filter(card_number__in=numbers).select_related("holder")
    by_key = {
        (item.format_id, CardNumbers(item.facility_code, item.card_number)): item for item in found
    }
    return {key: by_key[key] for key in wanted if key in by_key}


def holders_of_limited_cards() -> list[int]:
    """Return whoever has a card that works only so many times."""
    return [id_ for (id_,) in _of_limited_use()]


_of_limited_use = RowsByIds(
    lambda: Card.objects.filter(use_limit__isnull=False, holder__isnull=False).values_list("holder")
)


class HeldCard(NamedTuple):
    """Whose a card is, and what became of it."""

    holder_id: int
    holder_name: str
    status: str


def held_cards(numbers: Iterable[int | None]) -> dict[CardIdentity, HeldCard]:
    """Return the cards with these numbers that somebody has, by what makes a card one."""
    wanted = {number for number in numbers if number is not None}
    if not wanted:
        return {}
    held = Card.objects.filter(card_number__in=wanted, holder__isnull=False)
    return {
        (card.format_id, card.facility_code, card.card_number): HeldCard(
            card.holder.pk, card.holder.display_name, card.status
        )
        for card in held.select_related("holder")
        if card.holder
    }


@lru_cache(maxsize=4)
def people_with_more_cards_than(count: int, as_of: str) -> tuple[int, ...]:
    """Return who has more cards than that, counted anew after each act: every open page asks, of
    all cards.
    """
    found = Card.objects.filter(holder__isnull=False).values("holder").annotate(cards=Count("id"))
    return tuple(found.filter(cards__gt=count).values_list("holder", flat=True))


_cards = ObjectsByIds(Card, lambda: Card.objects.filter(holder_id__among=IDS).order_by("id"))


def cards_of(holder_ids: Iterable[int]) -> dict[int, tuple[CardDraft, ...]]:
    """Return the cards of cardholders, in the order in which they were first known."""
    found: dict[int, tuple[CardDraft, ...]] = dict.fromkeys(holder_ids, ())
    for card in _cards(found):
        found[card.holder_id or 0] += (draft_of(card),)
    return found


def card_ids_of(holder_ids: Iterable[int]) -> dict[CardIdentity, int]:
    """Return the ids of the cards of cardholders, by what makes them one card."""
    rows = Card.objects.filter(holder_id__in=list(holder_ids)).values_list(
        "id", "format_id", "facility_code", "card_number"
    )
    return {(format_id, code, number): id_ for id_, format_id, code, number in rows}


def holders_of_temporary_cards_over(at: datetime) -> list[int]:
    """Return whoever has a temporary card that works and whose end has come."""
    over = Card.objects.filter(
        is_temporary=True, expiry_at__lte=at, status__in=[status.value for status in ALIVE]
    )
    return list(over.order_by("holder").values_list("holder", flat=True).distinct())


def find_card(key: CardKey) -> Card | None:
    """Find a card by what makes it one card, with its holder."""
    return (
        Card.objects.select_related("holder")
        .filter(
            format_id=key.format_id, facility_code=key.facility_code, card_number=key.card_number
        )
        .first()
    )


class CardFilters(NamedTuple):
    """What is asked of the cards; all that are set must hold."""

    format: int | None = None
    facility_code: int | None = None
    card_number: int | None = None
    status: str | None = None
    holder: int | None = None


def cards_seen(actor: Actor, filters: CardFilters, after: int, most: int) -> list[Card]:
    """Return cards within the actor's reach from an id on, in the order of their ids."""
    asked = {name: value for name, value in filters._asdict().items() if value is not None}
    return list(
        Card.objects.filter(_within_reach(actor), **asked, id__gt=after).order_by("id")[:most]
    )


def get_card(actor: Actor, card_id: int) -> Card:
    """Raises NotFound, for one of somebody out of the actor's reach as well."""
    card = Card.objects.filter(_within_reach(actor), pk=card_id).first()
    if card is None:
        raise NotFound.of("card.not_found")
    return card


def get_card_of(actor: Actor, identity: CardIdentity) -> Card:
    """Return a card by what makes it one card. Raises NotFound."""
    card = find_card(CardKey(*identity))
    return get_card(actor, card.pk if card else 0)


def _within_reach(actor: Actor) -> Q:
    return Q(holder=None) | Q(holder__in=people_seen(actor))


def raw_of(key: CardKey, issue_level: int | None = None) -> RawRead:
    """Return the bits a card with these numbers sends; of which issue it is, where its format has
    that.

    Raises Invalid for an unknown format, or numbers it cannot carry.
    """
    return bits_of(key, formats(), issue_level)


def holders_of_cards(identities: Iterable[CardIdentity]) -> dict[CardIdentity, int]:
    """Return who has these cards; one that nobody has is left out."""
    wanted = set(identities)
    rows = Card.objects.filter(
        card_number__in={number for _, _, number in wanted}, holder__isnull=False
    ).values_list("format_id", "facility_code", "card_number", "holder_id")
    return {row[:3]: row[3] for row in rows if row[3] and row[:3] in wanted}


def cards_not_free(format_id: int, facility_code: int, first: int, last: int) -> set[int]:
    """Return the numbers in a range whose card is somebody's, or gone for good."""
    rows = Card.objects.filter(
        format_id=format_id, facility_code=facility_code, card_number__range=(first, last)
    ).exclude(status__in=[status.value for status in FREE], holder=None)
    return set(rows.values_list("card_number", flat=True))


def turns_of_credentials(window: Window) -> Iterator[Turn]:
    """Yield when cards and PINs begin, end, or are suspended no more, and whose they are."""
    columns = ("activation_at", "expiry_at", "suspended_until")
    yield from turns(Card.objects.all(), "holder_id", columns, window)
    yield from turns(Pin.objects.all(), "holder_id", ("expiry_at",), window)

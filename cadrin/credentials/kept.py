"""Everything that is kept of cardholders' cards, PINs and plates, to be put back exactly so."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import Q

from cadrin.config.database.kept_rows import KeptRows, put_rows_back, rows_as_kept
from cadrin.credentials.card_draft import CardIdentity
from cadrin.credentials.models import Card, CardUse, FormerPin, Letter, LetterState, Pin, Plate

Kept = Mapping[str, KeptRows]


def kept_of(holder_ids: Iterable[int], cards: Iterable[CardIdentity]) -> dict[str, Any]:
    """Return the rows of cardholders' credentials, and of ``cards`` that they are about to be given."""
    wanted = list(holder_ids)
    identities = set(cards)
    numbers = {number for _, _, number in identities}
    theirs = Q(holder_id__in=wanted)
    rows = rows_as_kept(Card, theirs | Q(card_number__in=numbers))
    return {
        "cards": [
            row
            for row in rows
            if row["holder_id"] in wanted
            or (row["format_id"], row["facility_code"], row["card_number"]) in identities
        ],
        "uses": rows_as_kept(CardUse, Q(card__holder_id__in=wanted)),
        "pins": rows_as_kept(Pin, theirs),
        "former_pins": rows_as_kept(FormerPin, theirs),
        "plates": rows_as_kept(Plate, theirs),
    }


def put_back(holder_ids: Iterable[int], kept: Kept) -> None:
    """Make the rows of cardholders' credentials those that were kept, and cards from stock what they
    were; letters that still wait for whoever was not there are gone with them.
    """
    wanted = set(holder_ids)
    theirs = Q(holder_id__in=wanted)
    cards = _reached(wanted, kept["cards"])
    ids = [row["id"] for row in cards]
    used = {row["id"] for row in kept["cards"] if row["holder_id"] in wanted}
    put_rows_back(
        CardUse,
        [row for row in kept["uses"] if row["card_id"] in used],
        Q(card__holder_id__in=wanted),
    )
    put_rows_back(Card, cards, theirs | Q(pk__in=ids))
    Letter.objects.filter(theirs, state=LetterState.WAITING).exclude(
        pin_id__in=[row["id"] for row in kept["pins"]]
    ).delete()
    put_rows_back(Pin, kept["pins"], theirs)
    put_rows_back(FormerPin, kept["former_pins"], theirs)
    put_rows_back(Plate, kept["plates"], theirs)


def _reached(wanted: set[int], cards: KeptRows) -> KeptRows:
    """Return those of the cards that are these people's to give back: theirs before, or theirs now."""
    now = dict(
        Card.objects.filter(pk__in=[row["id"] for row in cards]).values_list("id", "holder_id")
    )
    return [row for row in cards if row["holder_id"] in wanted or now.get(row["id"], 0) in wanted]


def holders_of_cards_passed_on(kept: Kept) -> set[int]:
    """Return whose card, of those that were kept, is somebody else's now."""
    had = {row["id"]: row["holder_id"] for row in kept["cards"] if row["holder_id"]}
    now = Card.objects.filter(pk__in=had, holder__isnull=False).values_list("id", "holder_id")
    return {had[id_] for id_, holder in now if holder != had[id_]}

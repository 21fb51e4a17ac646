"""What there was of people before an intake wrote them, and putting it back."""

from collections.abc import Iterable, Mapping
from typing import Any

import cadrin.access.kept as access
import cadrin.credentials.kept as credentials
import cadrin.people.kept as people
import cadrin.photos.kept as photos
from cadrin.credentials.card_draft import CardIdentity

Kept = Mapping[str, Any]


def kept_of(ids: Iterable[int], cards: Iterable[CardIdentity]) -> dict[str, Any]:
    """Return every row of people that an intake may change, and of cards that it gives."""
    wanted = list(ids)
    return {
        "people": people.kept_of(wanted),
        "credentials": credentials.kept_of(wanted, cards),
        "memberships": access.kept_of(wanted),
        "images": photos.kept_of(wanted),
    }


def put_back(ids: Iterable[int], kept: Kept) -> None:
    """Make the rows of people those that were kept; whoever was not there is gone. The caller holds
    the transaction.
    """
    wanted = set(ids)
    access.put_back(wanted, _of(wanted, "cardholder_id", kept["memberships"]))
    credentials.put_back(
        wanted,
        {
            "cards": kept["credentials"]["cards"],
            "uses": kept["credentials"]["uses"],
            **{
                table: _of(wanted, "holder_id", kept["credentials"][table])
                for table in ("pins", "former_pins", "plates")
            },
        },
    )
    photos.put_back(wanted, _of(wanted, "cardholder_id", kept["images"]))
    people.put_back(
        wanted,
        {
            "cardholders": _of(wanted, "id", kept["people"]["cardholders"]),
            "own_keys": _of(wanted, "cardholder_id", kept["people"]["own_keys"]),
            "terms": _of(wanted, "cardholder_id", kept["people"]["terms"]),
        },
    )


def _of(ids: set[int], column: str, rows: Iterable[Mapping[str, Any]]) -> list[Mapping[str, Any]]:
    return [row for row in rows if row[column] in ids]

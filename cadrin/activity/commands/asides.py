"""Unknown cards that somebody looked at and put aside: they wait no longer, until they are shown again."""

from datetime import datetime
from typing import Any

from django.db import transaction

from cadrin.activity.models import CardAside
from cadrin.activity.queries import read_seen
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.errors import NotFound
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission

READ = "read"


@transaction.atomic
def put_aside(actor: Actor, read_id: int, at: datetime) -> None:
    """Put the card of a read aside, as it was shown up to then. Raises NotFound or NotPermitted."""
    actor.require(Permission.ISSUE)
    read, card = _card_of(actor, read_id)
    CardAside.objects.update_or_create(**card._asdict(), defaults={"read_id": read_id})
    record(actor, at, [Act("unknown_card.put_aside", (About(READ, read_id),), _named(read, card))])


@transaction.atomic
def bring_back(actor: Actor, read_id: int, at: datetime) -> None:
    """Let the card of a read wait again. Raises NotFound or NotPermitted."""
    actor.require(Permission.ISSUE)
    read, card = _card_of(actor, read_id)
    if CardAside.objects.filter(**card._asdict()).delete()[0]:
        act = Act("unknown_card.brought_back", (About(READ, read_id),), _named(read, card))
        record(actor, at, [act])


def _card_of(actor: Actor, read_id: int) -> tuple[dict[str, Any], CardKey]:
    read = read_seen(actor, read_id)
    if read["format_id"] is None:
        raise NotFound.of("read.not_found")
    return read, CardKey(*(read[name] for name in CardKey._fields))


def _named(read: dict[str, Any], card: CardKey) -> dict[str, tuple[None, object]]:
    return {
        "card": (None, f"{card.facility_code}-{card.card_number}"),
        "reader": (None, read["reader_name"]),
    }

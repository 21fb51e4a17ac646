"""Unknown cards that somebody looked at and put aside: they wait no longer, until they are shown again."""

from datetime import datetime

from django.db import transaction

from cadrin.activity.models import CardAside, Read
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
    read, card = _card_of(read_id)
    CardAside.objects.update_or_create(**card._asdict(), defaults={"read_id": read.pk})
    record(actor, at, [Act("unknown_card.put_aside", (About(READ, read.pk),), _named(read, card))])


@transaction.atomic
def bring_back(actor: Actor, read_id: int, at: datetime) -> None:
    """Let the card of a read wait again. Raises NotFound or NotPermitted."""
    actor.require(Permission.ISSUE)
    read, card = _card_of(read_id)
    if CardAside.objects.filter(**card._asdict()).delete()[0]:
        act = Act("unknown_card.brought_back", (About(READ, read.pk),), _named(read, card))
        record(actor, at, [act])


def _card_of(read_id: int) -> tuple[Read, CardKey]:
    read = Read.objects.filter(pk=read_id, format__isnull=False).first()
    if read is None or read.format_id is None:
        raise NotFound.of("read.not_found")
    return read, CardKey(read.format_id, read.facility_code or 0, read.card_number or 0)


def _named(read: Read, card: CardKey) -> dict[str, tuple[None, object]]:
    return {
        "card": (None, f"{card.facility_code}-{card.card_number}"),
        "reader": (None, read.reader_name),
    }

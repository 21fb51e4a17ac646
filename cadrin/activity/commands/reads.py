"""Take what controllers saw into the record of reads."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db import transaction

from cadrin.access.models import AccessGroup, Reader
from cadrin.activity.models import Read
from cadrin.cards.queries import formats
from cadrin.core.access.plan import CardKey
from cadrin.core.access.rights import Reason
from cadrin.core.cards.formats import DecodeFault, RawRead
from cadrin.core.decision.decide import read_card
from cadrin.core.errors import Invalid
from cadrin.people.models import Cardholder


@transaction.atomic
def take_events(controller_id: int, store: str, events: Iterable[dict[str, Any]]) -> None:
    """Write a controller's events as reads. Taking the same events twice changes nothing."""
    Read.objects.bulk_create(reads_in(controller_id, store, events), ignore_conflicts=True)


def reads_in(controller_id: int, store: str, events: Iterable[dict[str, Any]]) -> list[Read]:
    """Read a controller's events, with the names of what they are about; nothing is written."""
    told = list(events)
    readers = Reader.objects.in_bulk([one["reader"] for one in told])
    people = set(Cardholder.objects.filter(pk__in=[one.get("cardholder") for one in told]).values_list("id", flat=True))
    groups = dict(AccessGroup.objects.filter(pk__in=[one.get("group") for one in told]).values_list("id", "name"))
    layouts = formats()
    reads = []
    for one in told:
        reader = readers.get(one["reader"])
        card = _card_in(one, layouts)
        reads.append(
            Read(
                at=datetime.fromisoformat(one["at"]),
                controller_id=controller_id,
                store=store,
                event_number=int(one["number"]),
                reader=reader,
                reader_name=reader.name if reader else str(one.get("reader_name", ""))[:60],
                door_id=reader.door_id if reader else None,
                raw=str(one["raw"])[:70],
                format_id=card.format_id if card and card.format_id in layouts else None,
                facility_code=card.facility_code if card else None,
                card_number=card.card_number if card else None,
                reason=Reason(one["reason"]).value if one.get("reason") else "",
                group_name=groups.get(one.get("group") or 0, ""),
                opens_at=datetime.fromisoformat(one["opens_at"]) if one.get("opens_at") else None,
                cardholder_id=one["cardholder"] if one.get("cardholder") in people else None,
                cardholder_name=str(one.get("name", ""))[:310],
            )
        )
    return reads


def _card_in(event: dict[str, Any], layouts: Any) -> CardKey | None:
    """Give the card a controller told of; one at a desk tells only bits, which are decoded here."""
    if event.get("card"):
        return CardKey(*event["card"])
    if event.get("reason"):
        return None
    try:
        keys = read_card(RawRead.parse(event["raw"]), layouts)
    except Invalid:
        return None
    return None if isinstance(keys, DecodeFault) else keys[0]

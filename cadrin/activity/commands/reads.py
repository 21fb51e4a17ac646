"""Take what controllers saw into the record of reads."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction

from cadrin.access.models import AccessGroup, Reader
from cadrin.activity.models import Read
from cadrin.cards.keypad import keep_typed
from cadrin.cards.models import Card, CardUse
from cadrin.cards.queries import formats
from cadrin.core.access.plan import CardKey
from cadrin.core.access.rights import Reason
from cadrin.core.cards.formats import DecodeFault, RawRead
from cadrin.core.decision.decide import Shown, read_card
from cadrin.core.errors import Invalid
from cadrin.delivery.models import Link
from cadrin.delivery.wanted import memory_of
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.models import Subject
from cadrin.people.models import Cardholder


@transaction.atomic
def take_events(controller_id: int, store: str, events: Iterable[dict[str, Any]]) -> None:
    """Write a controller's events as reads. Taking the same events twice changes nothing."""
    told = list(events)
    for one in told:
        if "typed" in one:
            keep_typed(int(one["reader"]), str(one["typed"]), datetime.fromisoformat(one["at"]))
    # what is only typed at a desk is no read, and stands in no record
    reads = reads_in(controller_id, store, [one for one in told if one["raw"] or one.get("reason")])
    Read.objects.bulk_create(reads, ignore_conflicts=True)
    _count_uses(controller_id, store, reads)


def _count_uses(controller_id: int, store: str, reads: Iterable[Read]) -> None:
    """Count anew the uses that this memory told of, for every card among the reads that works only so many times.

    Counted from what is written, so that it is right whenever and however often something is told.
    """
    opened = {(r.format_id, r.facility_code, r.card_number) for r in reads if r.reason == Reason.GRANTED.value}
    numbers = [number for _, _, number in opened if number is not None]
    limited = Card.objects.filter(card_number__in=numbers, use_limit__isnull=False)
    link = Link.objects.filter(controller_id=controller_id).first()
    off = timedelta(seconds=link.clock_off_seconds if link else 0)
    for card in limited:
        if (card.format_id, card.facility_code, card.card_number) not in opened or card.counted_from is None:
            continue
        told = Read.objects.filter(
            controller_id=controller_id,
            store=store,
            format_id=card.format_id,
            facility_code=card.facility_code,
            card_number=card.card_number,
            reason=Reason.GRANTED,
            at__gte=card.counted_from + off,  # by the controller's own clock
        )
        CardUse.objects.update_or_create(
            card=card, memory=memory_of(controller_id, store), defaults={"count": told.count()}
        )
        card.used = sum(card.uses.values_list("count", flat=True))
        card.save(update_fields=["used"])
        if card.holder_id:
            mark_for_delivery(Subject.CARDHOLDER, [card.holder_id])


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
                shown=Shown(one.get("shown", Shown.CARD)).value,
                is_duress=bool(one.get("duress")),
                is_watched=bool(one.get("watched")),
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

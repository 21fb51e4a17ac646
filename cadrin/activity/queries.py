"""Read the record of reads, and what waits for a person today."""

import time
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from django.db.models import Count, Exists, F, Max, OuterRef, Q

from cadrin.access.scoping import door_ids_seen
from cadrin.activity.bell import BELL
from cadrin.activity.models import FLAGGED, Read
from cadrin.cards.models import Card
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound
from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.queries import controllers, has_trouble
from cadrin.operators.actor import Actor
from cadrin.people.models import Cardholder
from cadrin.people.queries import ending_within, starting_within
from cadrin.people.scoping import only_seen, seen_by
from cadrin.register.filters import Filters
from cadrin.register.listing import page, rows_of

UNKNOWN_FOR = timedelta(days=14)
ALARMS_STAY = timedelta(days=1)
SOON_DAYS = 14
MOST_IN_A_WORK_LIST = 8

_SHOWN = (
    "id", "at", "reader_id", "reader_name", "door_id", "raw", "format_id", "facility_code", "card_number",
    "reason", "factors", "plate", "is_duress", "is_watched", "group_name", "opens_at",
    "cardholder_id", "cardholder_name", "controller_id", "unreadable", "clock_off_seconds",
)  # fmt: skip


class ReadFilters(NamedTuple):
    """What is asked of the record; all that are set must hold. Each has its index."""

    door_id: int | None = None
    cardholder_id: int | None = None
    reason: Reason | None = None
    is_denied: bool = False
    is_flagged: bool = False
    card: CardKey | None = None


EVERY_READ = ReadFilters()


def reads(
    actor: Actor, filters: ReadFilters = EVERY_READ, *, before: int | None = None, most: int = 100
) -> list[dict[str, Any]]:
    """Give reads within the actor's reach, newest first; ``before`` is the id to go on from."""
    match = reads_seen(actor)
    if filters.door_id is not None:
        match &= Q(door_id=filters.door_id)
    if filters.cardholder_id is not None:
        match &= Q(cardholder_id=filters.cardholder_id)
    if filters.reason is not None:
        match &= Q(reason=filters.reason)
    if filters.is_denied:
        match &= ~Q(reason__in=["", Reason.GRANTED])
    if filters.is_flagged:
        match &= FLAGGED
    if filters.card is not None:
        match &= Q(**filters.card._asdict())
    if before is not None:
        match &= Q(id__lt=before)
    return _with_present_holders(actor, list(Read.objects.filter(match).order_by("-id").values(*_SHOWN)[:most]))


def reads_seen(actor: Actor) -> Q:
    """Match reads at doors within the actor's reach and at desks, of people within it and of unknown cards."""
    if actor.scope.is_whole:
        return Q()
    match = Q(cardholder__in=Cardholder.objects.filter(seen_by(actor))) | Q(cardholder=None, cardholder_name="")
    doors = door_ids_seen(actor)
    return match if doors is None else match & (Q(door_id__in=doors) | Q(door=None, reader__controller__is_desk=True))


def _with_present_holders(actor: Actor, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Say whose card it is now, if the actor may see them: an unknown card may have been issued since."""
    for row in rows:
        row["factors"] = row["factors"].split(",")
    numbers = {row["card_number"] for row in rows if row["card_number"] is not None}
    held = Card.objects.filter(card_number__in=numbers, holder__isnull=False) if numbers else Card.objects.none()
    holder = {
        (card.format_id, card.facility_code, card.card_number): (card.holder_id, card.holder.display_name)
        for card in held.select_related("holder")
        if card.holder
    }
    seen = only_seen(actor, (id_ for id_, _ in holder.values() if id_))
    holder = {key: whose for key, whose in holder.items() if whose[0] in seen}
    for row in rows:
        row["holder_id"], row["holder_name"] = holder.get(
            (row["format_id"], row["facility_code"], row["card_number"]), (None, "")
        )
    return rows


def news(actor: Actor, after: int | None, wait_seconds: float) -> list[dict[str, Any]]:
    """Return the reads after an id, oldest first, waiting for one to come; without ``after``, the latest few at once.

    Where too many wait already, and when a newer page takes the place, it answers at once, with nothing: whoever
    asks again must pause by itself.
    """
    if after is None:
        return reads(actor, most=30)[::-1]
    match, deadline = reads_seen(actor), time.monotonic() + wait_seconds
    seen = BELL.latest
    if rows := _reads_after(actor, match, after):
        return rows
    with BELL.place(f"{actor.operator_id} {actor.name}") as place:
        while place and not place.is_taken and (left := deadline - time.monotonic()) > 0:
            seen = BELL.wait(place, max(seen, after), left)
            if rows := _reads_after(actor, match, after):
                return rows
    return []


def _reads_after(actor: Actor, match: Q, after: int) -> list[dict[str, Any]]:
    rows = list(Read.objects.filter(match, id__gt=after).order_by("id").values(*_SHOWN)[:100])
    return _with_present_holders(actor, rows) if rows else []


def read_seen(actor: Actor, read_id: int) -> dict[str, Any]:
    """Give one read. Raises NotFound, for one that is out of the actor's reach as well."""
    row = Read.objects.filter(reads_seen(actor), pk=read_id).values(*_SHOWN).first()
    if row is None:
        raise NotFound.of("read.not_found")
    return _with_present_holders(actor, [row])[0]


class WorkList(NamedTuple):
    """What waits, the first few of it, and how many in all."""

    rows: list[dict[str, Any]]
    total: int


class Desk(NamedTuple):
    alarms: WorkList
    not_ready: WorkList
    starting_soon: WorkList
    ending_soon: WorkList
    unknown_cards: WorkList
    deliveries: WorkList
    worker_stopped_at: datetime | None


def desk(actor: Actor, at: datetime) -> Desk:
    """Give what waits for a person today."""
    waiting = page(actor, Filters(is_not_ready=True), at, most=MOST_IN_A_WORK_LIST)
    return Desk(
        alarms(actor, at),
        WorkList(waiting.rows, waiting.total or 0),
        _people(actor, starting_within(at, SOON_DAYS), "activation_at", at),
        _people(actor, ending_within(at, SOON_DAYS), "expiry_at", at),
        unknown_cards(actor, at),
        deliveries_in_trouble(actor, at),
        worker_stopped_at(at),
    )


def alarms(actor: Actor, at: datetime) -> WorkList:
    """Give the doors that were opened under duress in the last day, the latest first."""
    found = Read.objects.filter(reads_seen(actor), is_duress=True, at__gte=at - ALARMS_STAY).order_by("-id")
    return WorkList(_with_present_holders(actor, list(found.values(*_SHOWN)[:MOST_IN_A_WORK_LIST])), found.count())


def _people(actor: Actor, match: Q, order: str, at: datetime) -> WorkList:
    found = Cardholder.objects.filter(seen_by(actor), match)
    ids = list(found.order_by(order, "id").values_list("id", flat=True)[:MOST_IN_A_WORK_LIST])
    return WorkList(rows_of(actor, ids, at), found.count())


def unknown_cards(actor: Actor, at: datetime) -> WorkList:
    """Give cards shown in the last days that nobody holds, the latest first."""
    held = Card.objects.filter(
        format_id=OuterRef("format_id"),
        facility_code=OuterRef("facility_code"),
        card_number=OuterRef("card_number"),
        holder__isnull=False,
    )
    found = (
        Read.objects.filter(reads_seen(actor), reason__in=["", Reason.UNKNOWN_CARD], format__isnull=False)
        .filter(at__gte=at - UNKNOWN_FOR)
        .filter(~Exists(held))
        .values("format_id", "facility_code", "card_number", format_name=F("format__name"))
        .annotate(times=Count("id"), last_id=Max("id"))
        .order_by("-last_id")
    )
    rows: list[dict[str, Any]] = [dict(row) for row in found[:MOST_IN_A_WORK_LIST]]
    last = Read.objects.in_bulk([row["last_id"] for row in rows])
    for row in rows:
        read = last[row.pop("last_id")]
        row |= {"read_id": read.pk, "at": read.at, "reader_name": read.reader_name, "raw": read.raw}
    return WorkList(rows, found.count())


def deliveries_in_trouble(actor: Actor, at: datetime) -> WorkList:
    """Return the controllers that a person should look at."""
    rows = [controller for controller in controllers(actor, at) if has_trouble(controller)]
    return WorkList(rows, len(rows))


def waiting_counts(actor: Actor, at: datetime) -> dict[str, Any]:
    """Return the counts that stand beside the sections, and whether the worker works: every open page asks for them."""
    return {
        "desk": unknown_cards(actor, at).total + alarms(actor, at).total,
        "delivery": deliveries_in_trouble(actor, at).total,
        "worker_stopped_at": worker_stopped_at(at),
    }

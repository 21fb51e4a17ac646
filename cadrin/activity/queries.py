"""Read the record of reads, and what waits for a person today."""

import time
from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Exists, Max, OuterRef, Q, QuerySet
from django.db.models.expressions import RawSQL

from cadrin.activity.bell import BELL
from cadrin.activity.models import FLAGGED, CardAside, Read
from cadrin.config.database.conditions import condition_of
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound
from cadrin.credentials.queries import held_cards
from cadrin.operators.actor import Actor
from cadrin.people.lists import departments_below
from cadrin.people.scoping import only_seen, people_seen
from cadrin.sites.scoping import door_ids_seen

SHOWN = (
    "id", "at", "reader_id", "reader_name", "door_id", "raw", "format_id", "facility_code",
    "card_number",
    "reason", "factors", "plate", "is_duress", "is_watched", "is_passed_back", "happening", "group_name", "opens_at",
    "cardholder_id", "cardholder_name", "controller_id", "unreadable", "clock_off_seconds",
)  # fmt: skip

NEWEST = 20_000
"""So many reads are looked through first for those of many people."""

# both conditions, as the index of what is to be looked at has the wider one
ALARM = FLAGGED & (Q(is_duress=True) | ~Q(happening=""))
"""Doors that were opened under duress, forced, or held open."""


class ReadFilters(NamedTuple):
    """What is asked of the record; all that are set must hold. Each has its index."""

    door_id: int | None = None
    cardholder_id: int | None = None
    reason: Reason | None = None
    is_denied: bool = False
    is_flagged: bool = False
    card: CardKey | None = None
    department_id: int | None = None
    since: datetime | None = None
    until: datetime | None = None


EVERY_READ = ReadFilters()


def reads(
    actor: Actor, filters: ReadFilters = EVERY_READ, *, before: int | None = None, most: int = 100
) -> list[dict[str, Any]]:
    """Return reads within the actor's reach, newest first; ``before`` is the id to go on from."""
    found = Read.objects.filter(reads_seen(actor) & _asked_for(filters))
    if before is not None:
        found = found.filter(id__lt=before)
    rows: list[dict[str, Any]] = []
    if not actor.scope.is_whole or filters.department_id is not None:
        # many people's: gathered from all that they ever did only where the last reads are not enough
        newest = (before or Read.objects.aggregate(newest=Max("id"))["newest"] or 0) - NEWEST
        rows = _latest(found.filter(id__gt=newest), most)
    if len(rows) < most:
        rows = _latest(found, most)
    return with_present_holders(actor, rows)


def _latest(found: QuerySet[Read], most: int) -> list[dict[str, Any]]:
    return list(found.order_by("-id").values(*SHOWN)[:most])


def of_nobody() -> RawSQL:
    """Match reads of cards that nobody holds."""
    return condition_of(Read, "read_of_nobody")


def reads_since(
    actor: Actor, after: int, filters: ReadFilters = EVERY_READ, *, most: int = 100
) -> list[dict[str, Any]]:
    """Return reads within the actor's reach that arrived after one, oldest first."""
    return _reads_after(actor, reads_seen(actor) & _asked_for(filters), after, most)


def _asked_for(filters: ReadFilters) -> Q:
    match = Q()
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
    if filters.department_id is not None:
        match &= Q(cardholder__department_id__in=departments_below(filters.department_id))
    if filters.since is not None:
        match &= Q(at__gte=filters.since)
    if filters.until is not None:
        match &= Q(at__lt=filters.until)
    return match


def reads_seen(actor: Actor) -> Q:
    """Match reads at doors within the actor's reach and at desks, of people within it and of
    unknown cards.
    """
    if actor.scope.is_whole:
        return Q()
    match = Q(cardholder__in=people_seen(actor)) | Q(cardholder=None, cardholder_name="")
    doors = door_ids_seen(actor)
    return (
        match
        if doors is None
        else match & (Q(door_id__in=doors) | Q(door=None, reader__controller__is_desk=True))
    )


def with_present_holders(actor: Actor, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Say whose card it is now, if the actor may see them, or that it is somebody else's: an unknown
    card may have been issued since.
    """
    for row in rows:
        row["factors"] = row["factors"].split(",")
    held = held_cards(row["card_number"] for row in rows)
    seen = only_seen(actor, (card.holder_id for card in held.values()))
    for row in rows:
        card = held.get((row["format_id"], row["facility_code"], row["card_number"]))
        is_seen = card is not None and card.holder_id in seen
        row["is_anothers"] = card is not None and not is_seen
        row["holder_id"], row["holder_name"], row["card_status"] = (
            card if card is not None and is_seen else (None, "", None)
        )
    return rows


def news(actor: Actor, after: int | None, wait_seconds: float) -> list[dict[str, Any]]:
    """Return the reads after an id, oldest first, waiting for one to come; without ``after``, the
    latest few at once.

    Where too many wait already, and when a newer page takes the place, it answers at once, with
    nothing: whoever asks again must pause by itself.
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


def _reads_after(actor: Actor, match: Q, after: int, most: int = 100) -> list[dict[str, Any]]:
    rows = list(Read.objects.filter(match, id__gt=after).order_by("id").values(*SHOWN)[:most])
    return with_present_holders(actor, rows) if rows else []


def shown_lately(actor: Actor, since: datetime, most: int = 200) -> frozenset[tuple[int, int, int]]:
    """Return format, facility code and number of the cards that were shown since then."""
    latest = Read.objects.filter(reads_seen(actor)).order_by("-id")
    rows = latest.values_list("at", "format_id", "facility_code", "card_number")[:most]
    return frozenset(
        (format_id, code or 0, number or 0)
        for at, format_id, code, number in rows
        if at >= since and format_id
    )


def read_seen(actor: Actor, read_id: int) -> dict[str, Any]:
    """Return one read. Raises NotFound, for one that is out of the actor's reach as well."""
    row = Read.objects.filter(reads_seen(actor), pk=read_id).values(*SHOWN).first()
    if row is None:
        raise NotFound.of("read.not_found")
    return with_present_holders(actor, [row])[0]


def last_granted(
    actor: Actor, cardholder_ids: Iterable[int], door_ids: Iterable[int]
) -> dict[int, datetime]:
    """Return when people were last let in at any of these doors; those who never were are left out."""
    found = Read.objects.filter(
        reads_seen(actor),
        reason=Reason.GRANTED,
        cardholder_id__in=list(cardholder_ids),
        door_id__in=list(door_ids),
    )
    return dict(found.values_list("cardholder_id").annotate(Max("at")).order_by())


def is_aside(*, still: bool = False) -> Exists:
    """Match reads whose card was put aside since; ``still`` when it was not shown again either."""
    card = {name: OuterRef(name) for name in CardKey._fields}
    asides = CardAside.objects.filter(**card, read_id__gte=OuterRef("id"))
    if still:
        asides = asides.exclude(Exists(Read.objects.filter(**card, id__gt=OuterRef("read_id"))))
    return Exists(asides)


def every_read() -> QuerySet[Read]:
    """Return every read, to be narrowed down."""
    return Read.objects.all()

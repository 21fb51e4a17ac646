"""Read the record of reads, and what waits for a person today."""

import time
from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Max, Q, QuerySet

from cadrin.activity.bell import BELL
from cadrin.activity.models import FLAGGED, Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound
from cadrin.credentials.queries import holders_of_numbers
from cadrin.operators.actor import Actor
from cadrin.people.scoping import only_seen, people_seen
from cadrin.sites.scoping import door_ids_seen

SHOWN = (
    "id", "at", "reader_id", "reader_name", "door_id", "raw", "format_id", "facility_code",
    "card_number",
    "reason", "factors", "plate", "is_duress", "is_watched", "is_passed_back", "happening", "group_name", "opens_at",
    "cardholder_id", "cardholder_name", "controller_id", "unreadable", "clock_off_seconds",
)  # fmt: skip


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


EVERY_READ = ReadFilters()


def reads(
    actor: Actor, filters: ReadFilters = EVERY_READ, *, before: int | None = None, most: int = 100
) -> list[dict[str, Any]]:
    """Return reads within the actor's reach, newest first; ``before`` is the id to go on from."""
    match = reads_seen(actor) & _asked_for(filters)
    if before is not None:
        match &= Q(id__lt=before)
    return with_present_holders(
        actor, list(Read.objects.filter(match).order_by("-id").values(*SHOWN)[:most])
    )


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
    """Say whose card it is now, if the actor may see them: an unknown card may have been issued
    since.
    """
    for row in rows:
        row["factors"] = row["factors"].split(",")
    holder = holders_of_numbers(row["card_number"] for row in rows)
    seen = only_seen(actor, (id_ for id_, _ in holder.values() if id_))
    holder = {key: whose for key, whose in holder.items() if whose[0] in seen}
    for row in rows:
        row["holder_id"], row["holder_name"] = holder.get(
            (row["format_id"], row["facility_code"], row["card_number"]), (None, "")
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


def every_read() -> QuerySet[Read]:
    """Return every read, to be narrowed down."""
    return Read.objects.all()

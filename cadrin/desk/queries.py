"""What waits for a person today."""

from datetime import datetime, timedelta
from typing import Any, NamedTuple

from django.db.models import Count, F, Max, Q

from cadrin.activity.queries import (
    ALARM,
    SHOWN,
    every_read,
    is_aside,
    of_nobody,
    reads_seen,
    with_present_holders,
)
from cadrin.credentials.queries import is_held
from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.controllers import controllers, has_trouble, lines_to
from cadrin.operators.actor import Actor
from cadrin.people.queries import ending_within, starting_within
from cadrin.people.scoping import people_seen
from cadrin.register.filters import Filters
from cadrin.register.listing import page, rows_of
from cadrin.reviews.queries import overdue_reviews

UNKNOWN_FOR = timedelta(days=14)
ALARMS_STAY = timedelta(days=1)
SOON_DAYS = 14
MOST_IN_A_WORK_LIST = 8


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
    reviews: WorkList
    worker_stopped_at: datetime | None


def desk(actor: Actor, at: datetime) -> Desk:
    """Return what waits for a person today."""
    waiting = page(actor, Filters(is_not_ready=True), at, most=MOST_IN_A_WORK_LIST)
    return Desk(
        alarms(actor, at),
        WorkList(waiting.rows, waiting.total or 0),
        _people(actor, starting_within(at, SOON_DAYS), "activation_at", at),
        _people(actor, ending_within(at, SOON_DAYS), "expiry_at", at),
        unknown_cards(actor, at),
        deliveries_in_trouble(actor, at),
        reviews_overdue(actor, at),
        worker_stopped_at(at),
    )


def alarms(actor: Actor, at: datetime) -> WorkList:
    """Return the doors that were opened under duress, forced or held open in the last day, the latest
    first.
    """
    found = every_read().filter(reads_seen(actor), ALARM, at__gte=at - ALARMS_STAY).order_by("-id")
    return WorkList(
        with_present_holders(actor, list(found.values(*SHOWN)[:MOST_IN_A_WORK_LIST])),
        found.count(),
    )


def _people(actor: Actor, match: Q, order: str, at: datetime) -> WorkList:
    found = people_seen(actor).filter(match)
    ids = list(found.order_by(order, "id").values_list("id", flat=True)[:MOST_IN_A_WORK_LIST])
    return WorkList(rows_of(actor, ids, at), found.count())


def unknown_cards(
    actor: Actor, at: datetime, *, aside: bool = False, most: int = MOST_IN_A_WORK_LIST
) -> WorkList:
    """Return cards shown in the last days that nobody holds, the latest first: those that wait, or
    those that were put ``aside``.
    """
    found = (
        every_read()
        .filter(reads_seen(actor), of_nobody(), format__isnull=False)
        .filter(at__gte=at - UNKNOWN_FOR)
        .filter(~is_held(), is_aside(still=True) if aside else ~is_aside())
        .values("format_id", "facility_code", "card_number", format_name=F("format__name"))
        .annotate(times=Count("id"), last_id=Max("id"))
        .order_by("-last_id")
    )
    # all of them at once: to count them apart would be to look for them twice
    every = list(found)
    rows: list[dict[str, Any]] = [dict(row) for row in every[:most]]
    last = every_read().in_bulk([row["last_id"] for row in rows])
    for row in rows:
        read = last[row.pop("last_id")]
        row |= {"read_id": read.pk, "at": read.at, "reader_name": read.reader_name, "raw": read.raw}
    return WorkList(rows, len(every))


def deliveries_in_trouble(actor: Actor, at: datetime) -> WorkList:
    """Return the controllers that a person should look at."""
    lines = [line for line in lines_to(actor, at) if has_trouble(line)]
    rows = controllers(actor, at, lines) if lines else []
    return WorkList(rows, len(rows))


def reviews_overdue(actor: Actor, at: datetime) -> WorkList:
    """Return the access groups and doors whose people are to be looked through: an owner's own, everybody's for
    whoever owns none.
    """
    every = overdue_reviews(actor, at)
    mine = [one for one in every if one.owner_id == actor.operator_id]
    rows = [one._asdict() for one in mine or every]
    return WorkList(rows[:MOST_IN_A_WORK_LIST], len(rows))

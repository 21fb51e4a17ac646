"""What waits for a person today."""

from datetime import datetime, timedelta
from typing import Any, NamedTuple

from django.db.models import Count, DateTimeField, F, Max, Q

from cadrin.activity.queries import (
    ALARM,
    SHOWN,
    every_read,
    is_aside,
    of_nobody,
    reads_seen,
    with_present_holders,
)
from cadrin.config.database.reading import IDS, Given, RowsByIds
from cadrin.credentials.queries import is_held
from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.controllers import has_trouble, lines_to, with_what_still_works
from cadrin.operators.actor import Actor
from cadrin.people.queries import ending_within, starting_within
from cadrin.people.scoping import people_seen
from cadrin.register.filters import Filters
from cadrin.register.listing import page_of_ids, rows_of
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
    not_ready = page_of_ids(
        actor, Filters(is_not_ready=True), at, sort="name", after="", most=MOST_IN_A_WORK_LIST
    )
    lists = [
        (not_ready.ids, not_ready.total or 0),
        _people(actor, starting_within(at, SOON_DAYS), "activation_at"),
        _people(actor, ending_within(at, SOON_DAYS), "expiry_at"),
    ]
    everybody = list(dict.fromkeys(id_ for ids, _ in lists for id_ in ids))
    rows = {row["id"]: row for row in rows_of(actor, everybody, at)}
    waiting, starting, ending = (
        WorkList([rows[id_] for id_ in ids if id_ in rows], total) for ids, total in lists
    )
    return Desk(
        alarms(actor, at),
        waiting,
        starting,
        ending,
        unknown_cards(actor, at),
        deliveries_in_trouble(actor, at),
        reviews_overdue(actor, at),
        worker_stopped_at(at),
    )


def alarms(actor: Actor, at: datetime) -> WorkList:
    """Return the doors that were opened under duress, forced or held open in the last day, the latest
    first.
    """
    ask = _alarms if actor.scope.is_whole else _alarms_among(reads_seen(actor))
    ids = [id_ for (id_,) in ask(since=at - ALARMS_STAY)]
    shown = _shown(ids[:MOST_IN_A_WORK_LIST]) if ids else []
    rows = [dict(zip(SHOWN, row, strict=True)) for row in shown]
    return WorkList(with_present_holders(actor, rows), len(ids))


def _alarms_among(seen: Q) -> RowsByIds:
    return RowsByIds(
        lambda: (
            every_read()
            .filter(seen, ALARM, at__gte=Given("since", DateTimeField()))
            .order_by("-id")
            .values_list("id")
        )
    )


_alarms = _alarms_among(Q())
_shown = RowsByIds(lambda: every_read().filter(pk__among=IDS).order_by("-id").values_list(*SHOWN))


def _people(actor: Actor, match: Q, order: str) -> tuple[list[int], int]:
    """Return the first people of a work list, and how many there are."""
    found = people_seen(actor).filter(match)
    ids = list(found.order_by(order, "id").values_list("id", flat=True)[:MOST_IN_A_WORK_LIST])
    return ids, len(ids) if len(ids) < MOST_IN_A_WORK_LIST else found.count()


def unknown_cards(
    actor: Actor, at: datetime, *, aside: bool = False, most: int = MOST_IN_A_WORK_LIST
) -> WorkList:
    """Return cards shown in the last days that nobody holds, the latest first: those that wait, or
    those that were put ``aside``.
    """
    ask = (
        _unknown[aside] if actor.scope.is_whole else _unknown_among(reads_seen(actor), aside=aside)
    )
    # all of them at once: to count them apart would be to look for them twice
    every = ask(since=at - UNKNOWN_FOR)
    rows = [dict(zip(_OF_UNKNOWN, row, strict=True)) for row in every[:most]]
    last = {row[0]: row for row in _last_of_unknown(row["read_id"] for row in rows)} if rows else {}
    rows = [row for row in rows if row["read_id"] in last]  # it may have been forgotten meanwhile
    for row in rows:
        _, row["at"], row["reader_name"], row["raw"] = last[row["read_id"]]
    return WorkList(rows, len(every))


_OF_UNKNOWN = ("format_id", "facility_code", "card_number", "format_name", "times", "read_id")


def _unknown_among(seen: Q, *, aside: bool) -> RowsByIds:
    return RowsByIds(
        lambda: (
            every_read()
            .filter(seen, of_nobody(), format__isnull=False)
            .filter(at__gte=Given("since", DateTimeField()))
            .filter(~is_held(), is_aside(still=True) if aside else ~is_aside())
            .values("format_id", "facility_code", "card_number", format_name=F("format__name"))
            .annotate(times=Count("id"), read_id=Max("id"))
            .order_by("-read_id")
            .values_list(*_OF_UNKNOWN)
        )
    )


_unknown = {aside: _unknown_among(Q(), aside=aside) for aside in (False, True)}
_last_of_unknown = RowsByIds(
    lambda: every_read().filter(pk__among=IDS).values_list("id", "at", "reader_name", "raw")
)


def deliveries_in_trouble(actor: Actor, at: datetime) -> WorkList:
    """Return the lines to controllers that a person should look at."""
    lines = [line for line in lines_to(actor, at) if has_trouble(line)]
    return WorkList(with_what_still_works(actor, lines), len(lines))


def reviews_overdue(actor: Actor, at: datetime) -> WorkList:
    """Return the access groups and doors whose people are to be looked through: an owner's own, everybody's for
    whoever owns none.
    """
    every = overdue_reviews(actor, at)
    mine = [one for one in every if one.owner_id == actor.operator_id]
    rows = [one._asdict() for one in mine or every]
    return WorkList(rows[:MOST_IN_A_WORK_LIST], len(rows))

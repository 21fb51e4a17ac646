"""Read where people are, as controllers told."""

from collections.abc import Iterable
from typing import Any

from django.db.models import Count, F, Q

from cadrin.access.models import Whereabouts
from cadrin.core.doors.rules import OUTSIDE
from cadrin.core.doors.state import Whereabouts as CoreWhereabouts
from cadrin.core.validity import Standing
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.scoping import people_seen

STILL_HERE = ~Q(cardholder__standing=Standing.DEPARTED)


def whereabouts(ids: Iterable[int] | None = None) -> dict[int, CoreWhereabouts]:
    """Return where these people, or all, went last, as the core takes it. Whoever has departed is
    nowhere.
    """
    match = STILL_HERE if ids is None else STILL_HERE & Q(pk__in=list(ids))
    rows = Whereabouts.objects.filter(match).values_list("pk", "area_id", "is_outside", "at")
    return {
        id_: CoreWhereabouts(OUTSIDE if is_outside else area_id, at)
        for id_, area_id, is_outside, at in rows
    }


def people_counted_in(area_ids: Iterable[int | None]) -> dict[int, CoreWhereabouts]:
    """Return everybody in these areas, as the core takes it."""
    inside = Whereabouts.objects.filter(STILL_HERE, area__in=list(area_ids))
    rows = inside.values_list("pk", "area_id", "at")
    return {id_: CoreWhereabouts(area_id, at) for id_, area_id, at in rows}


def counted(actor: Actor) -> dict[int, int]:
    """Return how many people within reach are in each area that anybody is in."""
    inside = Whereabouts.objects.filter(
        STILL_HERE, area__isnull=False, cardholder__in=people_seen(actor)
    )
    return dict(inside.values_list("area_id").annotate(Count("pk")).order_by())


def people_in(actor: Actor, area_id: int, most: int = 500) -> Rows:
    """Return the people within reach who are in an area, whoever came last first."""
    inside = Whereabouts.objects.filter(STILL_HERE, area=area_id, cardholder__in=people_seen(actor))
    return list(
        inside.order_by("-at").values(
            "cardholder_id",
            since=F("at"),
            name=F("cardholder__display_name"),
            number=F("cardholder__number"),
        )[:most]
    )


def presence_of(cardholder_id: int) -> dict[str, Any] | None:
    """Return the area somebody is in, and since when; None where nobody knows."""
    row = Whereabouts.objects.filter(pk=cardholder_id).select_related("area").first()
    if row is None or (row.area is None and not row.is_outside):
        return None
    return {"area": row.area.name if row.area else "", "since": row.at}

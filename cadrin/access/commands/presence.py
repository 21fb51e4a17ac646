"""Note where people went, and forgive whoever is not where a door thinks they are."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.access.models import Whereabouts
from cadrin.core.errors import Invalid, NotFound
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.queries import ids_there
from cadrin.people.scoping import people_seen
from cadrin.sites.queries import area_ids


class WentInto(NamedTuple):
    """Who went into an area, by its id, 0 for outside, and when."""

    area_id: int
    people: tuple[int, ...]
    at: datetime


def note_went(passings: Iterable[WentInto]) -> None:
    """Write down where people went, as controllers told: what comes later counts. Every other
    controller that asks is told.
    """
    moved: set[int] = set()
    areas = area_ids()
    for passing in passings:
        for id_ in ids_there(passing.people):
            where = Whereabouts.objects.filter(pk=id_).first() or Whereabouts(pk=id_)
            if where.at is not None and passing.at < where.at:
                continue
            where.area_id = passing.area_id if passing.area_id in areas else None
            where.is_outside, where.at = where.area_id is None, passing.at
            where.save()
            moved.add(id_)
    mark_for_delivery(Subject.PRESENCE, moved, is_withdrawal=True)


@transaction.atomic
def forgive(actor: Actor, cardholder_ids: Iterable[int], at: datetime) -> int:
    """Let doors no longer think that they know where people are, and say of how many they did.

    Raises NotFound or NotPermitted.
    """
    actor.require(Permission.ACCESS)
    wanted = set(cardholder_ids)
    seen = people_seen(actor).filter(pk__in=wanted)
    if seen.count() < len(wanted):
        raise NotFound.of("cardholder.not_found")
    known = Whereabouts.objects.filter(pk__in=wanted).exclude(area=None, is_outside=False)
    rows = list(known.select_related("area", "cardholder"))
    acts = [
        Act(
            "presence.forgiven",
            (About("cardholder", row.pk),),
            {"area": (row.area.name if row.area else None, None)},
        )
        for row in rows
    ]
    ids = [row.pk for row in rows]
    Whereabouts.objects.filter(pk__in=ids).update(area=None, is_outside=False, at=at)
    record(actor, at, acts)
    mark_for_delivery(Subject.PRESENCE, ids)
    return len(ids)


@transaction.atomic
def forgive_all_in(actor: Actor, area_id: int, at: datetime) -> int:
    """Forgive everybody within reach who is in an area. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.ACCESS)
    if area_id not in area_ids(actor):
        raise NotFound.of("area.not_found")
    inside = Whereabouts.objects.filter(area=area_id, cardholder__in=people_seen(actor))
    ids = list(inside.values_list("pk", flat=True))
    if not ids:
        raise Invalid.of("presence.nobody", None)
    return forgive(actor, ids, at)

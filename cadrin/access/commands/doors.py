"""Remove a door, with every grant of it; what people lose by it is told before."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import F, QuerySet

from cadrin.access.commands.groups import TOLD_OF_WAY
from cadrin.access.commands.memberships import GROUP
from cadrin.access.granted import granted
from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.core.access.plan import Way
from cadrin.core.validity import Standing
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.sites.commands.doors import get_door, remove_bare_door


class Loss(NamedTuple):
    """What goes with a door: the groups that grant it, by name, and how many people are in them."""

    groups: tuple[str, ...]
    people: int


def loss_with_door(actor: Actor, door_id: int) -> Loss:
    """Return what removing a door would take away. Raises NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    get_door(door_id)
    groups = _opening(door_id).order_by("name")
    people = Membership.objects.filter(group__in=groups)
    people = people.exclude(cardholder__standing=Standing.DEPARTED)
    return Loss(
        tuple(groups.values_list("name", flat=True)),
        people.values("cardholder_id").distinct().count(),
    )


def _opening(door_id: int) -> QuerySet[AccessGroup]:
    return AccessGroup.objects.filter(pk__in=granted().filter(opens=door_id).values("group"))


@transaction.atomic
def remove_door(actor: Actor, door_id: int, at: datetime) -> None:
    """Remove a door and every grant of it. Raises NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    name = get_door(door_id).name
    gone: dict[int, dict[str, list[str]]] = {}
    for grant in Grant.objects.filter(door=door_id).select_related("schedule").order_by("id"):
        told = gone.setdefault(grant.group_id, {})
        told.setdefault(TOLD_OF_WAY[Way(grant.way)], []).append(f"{name}: {grant.schedule.name}")
    opening = list(_opening(door_id).values_list("id", flat=True))
    Grant.objects.filter(door=door_id).delete()
    AccessGroup.objects.filter(pk__in=gone).update(version=F("version") + 1)
    versions = dict(AccessGroup.objects.filter(pk__in=gone).values_list("id", "version"))
    acts = [
        Act(
            "group.changed",
            (About(GROUP, id_, versions[id_]),),
            {told: (sorted(had), []) for told, had in by_way.items()},
        )
        for id_, by_way in gone.items()
    ]
    record(actor, at, acts)
    mark_for_delivery(Subject.GROUP, opening, is_withdrawal=True)
    remove_bare_door(actor, door_id, at)

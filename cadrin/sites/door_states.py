"""Read how doors stand now, what is ordered of them, and which were unlocked in an emergency."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any

from django.db.models import Q

from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.rules import ANY_DOOR
from cadrin.core.doors.state import DoorState
from cadrin.core.errors import NotFound
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.sites.commands.releases import is_within_reach
from cadrin.sites.door_rules import orders_that_hold, rules_of_doors
from cadrin.sites.models import Door, DoorAct, DoorNow, DoorOrder, Release, ReleaseGroup
from cadrin.sites.scoping import doors_seen


def door_states(
    actor: Actor, at: datetime, granted_at: Mapping[int, datetime | None] | None = None
) -> Rows:
    """Return how each door within the actor's reach stands: locked or not and why, open or not, and
    what is ordered of it. ``granted_at`` is when somebody was last let in, which may unlock it; reads
    of the last seconds only a controller knows.
    """
    came = granted_at or {}
    doors = Door.objects.filter(doors_seen(actor.scope)).order_by("id")
    rules, orders = rules_of_doors(), orders_that_hold(Q(door__in=doors))
    now = {one.door_id: one for one in DoorNow.objects.filter(door__in=doors)}
    found = []
    for door_id in doors.values_list("id", flat=True):
        stands, own = now.get(door_id), rules.get(door_id, ANY_DOOR)
        order = orders.get(door_id)
        is_over = order is not None and order.until is not None and order.until <= at
        found.append(
            {
                "id": door_id,
                "lock": lock_of(own, DoorState(granted_at=came.get(door_id)), at).value,
                "is_open": bool(stands and stands.is_open),
                "alarm": (stands.alarm or None) if stands else None,
                "moved_at": stands.at if stands else None,
                "consent_seconds": own.consent_seconds,
                "order": _shown(order) if order and not is_over else None,
            }
        )
    return found


def doors_open_since(door_ids: Iterable[int]) -> dict[int, datetime]:
    """Return those of the doors that stand open, and since when."""
    now = DoorNow.objects.filter(door__in=list(door_ids), is_open=True)
    return dict(now.values_list("door_id", "at"))


def _shown(order: DoorOrder) -> dict[str, Any]:
    release = order.release
    return {
        "kind": order.kind,
        "until": order.until,
        "reason": order.reason,
        "ordered_by": order.ordered_by,
        "at": order.at,
        "release": release.group.name if release else "",
    }


def outcome_of(actor: Actor, act_id: int) -> str | None:
    """Return what became of an act at a door within reach; None where there is none."""
    doors = Door.objects.filter(doors_seen(actor.scope))
    found = DoorAct.objects.filter(pk=act_id, door__in=doors)
    return found.values_list("outcome", flat=True).first()


def release_groups(actor: Actor) -> Rows:
    """Return the groups of doors that are all within reach, with the emergency that is on, and the
    latest ones.
    """
    found = []
    for group in ReleaseGroup.objects.order_by("name").prefetch_related("doors", "releases"):
        if not is_within_reach(actor, group):
            continue
        latest = sorted(group.releases.all(), key=lambda one: one.at, reverse=True)[:10]
        found.append(
            {
                "id": group.pk,
                "name": group.name,
                "version": group.version,
                "door_ids": sorted(door.pk for door in group.doors.all()),
                "releases": [release_shown(one) for one in latest],
            }
        )
    return found


def get_release(actor: Actor, release_id: int) -> tuple[Release, list[int]]:
    """Return an emergency and the doors it was about. Raises NotFound, where one of them is out of the
    actor's reach as well.
    """
    release = Release.objects.filter(pk=release_id).select_related("group").first()
    doors = list(release.orders.values_list("door_id", flat=True)) if release else []
    seen = Door.objects.filter(doors_seen(actor.scope), pk__in=doors).count()
    if release is None or seen < len(doors):
        raise NotFound.of("release_group.not_found")
    return release, doors


def release_shown(release: Release) -> dict[str, Any]:
    return {
        "id": release.pk,
        "reason": release.reason,
        "begun_by": release.begun_by,
        "at": release.at,
        "ended_at": release.ended_at,
        "ended_by": release.ended_by,
        "ended_reason": release.ended_reason,
    }

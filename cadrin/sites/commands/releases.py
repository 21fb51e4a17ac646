"""Unlock all doors of a group in an emergency by one act, and end it as deliberately."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.doors.rules import Ordered
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.given_reason import reason_given
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.commands.keeping import keep, problems_with_name, refuse_stale, removed
from cadrin.sites.models import Door, DoorOrder, Release, ReleaseGroup
from cadrin.sites.scoping import doors_seen

RELEASE_GROUP = "release_group"


class ReleaseGroupDraft(NamedTuple):
    """Doors that are unlocked together. ``version`` is the one it was read at; 0 for a new one."""

    name: str
    door_ids: tuple[int, ...]
    version: int = 0


def get_release_group(actor: Actor, group_id: int) -> ReleaseGroup:
    """Raises NotFound, for one with a door that is out of the actor's reach as well."""
    group = ReleaseGroup.objects.filter(pk=group_id).first()
    if group is None or not is_within_reach(actor, group):
        raise NotFound.of("release_group.not_found")
    return group


def is_within_reach(actor: Actor, group: ReleaseGroup) -> bool:
    """Say whether an actor may see every door of a group."""
    return group.doors.filter(doors_seen(actor.scope)).count() == group.doors.count()


@transaction.atomic
def save_release_group(
    actor: Actor, group_id: int | None, draft: ReleaseGroupDraft, at: datetime
) -> int:
    """Make a group of doors, or save one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    group = ReleaseGroup(version=0) if group_id is None else get_release_group(actor, group_id)
    refuse_stale(RELEASE_GROUP, group, draft.version)
    others = ReleaseGroup.objects.exclude(pk=group_id or 0)
    problems = list(problems_with_name(RELEASE_GROUP, draft.name, others))
    there = Door.objects.filter(pk__in=draft.door_ids)
    if not draft.door_ids:
        problems += Invalid.of("release_group.no_doors", "door_ids").problems
    elif there.count() < len(set(draft.door_ids)):
        problems += Invalid.of("input.no_longer_there", "door_ids").problems
    if group_id is not None and group.releases.filter(ended_at=None).exists():
        problems += Invalid.of("release_group.is_released", None).problems
    if problems:
        raise Invalid(problems)
    had = set() if group_id is None else set(group.doors.values_list("id", flat=True))
    keep(actor, RELEASE_GROUP, group, {"name": draft.name.strip()}, at)
    if had != set(draft.door_ids):
        group.doors.set(draft.door_ids)
        ReleaseGroup.objects.filter(pk=group.pk).update(version=group.version + 1)
        names = names_of("door", {*had, *draft.door_ids})
        changes = {
            "doors": (
                sorted(names[id_] for id_ in had),
                sorted(names[id_] for id_ in draft.door_ids),
            ),
            "name": (group.name, group.name),
        }
        about = (About(RELEASE_GROUP, group.pk, group.version + 1),)
        record(actor, at, [Act("release_group.changed", about, changes)])
    return group.pk


@transaction.atomic
def remove_release_group(actor: Actor, group_id: int, at: datetime) -> None:
    """Remove a group of doors that was never released. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    group = get_release_group(actor, group_id)
    if group.releases.exists():
        raise Invalid.of("release_group.was_released", None)
    removed(actor, RELEASE_GROUP, group, at)


@transaction.atomic
def begin_release(actor: Actor, group_id: int, reason: str, at: datetime) -> int:
    """Unlock every door of a group until somebody ends it, and give the id of the emergency.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.DOORS)
    group = get_release_group(actor, group_id)
    told = reason_given(reason)
    if group.releases.filter(ended_at=None).exists():
        raise Invalid.of("release_group.is_released", None)
    release = Release.objects.create(group=group, reason=told, begun_by=actor.name, at=at)
    DoorOrder.objects.bulk_create(
        DoorOrder(
            door=door,
            kind=Ordered.OPEN.value,
            reason=told,
            ordered_by=actor.name,
            at=at,
            release=release,
        )
        for door in group.doors.all()
    )
    changes = {"name": (group.name, group.name), "reason": (None, told)}
    about = (About(RELEASE_GROUP, group.pk), *(About("door", d.pk) for d in group.doors.all()))
    record(actor, at, [Act("release_group.released", about, changes)])
    tell_controllers(at_once=True)
    return release.pk


@transaction.atomic
def end_release(actor: Actor, group_id: int, reason: str, at: datetime) -> None:
    """Let the doors of a group go by their own rules again. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.DOORS)
    group = get_release_group(actor, group_id)
    told = reason_given(reason)
    release = group.releases.filter(ended_at=None).first()
    if release is None:
        raise Invalid.of("release_group.is_not_released", None)
    release.ended_at, release.ended_by, release.ended_reason = at, actor.name, told
    release.save()
    release.orders.filter(ended_at=None).update(ended_at=at)
    changes = {"name": (group.name, group.name), "reason": (None, told)}
    about = (About(RELEASE_GROUP, group.pk),)
    record(actor, at, [Act("release_group.ended", about, changes)])
    tell_controllers(at_once=True)

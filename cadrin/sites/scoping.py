"""What an actor who is limited to some sites may see of doors, controllers and readers."""

from django.db.models import Exists, OuterRef, Q

from cadrin.operators.actor import Actor
from cadrin.operators.scope import Scope
from cadrin.sites.models import Door


def doors_seen(scope: Scope) -> Q:
    return Q() if scope.sites is None else Q(area__site_id__in=scope.sites)


def readers_seen(scope: Scope) -> Q:
    """Match readers at doors within reach, and those at desks, which stand at no door."""
    return Q() if scope.sites is None else Q(door__area__site_id__in=scope.sites) | Q(door=None)


def controllers_seen(scope: Scope) -> Q:
    if scope.sites is None:
        return Q()
    beside = Door.objects.filter(doors_seen(scope), controller_id=OuterRef("pk"))
    return Q(Exists(beside)) | Q(is_desk=True)


def door_ids_seen(actor: Actor) -> frozenset[int] | None:
    """Return the doors within reach; None is all."""
    if actor.scope.sites is None:
        return None
    return frozenset(Door.objects.filter(doors_seen(actor.scope)).values_list("id", flat=True))

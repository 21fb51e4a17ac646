"""What an actor who is kept to some sites may see of doors, controllers, readers, groups and
people.
"""

from django.db.models import Exists, OuterRef, Q

from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.operators.actor import Actor
from cadrin.operators.scope import Scope


def groups_seen(scope: Scope) -> Q:
    """Match groups that open no door out of reach: one that does would let its people in
    there too.
    """
    if scope.sites is None:
        return Q()
    own = Grant.objects.filter(group_id=OuterRef("pk"))
    outside = own.exclude(Q(door__area__site_id__in=scope.sites) | Q(area__site_id__in=scope.sites))
    return ~Q(Exists(outside))


def group_ids_hidden(actor: Actor) -> frozenset[int]:
    """Return the groups that are not there for an actor."""
    if actor.scope.sites is None:
        return frozenset()
    return frozenset(
        AccessGroup.objects.exclude(groups_seen(actor.scope)).values_list("id", flat=True)
    )


def people_at_sites(scope: Scope) -> Q:
    """Match whoever may come to one of the sites, and whoever is in no group yet: they may be on
    their way there.
    """
    if scope.sites is None:
        return Q()
    here = Q(door__area__site_id__in=scope.sites) | Q(area__site_id__in=scope.sites)
    groups = Grant.objects.filter(here).values("group_id")
    there = Membership.objects.filter(group_id__in=groups).values("cardholder_id")
    return Q(pk__in=there) | ~Q(pk__in=Membership.objects.values("cardholder_id"))

"""Match cardholders by their access groups: conditions for whoever lists cardholders."""

from collections.abc import Iterable
from datetime import datetime

from django.db.models import Exists, OuterRef, Q, QuerySet

from cadrin.access.granted import granted
from cadrin.access.models import Membership
from cadrin.credentials.matching import is_not_over


def _memberships() -> QuerySet[Membership]:
    return Membership.objects.filter(cardholder_id=OuterRef("pk"))


def _opening() -> QuerySet[Membership]:
    return _memberships().filter(Exists(granted().filter(group_id=OuterRef("group_id"))))


def is_in_a_group() -> Q:
    return Q(Exists(_memberships()))


def is_member_of(group_id: int) -> Q:
    """Match whoever is in this group; by its people, as there are few of them among all."""
    return Q(pk__in=Membership.objects.filter(group_id=group_id).values("cardholder_id"))


def is_in_any_of(group_ids: Iterable[int]) -> Q:
    """Match whoever is in one of these groups."""
    listed = list(group_ids)
    # of no group nothing need be asked, nor of what is asked beside it
    return Q(Exists(_memberships().filter(group_id__in=listed))) if listed else Q(pk__in=[])


def is_in_a_group_that_opens_something() -> Q:
    return Q(Exists(_opening()))


def has_membership_in_force(at: datetime) -> Q:
    """Match whoever is in a group now, or when they start."""
    return Q(Exists(_memberships().filter(is_not_over(at))))

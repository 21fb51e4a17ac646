"""Read groups, doors, schedules and memberships."""

from collections.abc import Iterable

from django.db.models import Count, F, Min, Q

from cadrin.access.models import AccessGroup, DefaultGroup, Grant, Membership
from cadrin.access.scoping import groups_seen
from cadrin.core.errors import NotFound
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.scoping import people_seen


def groups(actor: Actor) -> Rows:
    """Return every access group within the actor's reach with its grants and the number of its
    people there.
    """
    grants: dict[int, list[dict[str, int]]] = {}
    for group_id, door, schedule in Grant.objects.order_by("door_id", "id").values_list(
        "group", "door", "schedule"
    ):
        grants.setdefault(group_id, []).append({"door": door, "schedule": schedule})
    counted = Membership.objects.filter(_members_seen(actor))
    members = dict(counted.values_list("group_id").annotate(Count("id")).order_by())
    return [
        dict(row) | {"grants": grants.get(row["id"], []), "member_count": members.get(row["id"], 0)}
        for row in AccessGroup.objects.filter(groups_seen(actor.scope))
        .order_by("name")
        .values("id", "name", "remarks", "overrides", "version")
    ]


def _members_seen(actor: Actor) -> Q:
    if actor.scope.is_whole:
        return Q()
    return Q(cardholder__in=people_seen(actor))


def get_group(actor: Actor, group_id: int) -> AccessGroup:
    """Raises NotFound, for one that is out of the actor's reach as well."""
    group = AccessGroup.objects.filter(groups_seen(actor.scope), pk=group_id).first()
    if group is None:
        raise NotFound.of("group.not_found")
    return group


def group_ids_among(ids: Iterable[int]) -> set[int]:
    """Return those of the ids that are an access group's."""
    return set(AccessGroup.objects.filter(pk__in=ids).values_list("id", flat=True))


def members_of(actor: Actor, group_id: int, most: int = 200) -> Rows:
    """Return the people of a group whom the actor may see, by name, at most so many."""
    return list(
        Membership.objects.filter(_members_seen(actor), group_id=group_id)
        .order_by("cardholder__sort_name")
        .values(
            "cardholder_id",
            "activation_at",
            "expiry_at",
            name=F("cardholder__display_name"),
            number=F("cardholder__number"),
        )[:most]
    )


def members_page(actor: Actor, group_id: int, after: int, most: int) -> Rows:
    """Return the people of a group whom the actor may see, by id, from one on."""
    return list(
        Membership.objects.filter(_members_seen(actor), group_id=group_id, cardholder_id__gt=after)
        .order_by("cardholder_id")
        .values("cardholder_id", "activation_at", "expiry_at")[:most]
    )


def member_ids(group_id: int) -> list[int]:
    return list(
        Membership.objects.filter(group_id=group_id).values_list("cardholder_id", flat=True)
    )


def members_of_any(group_ids: Iterable[int]) -> list[int]:
    """Return the people of any of these groups, each once."""
    found = Membership.objects.filter(group_id__in=list(group_ids))
    return list(found.values_list("cardholder_id", flat=True).distinct())


def only_members() -> dict[int, int]:
    """Return the groups that have one person alone, and who that is."""
    found = Membership.objects.values_list("group").annotate(Count("id"), Min("cardholder"))
    return {group_id: who for group_id, count, who in found.order_by() if count == 1}


def doors_of_group(group_id: int | None) -> list[int]:
    """Return the doors that a group opens."""
    found = Grant.objects.filter(group_id=group_id)
    return list(found.values_list("door_id", flat=True).distinct())


def default_groups() -> dict[int, list[int]]:
    """Return the access groups that each department proposes, without those of the departments
    above it.
    """
    found: dict[int, list[int]] = {}
    for department_id, group_id in DefaultGroup.objects.order_by("id").values_list(
        "department_id", "group_id"
    ):
        found.setdefault(department_id, []).append(group_id)
    return found


def people_of_departments(actor: Actor) -> dict[int, int]:
    return dict(
        people_seen(actor)
        .filter(department__isnull=False)
        .values_list("department_id")
        .annotate(Count("id"))
        .order_by()
    )


def group_choices(actor: Actor) -> Rows:
    return list(
        AccessGroup.objects.filter(groups_seen(actor.scope)).order_by("name").values("id", "name")
    )

"""Read groups, doors, schedules and memberships."""

from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

from django.db.models import Count, Exists, F, Min, OuterRef, Q, QuerySet

from cadrin.access.granted import granted
from cadrin.access.models import (
    AccessGroup,
    DefaultGroup,
    Grant,
    KeptOut,
    Membership,
    MembershipRule,
)
from cadrin.access.scoping import groups_seen
from cadrin.config.database.instants import Turn, Window, turns
from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.access.membership_rules import MembershipRule as CoreRule
from cadrin.core.errors import NotFound
from cadrin.core.people.departments import Parents, everything_below
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.queries import people_matching
from cadrin.people.scoping import people_seen


def groups(actor: Actor) -> Rows:
    """Return every access group within the actor's reach with its grants and the number of its
    people there.
    """
    grants: dict[int, list[dict[str, int | str | None]]] = {}
    for group_id, door, area, schedule, way in Grant.objects.order_by(
        F("area_id").asc(nulls_first=True), "door_id", "id"
    ).values_list("group", "door", "area", "schedule", "way"):
        grants.setdefault(group_id, []).append(
            {"door": door, "area": area, "schedule": schedule, "way": way}
        )
    opens: dict[int, list[dict[str, int | str]]] = {}
    for group_id, door, schedule, way in (
        granted().order_by("opens", "id").values_list("group", "opens", "schedule", "way")
    ):
        opens.setdefault(group_id, []).append({"door": door, "schedule": schedule, "way": way})
    rules: dict[int, list[dict[str, int | None]]] = {}
    for rule in membership_rules():
        told = {"department": rule.department_id, "kind": rule.kind_id, "company": rule.company_id}
        rules.setdefault(rule.group_id, []).append(told)
    members = member_counts(actor)
    return [
        dict(row)
        | {
            "grants": grants.get(row["id"], []),
            "opens": opens.get(row["id"], []),
            "rules": rules.get(row["id"], []),
            "member_count": members.get(row["id"], 0),
        }
        for row in AccessGroup.objects.filter(groups_seen(actor.scope))
        .order_by("name")
        .values("id", "name", "remarks", "overrides", "owner_id", "review_days", "version")
    ]


def groups_within(actor: Actor) -> QuerySet[AccessGroup]:
    """Return the access groups within the actor's reach."""
    return AccessGroup.objects.filter(groups_seen(actor.scope))


def member_counts(actor: Actor, group_ids: Iterable[int] | None = None) -> dict[int, int]:
    """Return how many people within the actor's reach groups have, all or some of them."""
    counted = Membership.objects.filter(_members_seen(actor))
    if group_ids is not None:
        counted = counted.filter(group_id__among=group_ids)
    return dict(counted.values_list("group_id").annotate(Count("id")).order_by())


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


_names = RowsByIds(lambda: AccessGroup.objects.filter(pk__among=IDS).values_list("id", "name"))


def names_of_groups(ids: Iterable[int]) -> dict[int, str]:
    """Return the names of access groups, without those that are not there."""
    wanted = set(ids)
    return dict(_names(wanted)) if wanted else {}


def group_ids_among(ids: Iterable[int]) -> set[int]:
    """Return those of the ids that are an access group's."""
    return set(names_of_groups(ids))


def members_of(actor: Actor, group_id: int, most: int = 200) -> Rows:
    """Return the people of a group whom the actor may see, by name, at most so many."""
    return list(
        Membership.objects.filter(_members_seen(actor), group_id=group_id)
        .order_by("cardholder__sort_name")
        .values(
            "cardholder_id",
            "activation_at",
            "expiry_at",
            "is_by_rule",
            name=F("cardholder__display_name"),
            number=F("cardholder__number"),
        )[:most]
    )


def people_of_groups(actor: Actor, group_ids: Iterable[int], most: int) -> Rows:
    """Return the people of any of these groups whom the actor may see, by name, at most so many, with
    the groups they are in and what their memberships are.
    """
    found: dict[int, dict[str, Any]] = {}
    rows = Membership.objects.filter(_members_seen(actor), group_id__in=list(group_ids))
    for row in rows.order_by("cardholder__sort_name", "cardholder_id", "id").values(
        "cardholder_id",
        "group_id",
        "activation_at",
        "expiry_at",
        "is_by_rule",
        name=F("cardholder__display_name"),
        number=F("cardholder__number"),
    ):
        if row["cardholder_id"] not in found and len(found) == most:
            break
        first = found.setdefault(row["cardholder_id"], dict(row) | {"group_ids": []})
        first["group_ids"].append(row["group_id"])
    return list(found.values())


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


def members_of_any(group_ids: Iterable[int], among: Iterable[int] | None = None) -> set[int]:
    """Return the people of any of these groups; of those ``among`` whom it is asked, if of some."""
    found = Membership.objects.filter(group_id__in=list(group_ids))
    if among is not None:
        found = found.filter(cardholder_id__among=among)
    return set(found.values_list("cardholder_id", flat=True))


def only_members() -> dict[int, int]:
    """Return the groups that have one person alone, and who that is."""
    found = Membership.objects.values_list("group").annotate(Count("id"), Min("cardholder"))
    return {group_id: who for group_id, count, who in found.order_by() if count == 1}


def doors_of_group(group_id: int | None) -> list[int]:
    """Return the doors that a group opens."""
    found = granted().filter(group_id=group_id)
    return list(found.values_list("opens", flat=True).distinct())


_rules = RowsByIds(
    lambda: MembershipRule.objects.order_by("id").values_list(
        "group_id", "department_id", "kind_id", "company_id"
    )
)
_one_by_rule = RowsByIds(lambda: Membership.objects.filter(is_by_rule=True).values_list("id")[:1])


def membership_rules() -> tuple[CoreRule, ...]:
    """Return the rules by which people are in groups."""
    return tuple(CoreRule(*row) for row in _rules())


def is_anybody_by_rule() -> bool:
    return bool(_one_by_rule())


def kept_out_of(holder_ids: Iterable[int]) -> dict[int, frozenset[int]]:
    """Return the groups that people are kept out of, whatever their rules say."""
    found: dict[int, set[int]] = {}
    rows = KeptOut.objects.filter(cardholder_id__in=list(holder_ids))
    for holder_id, group_id in rows.values_list("cardholder_id", "group_id"):
        found.setdefault(holder_id, set()).add(group_id)
    return {holder_id: frozenset(groups) for holder_id, groups in found.items()}


def kept_out_people(actor: Actor, group_id: int) -> Rows:
    """Return who is kept out of a group, as far as the actor may see them, by name."""
    return list(
        KeptOut.objects.filter(_members_seen(actor), group_id=group_id)
        .order_by("cardholder__sort_name")
        .values(
            "cardholder_id",
            name=F("cardholder__display_name"),
            number=F("cardholder__number"),
        )
    )


class NotAsRuled(NamedTuple):
    """People whom a group's rules put in, and people whom they take out."""

    missing: QuerySet[Any]
    over: QuerySet[Any]


def not_as_ruled(group_id: int | None, rules: Iterable[CoreRule], tree: Parents) -> NotAsRuled:
    """Return the ids of people who are not where the rules of a group would have them."""
    below = everything_below(tree)
    fits = Q(pk__in=[])
    for rule in rules:
        one = Q()
        if rule.department_id is not None:
            one &= Q(department__in=list(below.get(rule.department_id, ())))
        if rule.kind_id is not None:
            one &= Q(kind=rule.kind_id)
        if rule.company_id is not None:
            one &= Q(company=rule.company_id)
        fits |= one
    living = people_matching(Q(erased_at=None))
    own = Membership.objects.filter(group=group_id, cardholder=OuterRef("pk"))
    kept_out = KeptOut.objects.filter(group=group_id, cardholder=OuterRef("pk"))
    missing = living.filter(fits).filter(~Exists(own), ~Exists(kept_out)).order_by("id")
    ruled = Membership.objects.filter(group=group_id, is_by_rule=True)
    over = ruled.exclude(cardholder__in=living.filter(fits)).order_by("id")
    return NotAsRuled(missing.values_list("id"), over.values_list("cardholder_id"))


def groups_with_rules() -> set[int]:
    """Return the groups that have rules, or people by a rule that is gone."""
    return {
        *MembershipRule.objects.values_list("group_id", flat=True),
        *Membership.objects.filter(is_by_rule=True).values_list("group_id", flat=True).distinct(),
    }


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


def turns_of_memberships(window: Window) -> Iterator[Turn]:
    """Yield when memberships begin or end, and whose they are."""
    columns = ("activation_at", "expiry_at")
    return turns(Membership.objects.all(), "cardholder_id", columns, window)

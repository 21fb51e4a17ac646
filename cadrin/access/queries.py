"""Read groups, doors, schedules and memberships."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any, NamedTuple

from django.db.models import Count, F, Q

from cadrin.access.models import AccessGroup, Controller, DefaultGroup, Door, Grant, Membership, Reader, Schedule, Site
from cadrin.access.scoping import doors_seen, groups_seen, readers_seen
from cadrin.core.errors import NotFound
from cadrin.core.schedules import zone_named
from cadrin.core.site_days import coming_morning, end_of_day
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.models import Cardholder
from cadrin.people.scoping import seen_by


def home_site() -> Mapping[str, Any]:
    """Give the site whose clock the house goes by: the first that was set up."""
    return Site.objects.order_by("id").values("id", "name", "zone").first() or {"id": 0, "name": "", "zone": "UTC"}


def site_day(at: datetime) -> date:
    """Give the day that the house's calendar shows at an instant."""
    return at.astimezone(zone_named(home_site()["zone"])).date()


class Coming(NamedTuple):
    """Instants that the home site names by its calendar."""

    end_of_day: datetime
    morning: datetime


def coming(at: datetime) -> Coming:
    """Return when the site's day ends, and the morning that comes next."""
    zone = zone_named(home_site()["zone"])
    return Coming(end_of_day(at, zone), coming_morning(at, zone))


def sites(actor: Actor) -> Rows:
    within = Q() if actor.scope.sites is None else Q(pk__in=actor.scope.sites)
    return list(Site.objects.filter(within).order_by("id").values("id", "name", "zone"))


def doors(actor: Actor) -> Rows:
    """Give every door within the actor's reach, in the order of sites, areas and names."""
    return list(
        Door.objects.filter(doors_seen(actor.scope))
        .order_by("area__site_id", "area_id", "name")
        .values(
            "id",
            "name",
            "controller_id",
            area_name=F("area__name"),
            site_name=F("area__site__name"),
            zone=F("area__site__zone"),
            controller_name=F("controller__name"),
        )
    )


def readers(actor: Actor) -> Rows:
    found = Reader.objects.filter(readers_seen(actor.scope)).order_by("id")
    columns = ("id", "name", "controller_id", "door_id", "has_keypad", "has_camera", "is_way_out", "policy", "version")
    formats: dict[int, list[int]] = {}
    for reader_id, format_id in Reader.formats.through.objects.order_by("id").values_list("reader_id", "cardformat_id"):
        formats.setdefault(reader_id, []).append(format_id)
    return [
        dict(row) | {"format_ids": formats.get(row["id"], [])}
        for row in found.values(*columns, is_desk=F("controller__is_desk"))
    ]


def controllers() -> list[Controller]:
    return list(Controller.objects.order_by("id"))


def schedules() -> Rows:
    return list(
        Schedule.objects.order_by("name")
        .annotate(group_count=Count("grants__group", distinct=True))
        .values("id", "name", "zone", "hours", "version", "group_count")
    )


def get_schedule(schedule_id: int) -> Schedule:
    """Raises NotFound."""
    schedule = Schedule.objects.filter(pk=schedule_id).first()
    if schedule is None:
        raise NotFound.of("schedule.not_found")
    return schedule


def groups(actor: Actor) -> Rows:
    """Give every access group within the actor's reach with its grants and the number of its people there."""
    grants: dict[int, list[dict[str, int]]] = {}
    for group_id, door, schedule in Grant.objects.order_by("door_id", "id").values_list("group", "door", "schedule"):
        grants.setdefault(group_id, []).append({"door": door, "schedule": schedule})
    counted = Membership.objects.filter(_members_seen(actor))
    members = dict(counted.values_list("group_id").annotate(Count("id")).order_by())
    return [
        dict(row) | {"grants": grants.get(row["id"], []), "member_count": members.get(row["id"], 0)}
        for row in AccessGroup.objects.filter(groups_seen(actor.scope))
        .order_by("name")
        .values("id", "name", "remarks", "version")
    ]


def _members_seen(actor: Actor) -> Q:
    if actor.scope.is_whole:
        return Q()
    return Q(cardholder__in=Cardholder.objects.filter(seen_by(actor)))


def get_group(actor: Actor, group_id: int) -> AccessGroup:
    """Raises NotFound, for one that is out of the actor's reach as well."""
    group = AccessGroup.objects.filter(groups_seen(actor.scope), pk=group_id).first()
    if group is None:
        raise NotFound.of("group.not_found")
    return group


def members_of(actor: Actor, group_id: int, most: int = 200) -> Rows:
    """Give the people of a group whom the actor may see, by name, at most so many."""
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


def member_ids(group_id: int) -> list[int]:
    return list(Membership.objects.filter(group_id=group_id).values_list("cardholder_id", flat=True))


def default_groups() -> dict[int, list[int]]:
    """Give the access groups that each department proposes, without those of the departments above it."""
    found: dict[int, list[int]] = {}
    for department_id, group_id in DefaultGroup.objects.order_by("id").values_list("department_id", "group_id"):
        found.setdefault(department_id, []).append(group_id)
    return found


def people_of_departments(actor: Actor) -> dict[int, int]:
    return dict(
        Cardholder.objects.filter(seen_by(actor), department__isnull=False)
        .values_list("department_id")
        .annotate(Count("id"))
        .order_by()
    )


def group_choices(actor: Actor) -> Rows:
    return list(AccessGroup.objects.filter(groups_seen(actor.scope)).order_by("name").values("id", "name"))

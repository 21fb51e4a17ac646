"""Read sites, doors, readers, controllers and schedules."""

from collections.abc import Iterable, Mapping
from datetime import date, datetime
from typing import Any, NamedTuple

from django.db.models import F, Q, QuerySet

from cadrin.config.database.reading import RowsByIds
from cadrin.core.credentials.factors import (
    ANY_CARD,
    Factor,
    Factors,
    PolicyHours,
    ReaderPolicy,
    factors_of,
)
from cadrin.core.errors import NotFound
from cadrin.core.limits import LIMITS
from cadrin.core.schedules import Schedule as CoreSchedule
from cadrin.core.schedules import zone_named
from cadrin.core.site_days import coming_morning, end_of_day
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.sites.door_rules import COUNTS, DOES, LOOKED_AFTER, area_rules_of, with_interlocks
from cadrin.sites.hours import schedules_of_the_core
from cadrin.sites.models import (
    Area,
    Controller,
    Door,
    Reader,
    Site,
)
from cadrin.sites.scoping import controllers_seen, doors_seen, readers_seen

_first_site = RowsByIds(lambda: Site.objects.order_by("id").values_list("id", "name", "zone")[:1])


def home_site() -> Mapping[str, Any]:
    """Return the site whose clock the house goes by: the first that was set up."""
    id_, name, zone = next(iter(_first_site([])), (0, "", "UTC"))
    return {"id": id_, "name": name, "zone": zone}


def site_day(at: datetime) -> date:
    """Return the day that the house's calendar shows at an instant."""
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
    """Return every door within the actor's reach, in the order of sites, areas and names."""
    return list(
        Door.objects.filter(doors_seen(actor.scope))
        .order_by("area__site_id", "area_id", "name")
        .values(
            "id",
            "name",
            "controller_id",
            site_id=F("area__site_id"),
            area_name=F("area__name"),
            site_name=F("area__site__name"),
            zone=F("area__site__zone"),
            controller_name=F("controller__name"),
        )
    )


def area_names() -> dict[int, str]:
    return dict(Area.objects.values_list("id", "name"))


def door_names() -> dict[int, str]:
    return dict(Door.objects.values_list("id", "name"))


_doors_of_one_group = RowsByIds(
    lambda: Door.objects.filter(controller__knows_one_group=True).values_list("id", "name")
)


def doors_of_one_group() -> dict[int, str]:
    """Return the doors, by name, whose controllers know one access group of each cardholder there."""
    return dict(_doors_of_one_group())


def doors_of_controller(controller_id: int) -> dict[int, str]:
    """Return the doors of a controller, by name."""
    return dict(Door.objects.filter(controller=controller_id).values_list("id", "name"))


def limits_entered(controller_id: int) -> Mapping[str, int]:
    """Return what an operator knows that a controller can hold."""
    found = Controller.objects.filter(pk=controller_id).values_list("limits", flat=True).first()
    return found or {}


def doors_within(actor: Actor) -> QuerySet[Door]:
    """Return the doors within the actor's reach, to be narrowed down."""
    return Door.objects.filter(doors_seen(actor.scope))


def doors_into(areas: Iterable[int]) -> dict[int, list[int]]:
    """Return the doors into each of these areas."""
    found: dict[int, list[int]] = {}
    for area_id, id_ in Door.objects.filter(area__in=areas).values_list("area_id", "id"):
        found.setdefault(area_id, []).append(id_)
    return found


def area_ids(actor: Actor | None = None) -> set[int]:
    """Return the areas within the actor's reach, or all."""
    sites = actor.scope.sites if actor else None
    within = Q() if sites is None else Q(site_id__in=sites)
    return set(Area.objects.filter(within).values_list("id", flat=True))


def readers(actor: Actor) -> Rows:
    found = Reader.objects.filter(readers_seen(actor.scope)).order_by("id")
    columns = (
        "id",
        "name",
        "controller_id",
        "door_id",
        "has_keypad",
        "has_camera",
        "has_finger_scanner",
        "has_face_reader",
        "is_way_out",
        "policy",
        "policy_by_hours",
        "finger_match",
        "face_match",
        "version",
    )
    formats: dict[int, list[int]] = {}
    for reader_id, format_id in Reader.formats.through.objects.order_by("id").values_list(
        "reader_id", "cardformat_id"
    ):
        formats.setdefault(reader_id, []).append(format_id)
    return [
        dict(row)
        | {
            "format_ids": formats.get(row["id"], []),
            "by_hours": [
                {"schedule": schedule_id, "policy": policy}
                for schedule_id, policy in row["policy_by_hours"]
            ],
        }
        for row in found.values(*columns, is_desk=F("controller__is_desk"))
    ]


def controller_ids(actor: Actor) -> list[int]:
    """Return the controllers within the actor's reach."""
    seen = Controller.objects.filter(controllers_seen(actor.scope), is_retired=False)
    return list(seen.order_by("id").values_list("id", flat=True))


def controllers_shown(actor: Actor) -> Rows:
    """Return what is shown of each controller within the actor's reach."""
    seen = Controller.objects.filter(controllers_seen(actor.scope), is_retired=False)
    return list(seen.order_by("id").values("id", "name", "is_desk"))


def doors_of_controllers(actor: Actor) -> dict[int, list[str]]:
    """Return the names of the doors within the actor's reach, by their controller."""
    doors: dict[int, list[str]] = {}
    for controller_id, name in (
        Door.objects.filter(doors_seen(actor.scope))
        .order_by("name")
        .values_list("controller_id", "name")
    ):
        doors.setdefault(controller_id, []).append(name)
    return doors


def controllers_of_doors(door_ids: Iterable[int]) -> set[int]:
    """Return the controllers that have these doors."""
    doors = Door.objects.filter(pk__in=list(door_ids))
    return set(doors.values_list("controller_id", flat=True))


def controllers() -> list[Controller]:
    """Return every controller that is spoken to."""
    return list(Controller.objects.filter(is_retired=False).order_by("id"))


def controllers_within(actor: Actor) -> list[Controller]:
    """Return the controllers within the actor's reach."""
    seen = Controller.objects.filter(controllers_seen(actor.scope), is_retired=False)
    return list(seen.order_by("id"))


def alternatives_of(policy: Iterable[Iterable[str]]) -> tuple[Factors, ...]:
    """Read alternatives as the database keeps them. Raises ValueError for a factor that there is
    not.
    """
    return tuple(factors_of(Factor(name) for name in alternative) for alternative in policy)


def policy_hours_of(
    by_hours: Iterable[tuple[int, list[list[str]]]], schedules: Mapping[int, CoreSchedule]
) -> tuple[PolicyHours, ...]:
    """Read what counts by the hour as the database keeps it, without schedules that are gone."""
    return tuple(
        PolicyHours(schedules[schedule_id], alternatives_of(alternatives))
        for schedule_id, alternatives in by_hours
        if schedule_id in schedules
    )


def readers_of_controllers() -> Mapping[int, dict[int, int]]:
    """Give, for every controller that decides, its readers and the doors beside them."""
    found: dict[int, dict[int, int]] = {}
    rows = Reader.objects.filter(controller__is_desk=False, door__isnull=False).order_by("id")
    for controller_id, reader_id, door_id in rows.values_list("controller_id", "id", "door_id"):
        found.setdefault(controller_id, {})[reader_id] = door_id or 0
    return found


def doors_of_readers() -> dict[int, int]:
    """Return the door beside each reader that stands at one."""
    rows = Reader.objects.filter(door__isnull=False).values_list("id", "door_id")
    return {reader_id: door_id or 0 for reader_id, door_id in rows}


def plugs_of_readers() -> dict[int, int]:
    """Return where readers are plugged in, of those that their controller knows by that."""
    rows = Reader.objects.filter(plug__isnull=False).values_list("id", "plug")
    return {id_: plug or 0 for id_, plug in rows}


def places(actor: Actor) -> dict[str, Rows]:
    """Return sites, areas, doors, controllers and readers as they are set up, within reach."""
    areas = Area.objects.filter(
        Q() if actor.scope.sites is None else Q(site_id__in=actor.scope.sites)
    )
    doors = Door.objects.filter(doors_seen(actor.scope)).order_by("name")
    controllers = Controller.objects.filter(controllers_seen(actor.scope), is_retired=False)
    readers = Reader.objects.filter(readers_seen(actor.scope)).order_by("plug", "id")
    return {
        "sites": list(
            Site.objects.filter(pk__in=[row["id"] for row in sites(actor)])
            .order_by("id")
            .values("id", "name", "zone", "version")
        ),
        "areas": [
            dict(row) | {"counts_people": area_rules_of(row).counts_people}
            for row in areas.order_by("site_id", "name").values(
                "id", "site_id", "name", *COUNTS, "version"
            )
        ],
        "doors": with_interlocks(
            doors.values(
                *("id", "name", "area_id", "from_area_id", "controller_id"),
                *(*DOES, *LOOKED_AFTER, "version"),
            )
        ),
        "controllers": [
            row | {"limits": dict.fromkeys(LIMITS) | row["limits"]}
            for row in controllers.order_by("id").values(
                "id", "name", "address", "is_desk", "limits", "knows_one_group", "version"
            )
        ],
        "readers": list(
            readers.values(
                "id", "name", "controller_id", "door_id", "is_way_out", "plug", "version"
            )
        ),
    }


def readers_on_the_way_out() -> frozenset[int]:
    return frozenset(Reader.objects.filter(is_way_out=True).values_list("id", flat=True))


def policies_of_readers() -> dict[int, ReaderPolicy]:
    """Return what readers ask for, of those that ask for something else than any card."""
    formats_of: dict[int, set[int]] = {}
    for reader_id, format_id in Reader.formats.through.objects.values_list(
        "reader_id", "cardformat_id"
    ):
        formats_of.setdefault(reader_id, set()).add(format_id)
    schedules = schedules_of_the_core()
    found = {
        reader_id: ReaderPolicy(
            alternatives_of(policy),
            frozenset(formats_of[reader_id]) if reader_id in formats_of else None,
            policy_hours_of(by_hours, schedules),
            *matches,
        )
        for reader_id, policy, by_hours, *matches in Reader.objects.values_list(
            "id", "policy", "policy_by_hours", "finger_match", "face_match"
        )
    }
    return {reader_id: policy for reader_id, policy in found.items() if policy != ANY_CARD}


def is_door_within(actor: Actor, door_id: int) -> bool:
    """Say whether a door is within the actor's reach."""
    return Door.objects.filter(doors_seen(actor.scope), pk=door_id).exists()


def door_ids(actor: Actor) -> list[int]:
    """Return the doors within the actor's reach, in the order of sites, areas and names."""
    return list(
        Door.objects.filter(doors_seen(actor.scope))
        .order_by("area__site_id", "area_id", "name")
        .values_list("id", flat=True)
    )


def reader_ids(actor: Actor) -> list[int]:
    """Return the readers within the actor's reach."""
    seen = Reader.objects.filter(readers_seen(actor.scope))
    return list(seen.values_list("id", flat=True))


def finger_scanners_at_desks(actor: Actor) -> set[int]:
    """Return the desk readers within reach that take fingers."""
    seen = Reader.objects.filter(readers_seen(actor.scope), controller__is_desk=True)
    return set(seen.filter(has_finger_scanner=True).values_list("id", flat=True))


def face_readers_at_desks(actor: Actor) -> set[int]:
    """Return the desk readers within reach that take faces."""
    seen = Reader.objects.filter(readers_seen(actor.scope), controller__is_desk=True)
    return set(seen.filter(has_face_reader=True).values_list("id", flat=True))


def get_controller(actor: Actor, controller_id: int) -> Controller:
    """Raises NotFound, for one that is out of the actor's reach as well."""
    seen = Controller.objects.filter(controllers_seen(actor.scope), is_retired=False)
    controller = seen.filter(pk=controller_id).first()
    if controller is None:
        raise NotFound.of("controller.not_found")
    return controller


class ReaderAt(NamedTuple):
    """A reader by its name, and the door beside it."""

    name: str
    door_id: int | None


def readers_named(ids: Iterable[int]) -> dict[int, ReaderAt]:
    """Return readers by id, without those that are not there."""
    rows = Reader.objects.filter(pk__in=list(ids)).values_list("id", "name", "door_id")
    return {id_: ReaderAt(name, door_id) for id_, name, door_id in rows}

"""Read what doors do and what areas count, as the core takes it."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import F, Q

from cadrin.core.doors.rules import (
    ANY_DOOR,
    OUTSIDE,
    AreaRules,
    DoorRules,
    Ordered,
    Passback,
)
from cadrin.core.schedules import Schedule
from cadrin.outbox.rows import Rows
from cadrin.sites.hours import schedules_of_the_core
from cadrin.sites.models import Area, Door, DoorOrder

DOES = (
    "open_seconds", "extended_open_seconds", "held_seconds", "tells_forced", "unlocked_schedule_id",
    "closed_schedule_id", "first_person", "second_seconds", "consent_seconds", "has_exit_button",
)  # fmt: skip
"""What a door does, by the names of its columns."""
LOOKED_AFTER = ("owner_id", "review_days")
"""Who looks through those who may open a door, and how often, by the names of its columns."""
COUNTS = ("passback", "forgiven_after_minutes", "most")
"""Of whom an area keeps count."""


def with_interlocks(doors: Iterable[Mapping[str, Any]]) -> Rows:
    """Return rows of doors, each with the ids of those that must be shut before it opens."""
    found = interlocks()
    return [dict(row) | {"interlock": list(found.get(row["id"], ()))} for row in doors]


def interlocks() -> dict[int, tuple[int, ...]]:
    found: dict[int, tuple[int, ...]] = {}
    pairs = Door.interlock.through.objects.order_by("to_door_id")
    for door_id, other_id in pairs.values_list("from_door_id", "to_door_id"):
        found[door_id] = (*found.get(door_id, ()), other_id)
    return found


def rules_of_areas() -> dict[int, AreaRules]:
    """Return the areas that keep count of people."""
    rows = Area.objects.values("id", *COUNTS)
    return {row["id"]: rules for row in rows if (rules := area_rules_of(row)).counts_people}


def area_rules_of(row: Mapping[str, Any]) -> AreaRules:
    """Return of whom an area keeps count, by its columns."""
    minutes = row["forgiven_after_minutes"]
    return AreaRules(
        Passback(row["passback"]), None if minutes is None else minutes * 60, row["most"]
    )


def rules_of_doors() -> dict[int, DoorRules]:
    """Return what doors do, of those that have a word of their own."""
    schedules, counting = schedules_of_the_core(), rules_of_areas()
    locked, orders = interlocks(), orders_that_hold()
    columns = (*DOES, "id", "area_id", "from_area_id")
    found = {
        row["id"]: _rules_of(
            row, schedules, counting, locked.get(row["id"], ()), orders.get(row["id"])
        )
        for row in Door.objects.values(*columns)
    }
    return {id_: rules for id_, rules in found.items() if rules != ANY_DOOR}


def _rules_of(
    row: Mapping[str, Any],
    schedules: Mapping[int, Schedule],
    counting: Mapping[int, AreaRules],
    interlock: tuple[int, ...],
    order: DoorOrder | None,
) -> DoorRules:
    counts = row["area_id"] in counting or row["from_area_id"] in counting
    return DoorRules(
        row["open_seconds"],
        row["extended_open_seconds"],
        row["held_seconds"],
        row["tells_forced"],
        schedules.get(row["unlocked_schedule_id"] or 0),
        schedules.get(row["closed_schedule_id"] or 0),
        row["first_person"],
        row["second_seconds"],
        interlock,
        row["consent_seconds"],
        row["has_exit_button"],
        (row["from_area_id"] or OUTSIDE) if counts else None,
        row["area_id"] if counts else None,
        Ordered(order.kind) if order else None,
        order.until if order else None,
    )


def orders_that_hold(doors: Q | None = None) -> dict[int, DoorOrder]:
    """Return the order that counts at each door: that of an emergency, or else the newest."""
    holding = DoorOrder.objects.filter(doors or Q(), ended_at=None).select_related("release__group")
    # what comes later in this order counts
    in_order = holding.order_by(F("release_id").asc(nulls_first=True), "id")
    return {order.door_id: order for order in in_order}

"""Doors at random: their closed hours, and what operators order of them; and what the tables say of
both, in plain words.
"""

from datetime import datetime
from random import Random

from cadrin.core.doors.rules import Ordered
from cadrin.operators.actor import Actor
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.orders import end_order, order_door
from cadrin.sites.models import Area, Door, DoorOrder, Schedule


def change_closed_hours(actor: Actor, random: Random, now: datetime) -> None:
    """Give a door closed hours, or take them away."""
    door_id = random.choice(list(Door.objects.values_list("id", flat=True)))
    schedules = list(Schedule.objects.values_list("id", flat=True))
    closed = random.choice([None, None, *schedules])
    save_door(actor, door_id, stored_door(door_id)._replace(closed_schedule_id=closed), now)


def move_door(actor: Actor, random: Random, now: datetime) -> None:
    """Let a door lead into another area."""
    door_id = random.choice(list(Door.objects.values_list("id", flat=True)))
    area_id = random.choice(list(Area.objects.values_list("id", flat=True)))
    save_door(actor, door_id, stored_door(door_id)._replace(area_id=area_id), now)


def order_something(actor: Actor, random: Random, until: datetime | None, now: datetime) -> None:
    """Keep a door open or shut, or let it go again."""
    door_id = random.choice(list(Door.objects.values_list("id", flat=True)))
    if random.random() < 0.5:
        end_order(actor, door_id, now)
    else:
        order_door(actor, door_id, random.choice([*Ordered]), until, "law", now)


def order_that_holds(door_id: int, orders: list[DoorOrder], at: datetime) -> str:
    """Return what is ordered of a door: ``open``, ``shut`` or nothing."""
    for order in orders:
        is_over = order.ended_at or (order.until and at >= order.until)
        if order.door_id == door_id and not is_over:
            return str(order.kind)
    return ""

"""Keep a door open or shut, unlock it once, let in whoever asks there; end what was ordered."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.db import transaction

from cadrin.core.doors.passing import Happening
from cadrin.core.doors.rules import Ordered
from cadrin.core.doors.standing import Stands, after_telling
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.given_reason import reason_given
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery, tell_controllers
from cadrin.outbox.subjects import Subject
from cadrin.sites.models import Door, DoorAct, DoorNow, DoorOrder
from cadrin.sites.scoping import doors_seen

DOOR = "door"
ACTS_STAY = timedelta(days=1)
ACTS_LAST = timedelta(seconds=10)
"""What was not done by then is not done any more: nobody stands there now."""


def door_to_act_on(actor: Actor, door_id: int) -> Door:
    """Raises NotFound, for one that is out of the actor's reach as well, or NotPermitted."""
    actor.require(Permission.DOORS)
    door = Door.objects.filter(doors_seen(actor.scope), pk=door_id).first()
    if door is None:
        raise NotFound.of("door.not_found")
    return door


@transaction.atomic
def act_at_door(actor: Actor, door_id: int, kind: DoorAct.Kind, at: datetime) -> int:
    """Unlock a door once, or let in whoever asks there, as soon as its controller is told; give the id
    of the act, by which its outcome is asked. Raises NotFound or NotPermitted.
    """
    door = door_to_act_on(actor, door_id)
    act = DoorAct.objects.create(door=door, kind=kind, at=at)
    action = "door.unlocked_once" if kind is DoorAct.Kind.RELEASE else "door.let_in"
    about = (About(DOOR, door.pk),)
    record(actor, at, [Act(action, about, {"name": (door.name, door.name)})])
    mark_for_delivery(Subject.DOOR, [door.pk], is_withdrawal=True)
    return act.pk


def acts_for(controller_id: int, at: datetime) -> list[DoorAct]:
    """Return what a controller is to do at its doors now; what is too old is written off."""
    waiting = DoorAct.objects.filter(
        outcome=DoorAct.Outcome.WAITING, door__controller=controller_id
    )
    acts = list(waiting.order_by("id"))
    late = [act.pk for act in acts if act.at < at - ACTS_LAST]
    if late:
        with transaction.atomic():  # in its turn: others write too
            DoorAct.objects.filter(pk__in=late).update(outcome=DoorAct.Outcome.LATE)
    return [act for act in acts if act.pk not in late]


@transaction.atomic
def note_outcome(act: DoorAct, *, is_done: bool) -> None:
    outcome = DoorAct.Outcome.DONE if is_done else DoorAct.Outcome.LATE
    DoorAct.objects.filter(pk=act.pk).update(outcome=outcome)


@transaction.atomic
def order_door(
    actor: Actor, door_id: int, kind: Ordered, until: datetime | None, reason: str, at: datetime
) -> None:
    """Keep a door open or shut, until an instant or until somebody ends it; what was ordered of it
    before ends. Raises Invalid, NotFound or NotPermitted.
    """
    door = door_to_act_on(actor, door_id)
    if until is not None and until <= at:
        raise Invalid.of("order.ends_before_it_begins", "until")
    told = reason_given(reason)
    own = DoorOrder.objects.filter(door=door, release=None, ended_at=None)
    own.update(ended_at=at)
    DoorOrder.objects.create(
        door=door, kind=kind.value, until=until, reason=told, ordered_by=actor.name, at=at
    )
    changes = {
        "name": (door.name, door.name),
        "ordered": (None, kind.value),
        "until": (None, until.isoformat() if until else None),
        "reason": (None, told),
    }
    record(actor, at, [Act("door.ordered", (About(DOOR, door.pk),), changes)])
    tell_controllers(at_once=True)


@transaction.atomic
def end_order(actor: Actor, door_id: int, at: datetime) -> None:
    """Let a door go by its own rules again. An emergency is ended for all its doors together.

    Raises Invalid where nothing is ordered of it, NotFound or NotPermitted.
    """
    door = door_to_act_on(actor, door_id)
    own = DoorOrder.objects.filter(door=door, release=None, ended_at=None)
    if not (ended := [order.kind for order in own]):
        raise Invalid.of("order.none", None)
    own.update(ended_at=at)
    changes = {"name": (door.name, door.name), "ordered": (ended[0], None)}
    record(actor, at, [Act("door.order_ended", (About(DOOR, door.pk),), changes)])
    tell_controllers(at_once=True)


def end_orders_over(at: datetime) -> int:
    """Note the orders whose time is over, and say how many; controllers knew it by themselves. Acts at
    doors are forgotten after a day: what was done is in the journal.
    """
    with transaction.atomic():
        DoorAct.objects.filter(at__lt=at - ACTS_STAY).delete()
        over = DoorOrder.objects.filter(ended_at=None, until__lte=at)
        count = over.update(ended_at=at)
        if count:
            tell_controllers()
    return count


def note_happenings(happenings: Iterable[tuple[int, Happening, datetime]]) -> None:
    """Write down how doors stand, as their controllers told: what comes later counts."""
    for door_id, happening, at in happenings:
        if not Door.objects.filter(pk=door_id).exists():
            continue
        now = DoorNow.objects.filter(door_id=door_id).first()
        alarm = Happening(now.alarm) if now and now.alarm else None
        stands = after_telling(Stands(now.is_open, now.at, alarm) if now else None, happening, at)
        if stands is not None:
            kept = {"is_open": stands.is_open, "at": stands.at, "alarm": stands.alarm or ""}
            DoorNow.objects.update_or_create(door_id=door_id, defaults=kept)

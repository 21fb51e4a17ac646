"""What an operator can do about a controller."""

from datetime import datetime

from django.db import transaction

from cadrin.core.errors import Invalid
from cadrin.core.records.states import RecordState
from cadrin.delivery.models import Link, Record
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.sites.queries import get_controller

CONTROLLER = "controller"


@transaction.atomic
def set_clock(actor: Actor, controller_id: int, at: datetime) -> None:
    """Have a controller's clock set right, as soon as it answers. Raises NotFound or NotPermitted."""
    actor.require(Permission.DELIVER)
    controller = get_controller(actor, controller_id)
    Link.objects.filter(controller=controller).update(must_set_clock=True)
    mark_for_delivery(Subject.CONTROLLER, [controller.pk])
    changes = {"name": (controller.name, controller.name)}
    record(actor, at, [Act("controller.clock_set", (About(CONTROLLER, controller.pk),), changes)])


@transaction.atomic
def keep_clock(actor: Actor, controller_id: int, is_kept: bool, at: datetime) -> None:
    """Decide whether a controller's clock is set right whenever it is off. Raises NotFound or
    NotPermitted.
    """
    actor.require(Permission.DELIVER)
    controller = get_controller(actor, controller_id)
    mine = Link.objects.filter(controller=controller).exclude(is_clock_kept=is_kept)
    if not mine.update(is_clock_kept=is_kept):
        return
    mark_for_delivery(Subject.CONTROLLER, [controller.pk])
    changes = {"name": (controller.name, controller.name), "is_clock_kept": (not is_kept, is_kept)}
    record(actor, at, [Act("controller.changed", (About(CONTROLLER, controller.pk),), changes)])


@transaction.atomic
def set_sending(
    actor: Actor, controller_id: int, *, is_paused: bool, schedule_id: int | None, at: datetime
) -> None:
    """Hold back what people gain at a controller: while it is paused, and outside of the hours of a
    schedule. What is taken away goes at once all the same.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.DELIVER)
    controller = get_controller(actor, controller_id)
    link, _ = Link.objects.get_or_create(controller=controller)
    names = names_of("schedule", filter(None, (schedule_id, link.sends_by_id)))
    if schedule_id is not None and schedule_id not in names:
        raise Invalid.of("input.no_longer_there", "schedule")
    changes = {
        field: (before, after)
        for field, before, after in (
            ("is_paused", link.is_paused, is_paused),
            ("sends_by", names.get(link.sends_by_id or 0), names.get(schedule_id or 0)),
        )
        if before != after
    }
    if not changes:
        return
    Link.objects.filter(pk=link.pk).update(is_paused=is_paused, sends_by=schedule_id)
    mark_for_delivery(Subject.CONTROLLER, [controller.pk])
    told = {"name": (controller.name, controller.name), **changes}
    record(actor, at, [Act("controller.changed", (About(CONTROLLER, controller.pk),), told)])


@transaction.atomic
def check_controller(actor: Actor, controller_id: int, at: datetime) -> None:
    """Work out anew what a controller should hold, compare it with what it holds, and try again
    what it refused.

    Raises NotFound or NotPermitted.
    """
    actor.require(Permission.DELIVER)
    controller = get_controller(actor, controller_id)
    refused = Record.objects.filter(controller=controller, state=RecordState.REFUSED)
    count = refused.update(state=RecordState.WAITING, refusal="", changed_at=at)
    Link.objects.filter(controller=controller).update(must_compare=True)
    mark_for_delivery(Subject.CONTROLLER, [controller.pk])
    changes = {"name": (controller.name, controller.name), "tried_again": (None, count)}
    record(actor, at, [Act("controller.checked", (About(CONTROLLER, controller.pk),), changes)])

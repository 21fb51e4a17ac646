"""What an operator can do about a controller."""

from datetime import datetime

from django.db import transaction

from cadrin.core.records.states import RecordState
from cadrin.delivery.models import Link, Record
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.sites.queries import get_controller

CONTROLLER = "controller"


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

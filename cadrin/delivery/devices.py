"""Take in a controller that was found, put another in its place, and take one out of use."""

from datetime import datetime

from django.db import transaction

from cadrin.access.meeting import first_who_meet
from cadrin.core.errors import Invalid
from cadrin.delivery.finding import claim
from cadrin.delivery.models import FoundPerson, Record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.sites.commands.controllers import (
    ControllerDraft,
    add_controller,
    get_any_controller,
    new_key,
    put_another,
    refuse,
    retire_controller,
    save_controller,
)
from cadrin.sites.commands.keeping import refuse_stale
from cadrin.sites.queries import doors_of_controller


def take_in(actor: Actor, draft: ControllerDraft, at: datetime) -> int:
    """Give a controller its key, and take it in with its readers. Raises Invalid or NotPermitted."""
    actor.require(Permission.SET_UP)
    # before it is spoken to: a key that nobody keeps would shut it to everybody
    refuse(None, draft)
    key = new_key()
    plugs = claim(draft.address.strip(), key)
    return add_controller(actor, draft, key, plugs, at)


def replace_controller(
    actor: Actor, controller_id: int, address: str, version: int, at: datetime
) -> None:
    """Put another device in the place of a controller: the same doors, everything is sent anew.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    controller = get_any_controller(controller_id)
    refuse_stale("controller", controller, version)
    draft = ControllerDraft(controller.name, address.strip(), version)
    if draft.address == controller.address:
        raise Invalid.of("controller.the_same", "address")
    refuse(controller_id, draft)
    key = new_key()
    plugs = claim(draft.address, key)
    put_another(actor, controller_id, draft.address, key, plugs, at)


def save_device(actor: Actor, controller_id: int, draft: ControllerDraft, at: datetime) -> None:
    """Save a controller. One may be said to know one access group of each cardholder at a door only
    where nobody has two. Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    if draft.knows_one_group and (met := first_who_meet(doors_of_controller(controller_id))):
        raise Invalid([met])
    save_controller(actor, controller_id, draft, at)


@transaction.atomic
def take_out_of_use(actor: Actor, controller_id: int, at: datetime) -> None:
    """Speak to a controller no more, and forget what it should hold. Raises Invalid, NotFound or
    NotPermitted.
    """
    retire_controller(actor, controller_id, at)
    # its line may be in the midst of a round: what it writes down about the line has its place still
    for kept in (Record, FoundPerson):
        kept._default_manager.filter(controller=controller_id).delete()

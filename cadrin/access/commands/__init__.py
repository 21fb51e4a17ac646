"""Write groups, schedules, memberships, and a cardholder's whole file."""

import secrets
from collections.abc import Iterable

from cadrin.access.models import PlanVersion
from cadrin.cards.settings import has_pin_keys, pin_keys
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.models import Subject


def move_plan_version() -> None:
    """Say that what is kept of the plan is no longer true. Call it within the transaction of the change."""
    PlanVersion.objects.update_or_create(pk=1, defaults={"token": secrets.token_hex(8)})


def tell_controllers(with_their_people: Iterable[int] = ()) -> None:
    """Say that formats, readers or the rule for PINs changed: every controller is sent them anew.

    ``with_their_people`` are the controllers at which cardholders' own records change by it.
    """
    move_plan_version()
    # the plan of every controller is worked out anew with any mark of a group
    mark_for_delivery(Subject.GROUP, [0])
    mark_for_delivery(Subject.CONTROLLER, with_their_people)


def make_ready_for_pins() -> None:
    """Make the keys by which controllers know PINs, before the first is set."""
    if not has_pin_keys():
        pin_keys()
        tell_controllers()

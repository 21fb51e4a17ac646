"""PINs for many at once: made up together, sealed, and opened once."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.errors import Invalid
from cadrin.core.validity import Standing
from cadrin.credentials.matching import has_pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.sealed_lists import keep_pin_list, kept_pin_lists, take_pin_list
from cadrin.enrolment.commands.cardholders import save_many
from cadrin.enrolment.draft import Wanted
from cadrin.enrolment.queries import drafts_for
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.people.lists import departments_below
from cadrin.people.queries import rules
from cadrin.people.scoping import people_seen

PIN_LIST = "pin_list"
MOST_IN_A_LIST = 500


class ListedPin(NamedTuple):
    """One line of an opened list."""

    number: str
    name: str
    digits: str


def people_without_pin(actor: Actor, department_id: int | None) -> list[int]:
    """Return those of a department and below whom the actor may see and who have no PIN, at most as
    many as fit.
    """
    found = people_seen(actor).filter(~has_pin(), erased_at=None)
    found = found.exclude(standing=Standing.DEPARTED)
    if department_id is not None:
        found = found.filter(department_id__in=departments_below(department_id))
    return list(found.order_by("number_key").values_list("id", flat=True)[:MOST_IN_A_LIST])


@transaction.atomic
def make_pin_list(actor: Actor, cardholder_ids: Sequence[int], at: datetime) -> int:
    """Make up a PIN for everybody here who has none, and give the sealed list of them; those with
    one are left alone.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.ISSUE)
    if len(cardholder_ids) > MOST_IN_A_LIST:
        raise Invalid.of("input.too_many", "people", most=MOST_IN_A_LIST)
    register_rules = rules()
    wanted = [
        Wanted(id_, replace(draft, pins=(PinDraft(is_generated=True),)))
        for id_, draft in drafts_for(actor, cardholder_ids, register_rules).items()
        if not draft.pins
    ]
    if not wanted:
        raise Invalid.of("pin.all_have_one", "people")
    lines = [
        ListedPin(
            item.draft.details.number,
            item.draft.details.shown(register_rules.names),
            saved.shown_pins[0].digits,
        )
        for item, saved in zip(wanted, save_many(actor, wanted, at), strict=True)
    ]
    list_id = keep_pin_list(actor, [list(line) for line in lines], at)
    record(
        actor,
        at,
        [Act("pin_list.made", (About(PIN_LIST, list_id),), {"people": (None, len(lines))})],
    )
    return list_id


def pin_lists(actor: Actor) -> Rows:
    """Return the lists that the actor may open, or opened: their own, and all of them to whoever
    sees the whole house.
    """
    return kept_pin_lists(actor)


@transaction.atomic
def open_pin_list(actor: Actor, list_id: int, at: datetime) -> list[ListedPin]:
    """Open a sealed list, once: what was in it is then nowhere any more. Raises Invalid, NotFound
    or NotPermitted.
    """
    actor.require(Permission.ISSUE)
    lines = take_pin_list(actor, list_id, at)
    record(
        actor,
        at,
        [Act("pin_list.opened", (About(PIN_LIST, list_id),), {"people": (None, len(lines))})],
    )
    return [ListedPin(*line) for line in lines]

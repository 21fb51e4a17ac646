"""PINs for many at once: made up together, sealed, and opened once."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any, NamedTuple

import orjson
from django.db import transaction

from cadrin.core.errors import Invalid, NotFound
from cadrin.core.validity import Standing
from cadrin.credentials.models import PinList
from cadrin.credentials.pin_draft import PinDraft
from cadrin.enrolment.commands.cardholders import save_many
from cadrin.enrolment.draft import Wanted
from cadrin.enrolment.queries import drafts_for
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal, unseal
from cadrin.outbox.rows import Rows
from cadrin.people.lists import departments_below
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.people.scoping import seen_by

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
    found = Cardholder.objects.filter(seen_by(actor), pins=None, erased_at=None).exclude(
        standing=Standing.DEPARTED
    )
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
            one.draft.details.number,
            one.draft.details.shown(register_rules.names),
            saved.shown_pins[0].digits,
        )
        for one, saved in zip(wanted, save_many(actor, wanted, at), strict=True)
    ]
    made = PinList.objects.create(
        made_at=at,
        made_by=actor.name,
        operator_id=actor.operator_id,
        count=len(lines),
        sealed=seal(orjson.dumps([list(line) for line in lines]).decode()),
    )
    record(
        actor,
        at,
        [Act("pin_list.made", (About(PIN_LIST, made.pk),), {"people": (None, len(lines))})],
    )
    return made.pk


def pin_lists(actor: Actor) -> Rows:
    """Return the lists that the actor may open, or opened: their own, and all of them to whoever
    sees the whole house.
    """
    found = PinList.objects.order_by("-id")
    if not actor.scope.is_whole:
        found = found.filter(operator_id=actor.operator_id or 0)
    return list(found.values("id", "made_at", "made_by", "count", "opened_at")[:50])


@transaction.atomic
def open_pin_list(actor: Actor, list_id: int, at: datetime) -> list[ListedPin]:
    """Open a sealed list, once: what was in it is then nowhere any more. Raises Invalid, NotFound
    or NotPermitted.
    """
    actor.require(Permission.ISSUE)
    found = PinList.objects.filter(
        pk__in=[row["id"] for row in pin_lists(actor)], pk=list_id
    ).first()
    if found is None:
        raise NotFound.of("pin_list.not_found")
    if found.opened_at or not found.sealed:
        raise Invalid.of("pin_list.opened", None)
    lines: list[list[Any]] = orjson.loads(unseal(found.sealed))
    found.sealed, found.opened_at = "", at
    found.save(update_fields=["sealed", "opened_at"])
    record(
        actor,
        at,
        [Act("pin_list.opened", (About(PIN_LIST, found.pk),), {"people": (None, found.count)})],
    )
    return [ListedPin(*line) for line in lines]

"""Keep what operators typed and did not save, each their own."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import QuerySet

from cadrin.core.errors import NotFound
from cadrin.enrolment.models import KeptDraft
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.people.scoping import only_seen

SECRET_IN_PINS = ("entry", "again", "typed")
LONGEST_KEY = 40
MOST_OF_NEW = 100
"""Drafts of somebody new that are kept for an operator; of more, those typed longest ago go."""


class Whose(NamedTuple):
    """Whose draft it is: a cardholder's, or with a key that of somebody new."""

    cardholder_id: int | None
    key: str = ""


class TypedDraft(NamedTuple):
    """A draft, and the file as it was when it was begun, as the page has them."""

    name: str
    base: Mapping[str, Any]
    draft: Mapping[str, Any]


def drafts_of(actor: Actor) -> list[KeptDraft]:
    """Return an operator's drafts, the newest first, of people they still may see."""
    kept = list(KeptDraft.objects.filter(operator_id=actor.operator_id or 0).order_by("-typed_at"))
    seen = only_seen(actor, [draft.cardholder_id for draft in kept if draft.cardholder_id])
    return [draft for draft in kept if draft.cardholder_id is None or draft.cardholder_id in seen]


def draft_for(actor: Actor, whose: Whose) -> KeptDraft | None:
    """Return an operator's draft, if there is one. Raises NotFound for somebody out of reach."""
    if whose.cardholder_id is not None:
        get_cardholder(actor, whose.cardholder_id)
    return _own(actor, whose).first()


@transaction.atomic
def keep_draft(actor: Actor, whose: Whose, typed: TypedDraft, at: datetime) -> None:
    """Keep a draft in place of an older one; never the digits of a PIN. Raises NotFound."""
    if actor.operator_id is None or len(whose.key) > LONGEST_KEY:
        raise NotFound.of("draft.not_found")
    kept = draft_for(actor, whose) or KeptDraft(operator_id=actor.operator_id, **whose._asdict())
    kept.name, kept.base, kept.draft, kept.typed_at = (
        typed.name,
        typed.base,
        without_digits(typed.draft),
        at,
    )
    kept.save()
    of_new = KeptDraft.objects.filter(operator_id=actor.operator_id, cardholder=None)
    too_many = of_new.order_by("-typed_at", "-id").values_list("id", flat=True)[MOST_OF_NEW:]
    of_new.filter(id__in=list(too_many)).delete()


def drop_draft(actor: Actor, whose: Whose) -> None:
    """Forget a draft; one that is not there is no error."""
    _own(actor, whose).delete()


def _own(actor: Actor, whose: Whose) -> QuerySet[KeptDraft]:
    own = KeptDraft.objects.filter(operator_id=actor.operator_id or 0)
    return (
        own.filter(cardholder=None, key=whose.key)
        if whose.cardholder_id is None
        else own.filter(cardholder_id=whose.cardholder_id)
    )


def drop_drafts_of(cardholder_id: int) -> None:
    """Forget everybody's drafts of a cardholder. Call it within the transaction that
    erases them.
    """
    KeptDraft.objects.filter(cardholder_id=cardholder_id).delete()


def without_digits(draft: Mapping[str, Any]) -> dict[str, Any]:
    """Return a draft without anything that was typed for a PIN."""
    pins = draft.get("pins")
    if not isinstance(pins, list):
        return {name: value for name, value in draft.items() if name != "pins"}
    kept = [
        {name: value for name, value in pin.items() if name not in SECRET_IN_PINS}
        for pin in pins
        if isinstance(pin, dict)
    ]
    return {
        **draft,
        "pins": [pin for pin in kept if pin.get("id") is not None or pin.get("is_generated")],
    }

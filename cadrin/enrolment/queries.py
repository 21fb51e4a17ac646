"""Read cardholders with everything that is theirs, as far as an actor may see it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from cadrin.access.commands.memberships import memberships_of
from cadrin.access.scoping import group_ids_hidden
from cadrin.biometrics.queries import biometrics_of
from cadrin.core.people.details import RegisterRules
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.pins import pins_of
from cadrin.credentials.plates import plates_of
from cadrin.credentials.queries import cards_of
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.details import details_of
from cadrin.people.queries import get_cardholders
from cadrin.photos.commands import images_of

if TYPE_CHECKING:
    from cadrin.people.models import Cardholder


def stored_cardholder(cardholder: Cardholder, register_rules: RegisterRules) -> CardholderDraft:
    """Return a cardholder with everything that is theirs, as it is stored."""
    return stored_cardholders([cardholder], register_rules)[cardholder.pk]


def stored_cardholders(
    cardholders: Sequence[Cardholder], register_rules: RegisterRules
) -> dict[int, CardholderDraft]:
    """Return cardholders with everything that is theirs, as it is stored, by id."""
    ids = [cardholder.pk for cardholder in cardholders]
    cards, memberships, images = cards_of(ids), memberships_of(ids), images_of(ids)
    pins, plates, biometrics = pins_of(ids), plates_of(ids), biometrics_of(ids)
    return {
        cardholder.pk: CardholderDraft(
            details_of(cardholder, register_rules),
            cards[cardholder.pk],
            memberships[cardholder.pk],
            cardholder.version,
            images[cardholder.pk],
            tuple(
                PinDraft(pin.pk, pin.label, pin.opens_alone, expiry_at=pin.expiry_at)
                for pin in pins[cardholder.pk]
            ),
            plates[cardholder.pk],
            biometrics[cardholder.pk],
        )
        for cardholder in cardholders
    }


def cardholder_for(
    actor: Actor, cardholder: Cardholder, register_rules: RegisterRules
) -> CardholderDraft:
    """Return a cardholder as far as the actor may see them."""
    return _as_seen(actor, [cardholder], register_rules)[cardholder.pk]


def drafts_for(
    actor: Actor, cardholder_ids: Iterable[int], register_rules: RegisterRules
) -> dict[int, CardholderDraft]:
    """Return cardholders as far as the actor may see them, by id and in order. Raises NotFound."""
    return _as_seen(actor, get_cardholders(actor, cardholder_ids), register_rules)


def _as_seen(
    actor: Actor, cardholders: Sequence[Cardholder], register_rules: RegisterRules
) -> dict[int, CardholderDraft]:
    hidden = group_ids_hidden(actor)
    sees_birth_dates = Permission.BIRTH_DATES in actor.permissions

    def as_seen(draft: CardholderDraft) -> CardholderDraft:
        details = draft.details if sees_birth_dates else replace(draft.details, born_on=None)
        memberships = tuple(m for m in draft.memberships if m.group_id not in hidden)
        return replace(draft, details=details, memberships=memberships)

    stored = stored_cardholders(cardholders, register_rules)
    return {id_: as_seen(draft) for id_, draft in stored.items()}


def with_what_is_hidden(actor: Actor, wanted: Sequence[Wanted]) -> list[Wanted]:
    """Return what is wanted together with what the actor could not see, and so cannot have meant to
    take away.
    """
    hidden = group_ids_hidden(actor)
    if not hidden:
        return list(wanted)
    kept = memberships_of((item.holder_id for item in wanted), among=hidden)
    return [
        item._replace(
            draft=replace(item.draft, memberships=(*item.draft.memberships, *kept[item.holder_id]))
        )
        for item in wanted
    ]

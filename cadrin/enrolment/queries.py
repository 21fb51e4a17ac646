"""Read a cardholder with everything that is theirs, as far as an actor may see it."""

from dataclasses import replace

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Membership
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.people.details import RegisterRules
from cadrin.credentials.commands.cards import (
    draft_of,
)
from cadrin.credentials.models import Card
from cadrin.credentials.pins import (
    PinDraft,
    pins_of,
)
from cadrin.credentials.plates import plates_of
from cadrin.enrolment.draft import CardholderDraft
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.cardholders import (
    details_of,
)
from cadrin.people.models import Cardholder
from cadrin.photos.commands import images_of


def stored_cardholder(cardholder: Cardholder, register_rules: RegisterRules) -> CardholderDraft:
    """Return a cardholder's file as it is stored."""
    cards = Card.objects.filter(holder=cardholder).order_by("id")
    memberships = Membership.objects.filter(cardholder=cardholder).order_by("id")
    return CardholderDraft(
        details_of(cardholder, register_rules),
        tuple(map(draft_of, cards)),
        tuple(MembershipDraft(m.group_id, m.activation_at, m.expiry_at) for m in memberships),
        cardholder.version,
        images_of(cardholder.pk),
        tuple(PinDraft(pin.pk, pin.label, pin.opens_alone) for pin in pins_of(cardholder.pk)),
        plates_of(cardholder.pk),
    )


def cardholder_for(
    actor: Actor, cardholder: Cardholder, register_rules: RegisterRules
) -> CardholderDraft:
    """Return a cardholder's file as far as the actor may see it."""
    file = stored_cardholder(cardholder, register_rules)
    if Permission.BIRTH_DATES not in actor.permissions:
        file = replace(file, details=replace(file.details, born_on=None))
    hidden = group_ids_hidden(actor)
    return replace(
        file, memberships=tuple(one for one in file.memberships if one.group_id not in hidden)
    )


def with_what_is_hidden(
    actor: Actor, cardholder_id: int | None, draft: CardholderDraft
) -> CardholderDraft:
    """Return a draft together with what the actor could not see, and so cannot have meant to take
    away.
    """
    hidden = group_ids_hidden(actor)
    if not hidden or cardholder_id is None:
        return draft
    kept = Membership.objects.filter(cardholder_id=cardholder_id, group_id__in=hidden).order_by(
        "id"
    )
    more = (MembershipDraft(m.group_id, m.activation_at, m.expiry_at) for m in kept)
    return replace(draft, memberships=(*draft.memberships, *more))

"""What happens to single cards at once: a reception suspends one, and temporary ones go back at
night.
"""

from dataclasses import replace
from datetime import datetime

from django.db import transaction
from django.db.models import F

from cadrin.core.credentials.card.life import ALIVE, CardStatus
from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.commands.cards import CardDraft, set_cards
from cadrin.credentials.models import Card
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.commands import record
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import CARDHOLDER, set_terms
from cadrin.people.models import Cardholder
from cadrin.people.queries import get_cardholder, rules

CardIdentity = tuple[int, int, int]
"""Format, facility code and card number."""


@transaction.atomic
def suspend_card(actor: Actor, cardholder_id: int, identity: CardIdentity, at: datetime) -> None:
    """Suspend a cardholder's card, whatever else is being changed about them meanwhile.

    Raises Invalid when it is not issued just now, NotFound or NotPermitted.
    """
    actor.require(Permission.SUSPEND)
    cardholder = get_cardholder(actor, cardholder_id)
    cards = stored_cardholder(cardholder, rules()).cards
    if identity not in [card.identity for card in cards]:
        raise NotFound.of("card.not_found")
    after = tuple(
        replace(card, status=CardStatus.SUSPENDED)
        if card.identity == identity and card.status is CardStatus.ISSUED
        else card
        for card in cards
    )
    if after == cards:
        raise Invalid.of("card.not_issued")
    acts = set_cards(cardholder.pk, after, cardholder.version + 1, CARDHOLDER, at)
    Cardholder.objects.filter(pk=cardholder.pk).update(version=F("version") + 1)
    record(actor, at, acts)
    mark_for_delivery(Subject.CARDHOLDER, [cardholder.pk], is_withdrawal=True)


@transaction.atomic
def return_temporary_cards(at: datetime) -> int:
    """Return every temporary card whose day is over to stock, and give how many: the house itself
    does it.

    One that was reported lost or stolen meanwhile has not come back: it stays on the file, so that
    doors know it.
    """
    over = Card.objects.filter(
        is_temporary=True, expiry_at__lte=at, status__in=[status.value for status in ALIVE]
    )
    holder_ids = list(over.values_list("holder_id", flat=True).distinct())
    for cardholder in Cardholder.objects.filter(pk__in=holder_ids):
        cards = stored_cardholder(cardholder, rules()).cards
        kept = tuple(one for one in cards if not _is_over(one, at))
        acts = set_cards(cardholder.pk, kept, cardholder.version + 1, CARDHOLDER, at)
        Cardholder.objects.filter(pk=cardholder.pk).update(version=F("version") + 1)
        set_terms(cardholder.pk, "card", {str(card.card_number) for card in kept})
        record(system_actor("Cadrin"), at, acts)
        mark_for_delivery(Subject.CARDHOLDER, [cardholder.pk], is_withdrawal=True)
    return len(holder_ids)


def _is_over(card: CardDraft, at: datetime) -> bool:
    return (
        card.is_temporary
        and card.status in ALIVE
        and card.expiry_at is not None
        and card.expiry_at <= at
    )

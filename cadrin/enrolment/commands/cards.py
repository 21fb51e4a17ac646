"""What happens to single cards at once: a reception suspends one, and temporary ones go back at
night.
"""

from dataclasses import replace
from datetime import datetime

from django.db import transaction

from cadrin.core.credentials.card.life import ALIVE, CardStatus
from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.card_draft import CardDraft, CardIdentity
from cadrin.credentials.queries import cards_of, holders_of_temporary_cards_over
from cadrin.enrolment.writer import Writing, write
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import by_id, get_cardholder


@transaction.atomic
def suspend_card(actor: Actor, cardholder_id: int, identity: CardIdentity, at: datetime) -> None:
    """Suspend a cardholder's card, whatever else is being changed about them meanwhile.

    Raises Invalid when it is not issued just now, NotFound or NotPermitted.
    """
    actor.require(Permission.SUSPEND)
    cardholder = get_cardholder(actor, cardholder_id)
    cards = cards_of([cardholder.pk])[cardholder.pk]
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
    write(actor, [Writing(cardholder, cards=after)], at)


@transaction.atomic
def return_temporary_cards(at: datetime) -> int:
    """Return every temporary card whose day is over to stock, and give how many had one: the house
    itself does it.

    One that was reported lost or stolen meanwhile has not come back: it stays its holder's, so that
    doors know it.
    """
    holders = by_id(holders_of_temporary_cards_over(at))
    cards = cards_of(holders)
    write(
        system_actor("Cadrin"),
        [
            Writing(
                holder, cards=tuple(card for card in cards[holder.pk] if not _is_over(card, at))
            )
            for holder in holders.values()
        ],
        at,
    )
    return len(holders)


def _is_over(card: CardDraft, at: datetime) -> bool:
    return (
        card.is_temporary
        and card.status in ALIVE
        and card.expiry_at is not None
        and card.expiry_at <= at
    )

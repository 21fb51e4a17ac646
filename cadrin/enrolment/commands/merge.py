"""Merge two records of one human being into one, keeping both histories."""

from dataclasses import replace
from datetime import datetime

from django.db import transaction

from cadrin.access.commands.memberships import set_memberships
from cadrin.activity.commands.handing_over import hand_over_reads
from cadrin.biometrics.commands import hand_over_biometrics
from cadrin.core.errors import Invalid
from cadrin.core.people.names import terms_of_cards
from cadrin.credentials.commands.handing_over import hand_over_credentials
from cadrin.credentials.queries import cards_of
from cadrin.enrolment.commands.cardholders import save_counted
from cadrin.enrolment.commands.refused_pins import counting_refused_pins
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.journal.commands import HANDED_OVER, About, Act, hand_over, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import lock_cardholder, move_versions
from cadrin.people.commands.details import forget_custom_keys_of
from cadrin.people.commands.parts import CARDHOLDER, Part
from cadrin.people.commands.terms import CARD, set_terms
from cadrin.photos.commands import hand_over_images


def merge_cardholders(
    actor: Actor,
    cardholder_id: int,
    draft: CardholderDraft,
    other_id: int,
    other_version: int,
    at: datetime,
) -> None:
    """Save the file that two records shall be, under the one; the other is gone, its history and
    reads handed over.

    ``draft`` may hold cards, memberships and images of both. PINs of the other are gone: nobody can
    say which of two somebody remembers. Raises Invalid, Stale, NotFound or NotPermitted.
    """
    with counting_refused_pins(actor, draft.pins, at):
        _merge(actor, cardholder_id, draft, other_id, other_version, at)


@transaction.atomic
def _merge(
    actor: Actor,
    cardholder_id: int,
    draft: CardholderDraft,
    other_id: int,
    other_version: int,
    at: datetime,
) -> None:
    actor.require(Permission.EDIT)
    if other_id == cardholder_id:
        raise Invalid.of("merge.same")
    lock_cardholder(actor, cardholder_id, draft.version)
    other = lock_cardholder(actor, other_id, other_version)
    gone = {"number": (other.number, None), "name": (other.display_name, None)}
    # what was the other's is the one's before the file is weighed: a card is not taken from itself
    hand_over_biometrics(other_id, cardholder_id)
    labels_of_gone_pins = hand_over_credentials(other_id, cardholder_id)
    hand_over_images(other_id, cardholder_id)
    # those that stay are in the draft, and in the journal with it
    set_memberships([Part(other_id, (), other_version)])
    forget_custom_keys_of(other_id)
    hand_over_reads(other_id, cardholder_id)
    hand_over(CARDHOLDER, other_id, cardholder_id)
    gone_pins = [
        Act("pin.removed", (About(CARDHOLDER, cardholder_id),), {"label": (label, None)})
        for label in labels_of_gone_pins
    ]
    handed_over = {HANDED_OVER: (other_id, cardholder_id)}
    other.delete()
    version = draft.version + 1
    merged = Act(
        "cardholder.merged", (About(CARDHOLDER, cardholder_id, version),), gone, handed_over
    )
    record(actor, at, [merged, *gone_pins])
    move_versions([cardholder_id])
    save_counted(
        actor, [Wanted(cardholder_id, replace(draft, version=version, biometrics=None))], at
    )
    cards = (
        (card.facility_code, card.card_number) for card in cards_of([cardholder_id])[cardholder_id]
    )
    set_terms(CARD, {cardholder_id: terms_of_cards(cards)})
    mark_for_delivery(Subject.CARDHOLDER, [cardholder_id, other_id], is_withdrawal=True)

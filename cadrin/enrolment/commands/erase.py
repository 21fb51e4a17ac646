"""Erase a cardholder: personal details and images go for good; reads and journal stay under the
number alone.
"""

from datetime import datetime

from django.db import transaction

from cadrin.activity.commands.handing_over import rename_in_reads
from cadrin.biometrics.commands import forget_biometrics_of
from cadrin.core.errors import Invalid
from cadrin.core.people.details import Details
from cadrin.core.people.names import terms_of
from cadrin.core.validity import Standing
from cadrin.credentials.commands.handing_over import forget_credentials_of
from cadrin.enrolment.commands.drafts import drop_drafts_of
from cadrin.enrolment.writer import Writing, write
from cadrin.journal.commands import About, Act, record, redact
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.cardholders import lock_cardholder
from cadrin.people.commands.details import FIELDS, forget_custom_keys_of
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.commands.terms import PERSON, set_terms
from cadrin.photos.commands import remove_images_of

SHORTEST_REASON = 5
IMPERSONAL = frozenset(
    {
        "number",
        "department",
        "department_id",
        "company",
        "company_id",
        "kind",
        "kind_id",
        "standing",
        "suspended_until",
        "activation_at",
        "expiry_at",
        "extended_time",
        "card",
        "identity",
        "status",
        "group",
        "group_id",
        "people",
        "act",
    }
)
"""What entries of the journal keep about somebody who was erased."""


@transaction.atomic
def erase_cardholder(
    actor: Actor, cardholder_id: int, version: int, reason: str, at: datetime
) -> None:
    """Erase a cardholder for good: this cannot be taken back. Their cards are returned, their
    number stays taken.

    Raises Invalid without a reason or when they are erased already, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.ERASE)
    cardholder = lock_cardholder(actor, cardholder_id, version)
    if cardholder.erased_at:
        raise Invalid.of("cardholder.erased")
    if len(reason.strip()) < SHORTEST_REASON:
        raise Invalid.of("erase.needs_reason", "reason", least=SHORTEST_REASON)
    acts = write(actor, [Writing(cardholder, cards=(), memberships=())], at)
    remove_images_of(cardholder_id)
    drop_drafts_of(cardholder_id)
    forget_credentials_of(cardholder_id)
    forget_biometrics_of(cardholder_id)
    forget_custom_keys_of(cardholder_id)
    number = cardholder.number
    nobody = Details(number, standing=Standing.DEPARTED)
    for name in FIELDS:
        setattr(cardholder, name, getattr(nobody, name))
    cardholder.phones, cardholder.own = [], {}
    cardholder.display_name, cardholder.sort_name = number, number
    cardholder.erased_at, cardholder.version = at, version + 1
    cardholder.save()
    set_terms(PERSON, {cardholder_id: terms_of(number)})
    rename_in_reads(cardholder_id, number)
    left = redact(CARDHOLDER, cardholder_id, IMPERSONAL)
    about = (About(CARDHOLDER, cardholder_id, version + 1),)
    record(actor, at, [Act("cardholder.erased", about, {"reason": (None, reason.strip())}, left)])
    if not acts:
        mark_for_delivery(Subject.CARDHOLDER, [cardholder_id], is_withdrawal=True)

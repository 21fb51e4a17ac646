"""Withdraw a consent, and remove what may no longer be kept."""

from datetime import datetime

from django.db import transaction

from cadrin.biometrics.queries import consents_of, holders_to_forget
from cadrin.core.errors import Invalid, NotFound
from cadrin.enrolment.writer import Writing, write
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import by_id, get_cardholder


@transaction.atomic
def withdraw_consent(actor: Actor, cardholder_id: int, consent_id: int, at: datetime) -> None:
    """Withdraw a consent: the templates that rest on it are removed here and at every controller,
    whatever else is being changed about the cardholder meanwhile.

    Raises Invalid when it is withdrawn already, NotFound or NotPermitted.
    """
    actor.require(Permission.BIOMETRICS)
    cardholder = get_cardholder(actor, cardholder_id)
    given = consents_of(cardholder_id)
    if consent_id not in given:
        raise NotFound.of("consent.not_found")
    if given[consent_id] is not None:
        raise Invalid.of("consent.withdrawn_already")
    write(actor, [Writing(cardholder, withdrawn_consents=(consent_id,))], at)


@transaction.atomic
def forget_templates_over(at: datetime) -> int:
    """Remove every template that may no longer be kept, and give of how many cardholders: the house
    itself does it.
    """
    holders = by_id(holders_to_forget(at))
    writings = [Writing(holder, forgets_templates=True) for holder in holders.values()]
    write(system_actor("Cadrin"), writings, at)
    return len(holders)

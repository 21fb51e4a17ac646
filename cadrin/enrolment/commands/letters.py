"""What becomes of PINs that were put into the mail."""

from dataclasses import replace
from datetime import datetime
from typing import Any

from django.db import transaction

from cadrin.credentials.letters import can_be_cancelled, letters_of, pin_in_waiting_letter
from cadrin.enrolment.commands.cardholders import ShownPin, save_and_show
from cadrin.enrolment.queries import cardholder_for
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import get_cardholder, rules


def letters_seen(actor: Actor, cardholder_id: int) -> list[dict[str, Any]]:
    """Return the letters of a cardholder, newest first. Raises NotFound."""
    get_cardholder(actor, cardholder_id)
    return [
        {
            "id": letter.pk,
            "about": letter.about,
            "label": letter.pin.label if letter.pin else "",
            "state": letter.state,
            "made_at": letter.made_at,
            "ended_at": letter.ended_at,
            "tries": letter.tries,
            "failure": letter.failure,
            "can_be_cancelled": can_be_cancelled(letter),
        }
        for letter in letters_of(cardholder_id)
    ]


@transaction.atomic
def cancel_letter(actor: Actor, cardholder_id: int, letter_id: int, at: datetime) -> ShownPin:
    """Cancel a letter that was not sent, and return the PIN that is generated in place of the one
    in it.

    Nobody ever learnt that one, so it is of no use to anybody. Raises Invalid when the letter is
    sent or cancelled already, NotFound or NotPermitted.
    """
    actor.require(Permission.ISSUE)
    cardholder = get_cardholder(actor, cardholder_id)
    pin_id = pin_in_waiting_letter(cardholder_id, letter_id)
    file = cardholder_for(actor, cardholder, rules())
    pins = tuple(replace(pin, is_generated=True) if pin.id == pin_id else pin for pin in file.pins)
    (shown,) = save_and_show(actor, cardholder_id, replace(file, pins=pins), at).shown_pins
    return shown

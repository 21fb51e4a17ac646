"""Take back an act on one cardholder from their history, wherever nothing later stands
against it.
"""

from datetime import datetime

from django.db import transaction

from cadrin.core.errors import NotFound
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.queries import cardholder_for
from cadrin.enrolment.ways_back import WAYS_BACK
from cadrin.journal.queries import find_entry, pairs
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.queries import get_cardholder, rules

CAN_BE_UNDONE = frozenset(WAYS_BACK)
_NEEDED = {"membership": "group_id", "card": "identity"}


@transaction.atomic
def undo(actor: Actor, cardholder_id: int, entry_id: int, at: datetime) -> None:
    """Save the cardholder's file as it was before an act. What it is about must still be as the act
    left it.

    Raises Invalid when it is not, or when the file cannot be saved so; NotFound, or NotPermitted.
    """
    cardholder = get_cardholder(actor, cardholder_id)
    entry = find_entry(entry_id, CARDHOLDER, cardholder_id)
    way_back = WAYS_BACK.get(entry.action) if entry else None
    if entry is None or way_back is None:
        raise NotFound.of("journal.cannot_be_taken_back")
    told = pairs(entry.changes) | pairs(entry.raw)
    needed = _NEEDED.get(entry.action.partition(".")[0])
    if needed and needed not in told:
        # an old entry that does not say which one it was
        raise NotFound.of("journal.cannot_be_taken_back")
    file = cardholder_for(actor, cardholder, rules())
    if Permission.BIRTH_DATES not in actor.permissions and "born_on" in entry.changes:
        raise NotFound.of("journal.cannot_be_taken_back")
    save_cardholder(actor, cardholder_id, way_back(file, told), at)

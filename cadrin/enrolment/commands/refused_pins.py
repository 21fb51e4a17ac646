"""Whoever chooses PINs that are refused, one after the other, may be looking for somebody's: they
are slowed.
"""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import datetime

from django.db import transaction

from cadrin.core.errors import Invalid
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.pin_problems import CHOOSE_ANOTHER
from cadrin.journal.commands import Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.tries import Counted, give_back, take_try

FREE_TRIES = 5
MUST_WAIT = "pin.must_wait"


@contextmanager
def counting_refused_pins(actor: Actor, pins: Iterable[PinDraft], at: datetime) -> Iterator[None]:
    """Count, for the operator, what is refused within this because of a PIN. Raises Invalid while
    they must wait.

    Enter it outside of the transaction that the refusal undoes.
    """
    if not any(pin.entry for pin in pins):
        yield
        return
    tries = (Counted("pin", f"{actor.operator_id} {actor.name}", FREE_TRIES),)
    take_try(tries, at, MUST_WAIT, "pins")
    is_refused = False
    try:
        yield
    except Invalid as refusal:
        is_refused = any(problem.code == CHOOSE_ANOTHER for problem in refusal.problems)
        if is_refused:
            with transaction.atomic():
                record(actor, at, [Act("pin.refused", ())])
        raise
    finally:
        if not is_refused:
            give_back(tries)

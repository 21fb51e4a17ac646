"""Whoever chooses PINs that are refused, one after the other, may be looking for somebody's: they are slowed."""

from collections.abc import Callable, Iterable
from datetime import datetime
from functools import wraps
from typing import ParamSpec, TypeVar

from django.db import transaction

from cadrin.cards.pins import CHOOSE_ANOTHER, PinDraft
from cadrin.core.errors import Invalid
from cadrin.journal.commands import Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.tries import Counted, give_back, take_try

P = ParamSpec("P")
T = TypeVar("T")
FREE_TRIES = 5
MUST_WAIT = "pin.must_wait"


def counting_refused_pins(save: Callable[P, T]) -> Callable[P, T]:
    """Count a command's refused PINs for its operator, outside of the transaction that the refusal undoes.

    The command takes the actor first and the time last, and a draft with ``pins`` between them.
    """

    @wraps(save)
    def counted(*args: P.args, **more: P.kwargs) -> T:
        actor, at = args[0], args[-1]
        assert isinstance(actor, Actor) and isinstance(at, datetime)
        pins: Iterable[PinDraft] = next((part.pins for part in args if hasattr(part, "pins")), ())  # type: ignore[attr-defined]
        if not any(pin.entry for pin in pins):
            return save(*args, **more)
        tries = (Counted("pin", f"{actor.operator_id} {actor.name}", FREE_TRIES),)
        take_try(tries, at, MUST_WAIT, "pins")
        try:
            saved = save(*args, **more)
        except Invalid as refusal:
            if any(problem.code == CHOOSE_ANOTHER for problem in refusal.problems):
                with transaction.atomic():
                    record(actor, at, [Act("pin.refused", ())])
            else:
                give_back(tries)
            raise
        except Exception:
            give_back(tries)
            raise
        give_back(tries)
        return saved

    return counted

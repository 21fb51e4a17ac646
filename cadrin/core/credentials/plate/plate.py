"""A licence plate: how it is written, and as doors know it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Problem
from cadrin.core.people.names import fold
from cadrin.core.validity import ALWAYS, Span

SHORTEST, LONGEST = 2, 12
"""Signs of a licence plate without spaces and hyphens (from memory: no country in use has longer
ones).
"""


def normalized_plate(text: str) -> str:
    """Return a plate as cameras tell it: capital letters and digits alone.

    >>> normalized_plate("sk-04 öab"), normalized_plate(" ")
    ('SK04OAB', '')
    """
    return "".join(sign for sign in fold(text).upper() if sign.isascii() and sign.isalnum())


def problems_with_plate(text: str, field: str = "plate") -> tuple[Problem, ...]:
    """Return what is wrong with a plate as it was typed."""
    if SHORTEST <= len(normalized_plate(text)) <= LONGEST:
        return ()
    return (Problem("plate.length", field, {"shortest": SHORTEST, "longest": LONGEST}),)


@dataclass(frozen=True, slots=True)
class Plate:
    """The licence plate of a cardholder's vehicle, normalized."""

    number: str

    def open_spans(self, span: Span) -> Iterable[Span]:
        """Return the time in which it works; it may reach beyond the span that is asked for."""
        return (ALWAYS,)

    def reason_against(self, at: datetime) -> Reason | None:
        """Return the reason against it at an instant: there is none."""
        return None

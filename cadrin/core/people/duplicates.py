"""The same human being twice: what speaks for two records being one person."""

from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from functools import lru_cache

from rapidfuzz import fuzz

from cadrin.core.people.names import fold, number_key

ALIKE = 86
"""Likeness of names, 0 to 100, from which on they may be one name with a slip; tried on pairs,
Cadrin's own.
"""


class Sign(StrEnum):
    """What two records have in common."""

    NUMBER = "number"
    EMAIL = "email"
    NAME_AND_BIRTH_DATE = "name_and_birth_date"
    NAME_AND_DEPARTMENT = "name_and_department"


@dataclass(frozen=True, slots=True)
class PersonFacts:
    """What is compared."""

    number: str = ""
    first_name: str = ""
    last_name: str = ""
    email: str = ""
    born_on: date | None = None
    department_id: int | None = None


def name_likeness(person: PersonFacts, other: PersonFacts) -> float:
    """Compare names from 0 to 100, whatever their accents, case and order.

    >>> zoe = PersonFacts(first_name="Zoë", last_name="Reve")
    >>> round(name_likeness(zoe, PersonFacts(first_name="REVE", last_name="Zoe")))
    100
    """
    first, second = (_words(one.first_name, one.last_name) for one in (person, other))
    return fuzz.ratio(first, second) if first and second else 0.0


# as one types, the same people are compared again and again
_KEPT = 20_000
_fold, _number_key = lru_cache(_KEPT)(fold), lru_cache(_KEPT)(number_key)


@lru_cache(_KEPT)
def _words(first_name: str, last_name: str) -> str:
    """Return the words of a name as they are compared: folded, and in the order of the alphabet."""
    return " ".join(sorted(fold(f"{first_name} {last_name}").replace("-", " ").split()))


def signs(person: PersonFacts, other: PersonFacts) -> tuple[Sign, ...]:
    """Return every sign that the two are one person; none means there is no reason to think so.

    A name alone is none: two people may share it. The same in both orders.
    """
    alike = name_likeness(person, other) >= ALIKE
    number = _number_key(person.number)
    held = (
        (Sign.NUMBER, number and number == _number_key(other.number)),
        (Sign.EMAIL, person.email and _fold(person.email) == _fold(other.email)),
        (Sign.NAME_AND_BIRTH_DATE, alike and person.born_on and person.born_on == other.born_on),
        (
            Sign.NAME_AND_DEPARTMENT,
            alike
            and person.department_id
            and person.department_id == other.department_id
            and (person.born_on is None or other.born_on is None),
        ),
    )
    return tuple(sign for sign, holds in held if holds)

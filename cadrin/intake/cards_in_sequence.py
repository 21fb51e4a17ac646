"""Cards that follow one another, for newcomers whose row names none."""

from collections.abc import Callable

from cadrin.credentials.card_draft import CardIdentity
from cadrin.credentials.queries import cards_not_free

_LOOKED_AT = 2_000
"""Numbers that are looked through for one that is free, and that are asked for at once."""


class CardsInSequence:
    """Gives the next free card from a first number on, each once."""

    def __init__(self, format_id: int, facility_code: int, first: int) -> None:
        self._format_id, self._facility_code, self._next = format_id, facility_code, first
        self._known_to = first - 1
        self._not_free: set[int] = set()

    def take(self, is_taken: Callable[[CardIdentity], bool]) -> CardIdentity | None:
        """Return the next free card that the list itself has not given, or None where none is left."""
        last = self._next + _LOOKED_AT
        if last > self._known_to:
            self._known_to = last + _LOOKED_AT
            self._not_free = cards_not_free(
                self._format_id, self._facility_code, self._next, self._known_to
            )
        for number in range(self._next, last + 1):
            identity = (self._format_id, self._facility_code, number)
            if number not in self._not_free and not is_taken(identity):
                self._next = number + 1
                return identity
        return None

"""One kind of thing that a cardholder has, their cards for example, as it shall be."""

from collections.abc import Iterable
from typing import Any, Generic, NamedTuple, TypeVar

from cadrin.journal.commands import About

CARDHOLDER = "cardholder"
"""What the journal calls a cardholder."""
T = TypeVar("T")


class Part(NamedTuple, Generic[T]):
    """What a cardholder shall have of one kind.

    ``holder_id`` is 0 while a new cardholder is judged; ``version`` is the cardholder's after the
    act.
    """

    holder_id: int
    wanted: tuple[T, ...]
    version: int = 0

    @property
    def is_new(self) -> bool:
        """Say whether the act enrols the cardholder, so that they have nothing yet."""
        return self.version == 1

    @property
    def about(self) -> About:
        return About(CARDHOLDER, self.holder_id, self.version)


def holders_before(parts: Iterable[Part[Any]]) -> list[int]:
    """Return the cardholders who may have something of the kind already."""
    return [part.holder_id for part in parts if not part.is_new]

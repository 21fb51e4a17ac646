"""Cards that work so many times: counted from reads, wherever and however late those are told."""

from datetime import datetime
from typing import NamedTuple

FEWEST_USES, MOST_USES = 1, 255


class UseLimit(NamedTuple):
    """How often a card opens doors from an instant on, and what is known of its uses.

    ``used`` has the uses by the memory that told of them: each controller counts those in its own
    memory itself, and is told only the others. So none is counted twice, and one that is told late
    still counts.
    """

    most: int
    since: datetime
    used: tuple[tuple[str, int], ...] = ()

    @property
    def used_in_all(self) -> int:
        return sum(count for _, count in self.used)

    def used_elsewhere(self, memory: str) -> int:
        """Return the uses that other memories told of.

        >>> from datetime import UTC, datetime
        >>> UseLimit(5, datetime(2026, 6, 1, tzinfo=UTC), (("north", 2), ("south", 1))).used_elsewhere("north")
        1
        """
        return sum(count for name, count in self.used if name != memory)

    def is_used_up(self, uses_here: int = 0) -> bool:
        return self.used_in_all + uses_here >= self.most

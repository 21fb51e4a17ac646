"""A PIN as an operator wants a cardholder to have it."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

MOST_PINS = 10


@dataclass(frozen=True, slots=True)
class PinDraft:
    """A PIN as an operator wants a cardholder to have it; ``id`` is None for a new one.

    Without ``entry`` the one that is there stays. ``again`` is what was typed the second time.
    ``is_generated`` asks the house to make one up, ``is_mailed`` to send it to the cardholder
    instead of showing it. ``expiry_at`` is that of the one that is there, by the site's rule.
    """

    id: int | None = None
    label: str = ""
    opens_alone: bool = False
    entry: str = ""
    again: str = ""
    is_generated: bool = False
    is_mailed: bool = False
    was_generated: bool = False
    expiry_at: datetime | None = None

    @property
    def is_new(self) -> bool:
        return bool(self.entry) or self.is_generated

    def kept(self) -> dict[str, Any]:
        """Return everything but the digits, by the names of the columns it is kept in."""
        return {"label": self.label.strip(), "opens_alone": self.opens_alone}

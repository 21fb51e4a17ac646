"""How a keypad counts wrong PINs, and rests after too many of them."""

from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.core.access.rights import Reason
from cadrin.core.pins import PinAtDoors


class Keypad(NamedTuple):
    """Wrong PINs one after another, and until when it takes none."""

    wrong_tries: int = 0
    rests_until: datetime | None = None

    def is_resting(self, at: datetime) -> bool:
        return self.rests_until is not None and at < self.rests_until

    def after(self, reason: Reason, at: datetime, rule: PinAtDoors) -> "Keypad":
        """Give how it stands after a PIN was typed; while it rests nothing counts, and a right one begins anew."""
        if reason is Reason.KEYPAD_RESTS:
            return self
        if reason is not Reason.PIN_WRONG:
            return Keypad()
        wrong_tries = self.wrong_tries + 1
        if wrong_tries < rule.tries:
            return Keypad(wrong_tries)
        return Keypad(0, at + timedelta(seconds=rule.rest_seconds))

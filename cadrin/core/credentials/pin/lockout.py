"""Lock-out: a keypad counts wrong PINs, and is locked for a while after too many of them."""

from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.core.credentials.pin.hashing import PinAtDoors
from cadrin.core.decision.reasons import Reason


class Keypad(NamedTuple):
    """Wrong PINs one after another, and until when it takes none."""

    wrong_attempts: int = 0
    locked_until: datetime | None = None

    def is_locked(self, at: datetime) -> bool:
        return self.locked_until is not None and at < self.locked_until

    def after(self, reason: Reason, at: datetime, rule: PinAtDoors) -> "Keypad":
        """Return how it stands after a PIN was typed; while it is locked nothing counts, and a
        right one begins anew.
        """
        if reason is Reason.KEYPAD_LOCKED:
            return self
        if reason is not Reason.PIN_WRONG:
            return Keypad()
        wrong_attempts = self.wrong_attempts + 1
        if wrong_attempts < rule.max_attempts:
            return Keypad(wrong_attempts)
        return Keypad(0, at + timedelta(seconds=rule.lockout_seconds))

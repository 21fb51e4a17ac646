"""How a typed PIN is found: by keyed hashes, plainly or under duress."""

import hmac
from dataclasses import dataclass

from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.weak import is_digits

HASH_DIGITS = 32


def keyed_hash(key: bytes, pin: str) -> str:
    """Return 32 hexadecimal digits by which a PIN is found, and from which it cannot be had without
    the key.
    """
    return hmac.digest(key, pin.encode(), "sha256").hex()[:HASH_DIGITS]


@dataclass(frozen=True, slots=True)
class PinAtDoors:
    """What a controller needs to know a PIN when it is typed, and when a keypad is locked."""

    hash_key: str = ""
    max_attempts: int = 3
    lockout_seconds: int = 60
    duress: DuressRule = DuressRule.NONE
    # False where the key is there and cannot be read: then what controllers hold is left alone
    is_known: bool = True

    def hashes(self, typed: str) -> tuple[str, str | None]:
        """Return the hash of what was typed, and of the PIN that it would be under duress."""
        key = bytes.fromhex(self.hash_key)
        if self.duress is DuressRule.NONE or not is_digits(typed):
            return keyed_hash(key, typed), None
        return keyed_hash(key, typed), keyed_hash(key, self.duress.changed(typed, -1))


NO_PINS = PinAtDoors()

"""The record of the site's rules: what a controller needs to know a PIN, while a reader there asks
for one.
"""

from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.hashing import PinAtDoors
from cadrin.core.records.fields import only
from cadrin.core.records.keys import Body


def encode_rules(pins: PinAtDoors) -> Body:
    return {
        "pin_hash_key": pins.hash_key,
        "pin_max_attempts": pins.max_attempts,
        "pin_lockout_seconds": pins.lockout_seconds,
        "pin_duress": pins.duress.value,
    }


def decode_rules(body: Body) -> PinAtDoors:
    """Read the rules. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("pin_hash_key", "pin_max_attempts", "pin_lockout_seconds", "pin_duress"))
    bytes.fromhex(body["pin_hash_key"])
    return PinAtDoors(
        body["pin_hash_key"],
        int(body["pin_max_attempts"]),
        int(body["pin_lockout_seconds"]),
        DuressRule(body["pin_duress"]),
    )

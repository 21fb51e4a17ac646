"""One-time codes by time (RFC 6238, SHA-1, six digits, steps of 30 seconds), each taken once."""

from datetime import datetime

import pyotp

STEP_SECONDS = 30
ACCEPTED_STEPS = (0, -1, 1)
"""A clock may be off by one step; the present one is tried first (RFC 6238, 5.2)."""
DIGITS = 6


def step_of(at: datetime) -> int:
    return int(at.timestamp()) // STEP_SECONDS


def code_of(secret: str, step: int, digits: int = DIGITS) -> str:
    """Return the code of a step. ``secret`` is in base 32 (RFC 4648)."""
    return pyotp.HOTP(secret, digits=digits).at(step)


def step_taken(secret: str, code: str, at: datetime, last_step: int) -> int | None:
    """Return the step that a code belongs to; None when it is wrong, too old, or not later than the
    last one taken.
    """
    now = step_of(at)
    for step in (now + offset for offset in ACCEPTED_STEPS):
        if step > last_step and pyotp.utils.strings_equal(code_of(secret, step), code):
            return step
    return None

"""Generate a PIN that the rule of the site allows."""

import secrets
from collections.abc import Callable

from cadrin.core.credentials.pin.rule import NOTHING_KNOWN, OwnNumbers, PinRule, problems_with_pin
from cadrin.core.errors import Invalid

TRIES_BEFORE_COUNTING = 2_000


def generate(
    rule: PinRule,
    is_taken: Callable[[str], bool] = lambda pin: False,
    own: OwnNumbers = NOTHING_KNOWN,
    below: Callable[[int], int] = secrets.randbelow,
) -> str:
    """Make up a PIN, each one that the rule allows and that is not taken being equally likely.

    ``below`` gives a number from 0 up to but not at its argument, from the system's secure source
    unless given. Raises Invalid when none is left.
    """
    count = 10**rule.length

    def is_allowed(pin: str) -> bool:
        return not problems_with_pin(pin, rule, own) and not is_taken(pin)

    for _ in range(TRIES_BEFORE_COUNTING):
        pin = f"{below(count):0{rule.length}}"
        if is_allowed(pin):
            return pin
    # nearly all are gone: count those that are left, where that can be done while somebody waits
    left = (
        []
        if rule.length > 6
        else [pin for n in range(count) if is_allowed(pin := f"{n:0{rule.length}}")]
    )
    if not left:
        raise Invalid.of("pin.none_left", None)
    return left[below(len(left))]

"""What a site asks of PINs, and everything that its rule has against one."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.weak import (
    LONGEST_RUN,
    is_date,
    is_digits,
    is_part,
    repeats,
    runs,
    writings,
)
from cadrin.core.errors import Problem

SHORTEST, LONGEST = 4, 9


@dataclass(frozen=True, slots=True)
class PinRule:
    """What a site asks of PINs. ``holds_days`` None is for ever; ``remembered`` former ones are not
    taken again.
    """

    length: int = 6
    is_unique: bool = True
    forbids_repeats: bool = True
    forbids_runs: bool = True
    forbids_dates: bool = True
    forbids_own_numbers: bool = True
    remembered: int = 5
    holds_days: int | None = None
    max_attempts: int = 3
    lockout_seconds: int = 60
    duress: DuressRule = DuressRule.NONE


class OwnNumbers(NamedTuple):
    """What somebody who knows the cardholder would try first: birth date, cardholder number, card
    numbers.
    """

    born_on: date | None = None
    numbers: tuple[str, ...] = ()


NOTHING_KNOWN = OwnNumbers()


def problems_with_rule(rule: PinRule) -> tuple[Problem, ...]:
    """Return everything that is wrong with a rule, each beside its field."""
    ranges = (
        ("length", rule.length, SHORTEST, LONGEST),
        ("remembered", rule.remembered, 0, 20),
        ("holds_days", rule.holds_days, 1, 3650),
        ("max_attempts", rule.max_attempts, 1, 20),
        ("lockout_seconds", rule.lockout_seconds, 1, 3600),
    )
    return tuple(
        Problem("input.out_of_range", field, {"lowest": lowest, "highest": highest})
        for field, value, lowest, highest in ranges
        if value is not None and not lowest <= value <= highest
    )


def problems_with_pin(
    pin: str, rule: PinRule, own: OwnNumbers = NOTHING_KNOWN
) -> tuple[Problem, ...]:
    """Return every reason why the rule refuses a PIN, all at once.

    >>> [problem.code for problem in problems_with_pin("999876", PinRule())]
    ['pin.repeats', 'pin.runs']
    """
    if not is_digits(pin):
        return (Problem("pin.not_digits"),)
    return tuple(_problems(pin, rule, own))


def _problems(pin: str, rule: PinRule, own: OwnNumbers) -> Iterable[Problem]:
    if len(pin) != rule.length:
        yield Problem("pin.length", None, {"length": rule.length})
    if rule.forbids_repeats and repeats(pin):
        yield Problem("pin.repeats")
    if rule.forbids_runs and runs(pin):
        yield Problem("pin.runs", None, {"longest": LONGEST_RUN})
    if rule.forbids_dates and is_date(pin):
        yield Problem("pin.date")
    if not rule.forbids_own_numbers:
        return
    if own.born_on and any(pin in written for written in writings(own.born_on)):
        yield Problem("pin.birth_date")
    if any(is_part(pin, number) for number in own.numbers):
        yield Problem("pin.own_number")

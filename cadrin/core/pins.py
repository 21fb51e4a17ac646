"""PINs: the rule a site has for them, what is weak, how one is made up, and what doors need to know of one."""

import hmac
import secrets
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from itertools import pairwise
from typing import NamedTuple

from cadrin.core.errors import Invalid, Problem

SHORTEST, LONGEST = 4, 9
LONGEST_RUN, SHORTEST_OWN_NUMBER = 3, 4
"""Of digits that follow one another; of a number that must not be part of a PIN."""
TRIES_BEFORE_COUNTING = 2_000
HASH_DIGITS = 32


class DuressRule(StrEnum):
    """How somebody under threat changes their PIN: the door opens, and an alarm is raised that nobody sees there."""

    NONE = "none"
    LAST_DIGIT_UP = "last_digit_up"
    FIRST_DIGIT_UP = "first_digit_up"

    def changed(self, pin: str, by: int = 1) -> str:
        """Give a PIN as it is typed under duress, 0 following 9; ``by`` -1 is the way back.

        >>> DuressRule.LAST_DIGIT_UP.changed("481509"), DuressRule.FIRST_DIGIT_UP.changed("581509", -1)
        ('481500', '481509')
        """
        match self:
            case DuressRule.LAST_DIGIT_UP:
                return f"{pin[:-1]}{(int(pin[-1]) + by) % 10}"
            case DuressRule.FIRST_DIGIT_UP:
                return f"{(int(pin[0]) + by) % 10}{pin[1:]}"
            case DuressRule.NONE:
                return pin


@dataclass(frozen=True, slots=True)
class PinRule:
    """What a site asks of PINs. ``holds_days`` None is for ever; ``remembered`` former ones are not taken again."""

    length: int = 6
    is_unique: bool = True
    forbids_repeats: bool = True
    forbids_runs: bool = True
    forbids_dates: bool = True
    forbids_own_numbers: bool = True
    remembered: int = 5
    holds_days: int | None = None
    tries: int = 3
    rest_seconds: int = 60
    duress: DuressRule = DuressRule.NONE


class OwnNumbers(NamedTuple):
    """What somebody who knows the cardholder would try first: birth date, cardholder number, card numbers."""

    born_on: date | None = None
    numbers: tuple[str, ...] = ()


NOTHING_KNOWN = OwnNumbers()


@dataclass(frozen=True, slots=True)
class PinAtDoors:
    """What a controller needs to know a PIN when it is typed, and when to let a keypad rest."""

    key: str = ""
    tries: int = 3
    rest_seconds: int = 60
    duress: DuressRule = DuressRule.NONE
    is_known: bool = True  # False where the key is there and cannot be read: then what readers hold is left alone

    def hashes(self, typed: str) -> tuple[str, str | None]:
        """Give the hash of what was typed, and of the PIN that it would be under duress."""
        key = bytes.fromhex(self.key)
        if self.duress is DuressRule.NONE or not is_digits(typed):
            return keyed_hash(key, typed), None
        return keyed_hash(key, typed), keyed_hash(key, self.duress.changed(typed, -1))


NO_PINS = PinAtDoors()


def keyed_hash(key: bytes, pin: str) -> str:
    """Give 32 hexadecimal digits by which a PIN is found, and from which it cannot be had without the key."""
    return hmac.digest(key, pin.encode(), "sha256").hex()[:HASH_DIGITS]


def is_digits(text: str) -> bool:
    return text.isascii() and text.isdigit()


# -- the rule -------------------------------------------------------------------------------


def problems_with_rule(rule: PinRule) -> tuple[Problem, ...]:
    """Give everything that is wrong with a rule, each beside its field."""
    ranges = (
        ("length", rule.length, SHORTEST, LONGEST),
        ("remembered", rule.remembered, 0, 20),
        ("holds_days", rule.holds_days, 1, 3650),
        ("tries", rule.tries, 1, 20),
        ("rest_seconds", rule.rest_seconds, 1, 3600),
    )
    return tuple(
        Problem("input.out_of_range", field, {"lowest": lowest, "highest": highest})
        for field, value, lowest, highest in ranges
        if value is not None and not lowest <= value <= highest
    )


def problems_with_pin(pin: str, rule: PinRule, own: OwnNumbers = NOTHING_KNOWN) -> tuple[Problem, ...]:
    """Give every reason why the rule refuses a PIN, all at once.

    >>> [one.code for one in problems_with_pin("999876", PinRule())]
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
    if own.born_on and any(pin in written for written in _writings(own.born_on)):
        yield Problem("pin.birth_date")
    if any(_is_part(pin, number) for number in own.numbers):
        yield Problem("pin.own_number")


def repeats(pin: str) -> bool:
    """Say whether a digit stands three times in a row, or the whole is one piece said again and again.

    >>> [repeats(pin) for pin in ("485551", "474747", "123123", "484815")]
    [True, True, True, False]
    """
    if any(digit * 3 in pin for digit in "0123456789"):
        return True
    return any(
        len(pin) % length == 0 and pin == pin[:length] * (len(pin) // length) for length in range(1, len(pin) // 2 + 1)
    )


def runs(pin: str) -> bool:
    """Say whether more than three digits follow one another, up or down, 0 coming after 9.

    >>> [runs(pin) for pin in ("123485", "489013", "543210", "481235")]
    [True, True, True, False]
    """
    steps = [(int(other) - int(one)) % 10 for one, other in pairwise(pin)]
    length, last = 1, 0
    for step in steps:
        length = length + 1 if step == last and step in (1, 9) else (2 if step in (1, 9) else 1)
        last = step
        if length > LONGEST_RUN:
            return True
    return False


def is_date(pin: str) -> bool:
    """Say whether a PIN reads as a day, in any usual order: of 4 digits also as a year from 1900 to 2099.

    >>> [is_date(pin) for pin in ("290224", "300299", "1987", "3112", "19870523")]
    [True, False, True, True, True]
    """
    match len(pin):
        case 4:
            day_first, month_first = (pin[:2], pin[2:]), (pin[2:], pin[:2])
            return pin[:2] in ("19", "20") or any(_is_day(2000, month, day) for day, month in (day_first, month_first))
        case 6:
            orders = ((pin[4:], pin[2:4], pin[:2]), (pin[4:], pin[:2], pin[2:4]), (pin[:2], pin[2:4], pin[4:]))
            return any(_is_day(2000 + int(year), month, day) for year, month, day in orders)
        case 8:
            orders = ((pin[4:], pin[2:4], pin[:2]), (pin[4:], pin[:2], pin[2:4]), (pin[:4], pin[4:6], pin[6:]))
            return any(year[:2] in ("19", "20") and _is_day(int(year), month, day) for year, month, day in orders)
        case _:
            return False


def _is_day(year: int, month: str, day: str) -> bool:
    try:
        date(year, int(month), int(day))
    except ValueError:
        return False
    return True


def _writings(day: date) -> tuple[str, ...]:
    return tuple(day.strftime(way) for way in ("%d%m%Y", "%m%d%Y", "%Y%m%d", "%Y%d%m", "%d%m%y", "%m%d%y", "%y%m%d"))


def _is_part(pin: str, number: str) -> bool:
    digits = "".join(character for character in number if character.isdigit())
    plain = digits.lstrip("0")
    return pin in digits or (len(plain) >= SHORTEST_OWN_NUMBER and plain in pin)


def not_anothers(pin: str, rule: PinRule) -> tuple[str, ...]:
    """Give the PINs that nobody else may have beside this one: itself, and those it is under duress or from it.

    >>> not_anothers("481509", PinRule(duress=DuressRule.LAST_DIGIT_UP))
    ('481509', '481500', '481508')
    """
    if rule.duress is DuressRule.NONE:
        return (pin,)
    return pin, rule.duress.changed(pin), rule.duress.changed(pin, -1)


class PinInUse(NamedTuple):
    """A PIN that somebody has."""

    id: int
    holder_id: int
    digits: str
    opens_alone: bool


def mistaken_for_another(pins: Iterable[PinInUse], rule: PinRule) -> tuple[PinInUse, ...]:
    """Give the PINs that doors would take for one that comes before them, or for that one under duress.

    A door compares what is typed with all PINs that open alone, and beside a card with those of its holder. So two
    that two people use with a card only are never mistaken for each other.

    >>> mine, yours = PinInUse(1, 1, "481509", True), PinInUse(2, 2, "481500", False)
    >>> mistaken_for_another([mine, yours], PinRule())
    ()
    >>> [pin.id for pin in mistaken_for_another([mine, yours], PinRule(duress=DuressRule.LAST_DIGIT_UP))]
    [2]
    """
    with_digits: dict[str, list[PinInUse]] = {}
    found = []
    for pin in pins:
        before = (one for digits in not_anothers(pin.digits, rule) for one in with_digits.get(digits, ()))
        if any(one.opens_alone or pin.opens_alone or one.holder_id == pin.holder_id for one in before):
            found.append(pin)
        with_digits.setdefault(pin.digits, []).append(pin)
    return tuple(found)


# -- making one up ---------------------------------------------------------------------------


def generate(
    rule: PinRule,
    is_taken: Callable[[str], bool] = lambda pin: False,
    own: OwnNumbers = NOTHING_KNOWN,
    below: Callable[[int], int] = secrets.randbelow,
) -> str:
    """Make up a PIN, each one that the rule allows and that is not taken being equally likely.

    ``below`` gives a number from 0 up to but not at its argument, from the system's secure source unless given.
    Raises Invalid when none is left.
    """
    count = 10**rule.length

    def is_allowed(pin: str) -> bool:
        return not problems_with_pin(pin, rule, own) and not is_taken(pin)

    for _ in range(TRIES_BEFORE_COUNTING):
        pin = f"{below(count):0{rule.length}}"
        if is_allowed(pin):
            return pin
    # nearly all are gone: count those that are left, where that can be done while somebody waits
    left = [] if rule.length > 6 else [pin for n in range(count) if is_allowed(pin := f"{n:0{rule.length}}")]
    if not left:
        raise Invalid.of("pin.none_left", None)
    return left[below(len(left))]

"""Weak PINs: repeated digits, runs, dates, and numbers that others know of the cardholder."""

from datetime import date
from itertools import pairwise

LONGEST_RUN, SHORTEST_OWN_NUMBER = 3, 4
"""Of digits that follow one another; of a number that must not be part of a PIN."""


def is_digits(text: str) -> bool:
    return text.isascii() and text.isdigit()


def repeats(pin: str) -> bool:
    """Say whether a digit stands three times in a row, or the whole is one piece said again and
    again.

    >>> [repeats(pin) for pin in ("485551", "474747", "123123", "484815")]
    [True, True, True, False]
    """
    if any(digit * 3 in pin for digit in "0123456789"):
        return True
    return any(
        len(pin) % length == 0 and pin == pin[:length] * (len(pin) // length)
        for length in range(1, len(pin) // 2 + 1)
    )


def runs(pin: str) -> bool:
    """Say whether more than three digits follow one another, up or down, 0 coming after 9.

    >>> [runs(pin) for pin in ("123485", "489013", "543210", "481235")]
    [True, True, True, False]
    """
    steps = [(int(other) - int(item)) % 10 for item, other in pairwise(pin)]
    length, last = 1, 0
    for step in steps:
        length = length + 1 if step == last and step in (1, 9) else (2 if step in (1, 9) else 1)
        last = step
        if length > LONGEST_RUN:
            return True
    return False


def is_date(pin: str) -> bool:
    """Say whether a PIN reads as a day, in any usual order: of 4 digits also as a year from 1900 to
    2099.

    >>> [is_date(pin) for pin in ("290224", "300299", "1987", "3112", "19870523")]
    [True, False, True, True, True]
    """
    match len(pin):
        case 4:
            day_first, month_first = (pin[:2], pin[2:]), (pin[2:], pin[:2])
            return pin[:2] in ("19", "20") or any(
                _is_day(2000, month, day) for day, month in (day_first, month_first)
            )
        case 6:
            orders = (
                (pin[4:], pin[2:4], pin[:2]),
                (pin[4:], pin[:2], pin[2:4]),
                (pin[:2], pin[2:4], pin[4:]),
            )
            return any(_is_day(2000 + int(year), month, day) for year, month, day in orders)
        case 8:
            orders = (
                (pin[4:], pin[2:4], pin[:2]),
                (pin[4:], pin[:2], pin[2:4]),
                (pin[:4], pin[4:6], pin[6:]),
            )
            return any(
                year[:2] in ("19", "20") and _is_day(int(year), month, day)
                for year, month, day in orders
            )
        case _:
            return False


def _is_day(year: int, month: str, day: str) -> bool:
    try:
        date(year, int(month), int(day))
    except ValueError:
        return False
    return True


def writings(day: date) -> tuple[str, ...]:
    return tuple(
        day.strftime(way)
        for way in ("%d%m%Y", "%m%d%Y", "%Y%m%d", "%Y%d%m", "%d%m%y", "%m%d%y", "%y%m%d")
    )


def is_part(pin: str, number: str) -> bool:
    digits = "".join(character for character in number if character.isdigit())
    plain = digits.lstrip("0")
    return pin in digits or (len(plain) >= SHORTEST_OWN_NUMBER and plain in pin)

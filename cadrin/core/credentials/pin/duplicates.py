"""PINs that doors would take for one another, plainly or under duress."""

from collections.abc import Iterable
from typing import NamedTuple

from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.rule import PinRule


def not_anothers(pin: str, rule: PinRule) -> tuple[str, ...]:
    """Return the PINs that nobody else may have beside this one: itself, and those it is under
    duress or from it.

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
    """Return the PINs that doors would take for one that comes before them, or for that one under
    duress.

    A door compares what is typed with all PINs that open alone, and beside a card with those of its
    holder. So two that two people use with a card only are never mistaken for each other.

    >>> mine, yours = PinInUse(1, 1, "481509", True), PinInUse(2, 2, "481500", False)
    >>> mistaken_for_another([mine, yours], PinRule())
    ()
    >>> [pin.id for pin in mistaken_for_another([mine, yours], PinRule(duress=DuressRule.LAST_DIGIT_UP))]
    [2]
    """
    with_digits: dict[str, list[PinInUse]] = {}
    found = []
    for pin in pins:
        before = (
            other
            for digits in not_anothers(pin.digits, rule)
            for other in with_digits.get(digits, ())
        )
        if any(
            other.opens_alone or pin.opens_alone or other.holder_id == pin.holder_id
            for other in before
        ):
            found.append(pin)
        with_digits.setdefault(pin.digits, []).append(pin)
    return tuple(found)

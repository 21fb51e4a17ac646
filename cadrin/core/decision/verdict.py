"""What was decided of one read, and the questions that led to it."""

from typing import NamedTuple

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.factors import (
    FACTORS,
    JUST_A_CARD,
    Factor,
    Factors,
)
from cadrin.core.decision.reasons import OF_A_DOORS_OWN, REASONS, Check, Reason


class Step(NamedTuple):
    """One question and its answer; ``passed`` is None where the decision never came so far."""

    check: Check
    passed: bool | None


def steps_to(reason: Reason, factors: Factors = JUST_A_CARD) -> tuple[Step, ...]:
    """Return every question in order that is asked of these factors, up to the one that decided and
    on.
    """
    failing = None if reason is Reason.GRANTED else REASONS[reason].check
    not_asked = frozenset[Check]().union(
        *(FACTORS[factor].checks for factor in Factor if factor not in factors)
    )
    steps, answer = [], True
    for check in Check:
        if (check in not_asked or check in OF_A_DOORS_OWN) and check is not failing:
            continue
        if check is failing:
            steps.append(Step(check, False))
            answer = False
        else:
            steps.append(Step(check, True if answer else None))
    return tuple(steps)


class Verdict(NamedTuple):
    """The outcome of one read, with what was found on the way to it.

    ``group_id`` is the access group that opened the door, or came closest; ``factors`` what was
    presented, and what was missing beside it; ``pin_id`` the PIN that was typed, where it was a
    right one. ``is_passed_back`` says that the cardholder is where they could not have come
    to. Under duress nothing at the door looks different. ``open_seconds`` is how long the door stays
    open; 0 when it does not open.
    """

    reason: Reason
    card: CardKey | None = None
    holder: Holder | None = None
    group_id: int | None = None
    factors: Factors = JUST_A_CARD
    is_duress: bool = False
    is_watched: bool = False
    pin_id: int | None = None
    open_seconds: int = 0
    is_passed_back: bool = False

    @property
    def is_granted(self) -> bool:
        return self.reason is Reason.GRANTED

    @property
    def steps(self) -> tuple[Step, ...]:
        return steps_to(self.reason, self.factors)

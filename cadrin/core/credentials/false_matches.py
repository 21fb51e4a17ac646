"""How often two different fingers or faces are taken for one at a threshold.

Measured on made-up ones, as ``benchmarks/biometrics.py`` makes and counts them: first presses of 200
fingers as they are laid at doors (dry, wet, turned, in part), every two of them compared, and two
pictures each of 120 drawn faces. It tells thresholds apart; of people it says nothing. No rate is
claimed below 3 by the number of
comparisons (the rule of three, 95 %: Hanley and Lippman-Hand, JAMA 249, 1983).
"""

from collections.abc import Mapping
from typing import NamedTuple

from cadrin.core.credentials.factors import Factor

RULE_OF_THREE = 3


class FalseMatches(NamedTuple):
    """One in so many comparisons of two different ones is false; ``is_fewer`` where only a bound is
    known.
    """

    one_in: int
    is_fewer: bool


class _Measured(NamedTuple):
    """How many of all comparisons were false, by threshold in hundredths."""

    compared: int
    false_at: Mapping[int, int]


_FINGERS = _Measured(
    19_900,
    {20: 8473, 22: 6451, 24: 4714, 26: 3299, 28: 2164, 30: 1389, 32: 819, 34: 448, 36: 232,
     38: 114, 40: 41, 42: 18, 44: 4, 46: 4, 48: 2, 50: 1, 52: 0},
)  # fmt: skip
_FACES = _Measured(
    28_322,
    {24: 0, 26: 1, 28: 3, 30: 15, 32: 49, 34: 125, 36: 368, 38: 793, 40: 1526, 42: 2696, 44: 4293,
     46: 6487, 48: 9032, 50: 12044, 52: 15070, 54: 18079, 56: 20818, 58: 23178, 60: 24915,
     64: 27109, 70: 28175},
)  # fmt: skip


def false_matches(factor: Factor, threshold: int) -> FalseMatches | None:
    """Return how often different ones are taken for one at a threshold in hundredths: how alike
    fingers must be, how far apart faces may be. None where it was not measured.

    >>> false_matches(Factor.FINGER, 42), false_matches(Factor.FINGER, 60)
    (FalseMatches(one_in=1105, is_fewer=False), FalseMatches(one_in=6633, is_fewer=True))
    """
    measured = _FINGERS if factor is Factor.FINGER else _FACES
    # the nearest that was measured, on the side where more are false
    if factor is Factor.FINGER:
        nearest = max((at for at in measured.false_at if at <= threshold), default=None)
    else:
        nearest = min((at for at in measured.false_at if at >= threshold), default=None)
    if nearest is None:
        return None
    false = measured.false_at[nearest]
    return FalseMatches(measured.compared // max(false, RULE_OF_THREE), false < RULE_OF_THREE)

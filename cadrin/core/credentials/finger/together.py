"""What must hold of the fingers of one person together."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Problem

FEWEST_FOR_DURESS = 2
"""With one finger alone nobody could come in without an alarm (common practice)."""


class FingerWanted(NamedTuple):
    """A finger that somebody shall have."""

    finger: Finger
    is_duress: bool = False


def problems_with_fingers_together(wanted: Sequence[FingerWanted]) -> Iterator[Problem]:
    """Yield what stands against these fingers, each beside its field, from the list of them on.

    >>> [str(problem.code) for problem in problems_with_fingers_together(
    ...     [FingerWanted(Finger.LEFT_THUMB, is_duress=True)])]
    ['finger.duress_needs_two']
    """
    if sum(one.is_duress for one in wanted) > 1:
        yield Problem("finger.one_duress", "fingers")
    for place, one in enumerate(wanted):
        if any(other.finger is one.finger for other in wanted[:place]):
            yield Problem("finger.twice", f"fingers.{place}.finger")
        if one.is_duress and len(wanted) < FEWEST_FOR_DURESS:
            yield Problem("finger.duress_needs_two", f"fingers.{place}.is_duress")

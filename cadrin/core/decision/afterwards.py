"""What a read that is over tells of what was shown: enough to judge it again, and no more."""

from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.access.rights import Reason
from cadrin.core.decision.decide import FAILING_CHECK, Check, Shown

GIVEN_BY_A_CLOCK = frozenset(
    {
        Reason.CARD_PENDING,
        Reason.CARD_EXPIRED,
        Reason.CARD_OUTSIDE_HOURS,
        Reason.PIN_EXPIRED,
        Reason.CARDHOLDER_PENDING,
        Reason.CARDHOLDER_EXPIRED,
        Reason.MEMBERSHIP_PENDING,
        Reason.MEMBERSHIP_EXPIRED,
        Reason.OUTSIDE_HOURS,
    }
)
"""Reasons that a wrong clock gives as well."""
_NO_RIGHT_PIN = (Reason.PIN_MISSING, Reason.PIN_WRONG)


def saw_the_pin(reason: Reason) -> bool:
    """Say whether a decision that ended so looked at the PIN, if one was typed."""
    checks = list(Check)
    return reason is Reason.GRANTED or checks.index(FAILING_CHECK[reason]) >= checks.index(Check.PIN)


def pin_typed(holder: Holder | None, shown: Shown, reason: Reason, at: datetime) -> int | None:
    """Say which PIN of theirs was typed, of which one that works at ``at`` is likelier; None for a wrong one.

    Beside a card it is known to be right only where the decision came past it.
    """
    if holder is None or shown is Shown.CARD:
        return None
    if shown is Shown.CARD_AND_PIN and (reason in _NO_RIGHT_PIN or not saw_the_pin(reason)):
        return None
    pins = [pin for pin in holder.pins if pin.opens_alone or shown is Shown.CARD_AND_PIN]
    works = reason is not Reason.PIN_EXPIRED
    return next((pin.id for pin in pins if (at in pin.span) is works), pins[0].id if pins else None)

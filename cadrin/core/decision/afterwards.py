"""What a read that is over tells of what was presented: enough to judge it again, and no more."""

from datetime import datetime

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.factors import Factor, Factors
from cadrin.core.decision.reasons import REASONS, Check, Reason
from cadrin.core.decision.situation import NOBODYS

_NO_RIGHT_PIN = (Reason.PIN_MISSING, Reason.PIN_WRONG)


def biometric_shown(
    holder: Holder | None, factor: Factor, factors: Factors, reason: Reason, missing: Reason
) -> int | None:
    """Say which finger or face of theirs was shown; `NOBODYS` for one that matched none, or of
    which nobody knows; None where none was.
    """
    if factor not in factors or reason is missing:
        return None
    checks = list(Check)
    check = Check.FINGER if factor is Factor.FINGER else Check.FACE
    came_past = reason is Reason.GRANTED or (
        checks.index(REASONS[reason].check) > checks.index(check)
    )
    if holder is None or not holder.biometrics(factor) or not came_past:
        return NOBODYS
    return holder.biometrics(factor)[0].id


def saw_the_pin(reason: Reason) -> bool:
    """Say whether a decision that ended so looked at the PIN, if one was typed."""
    checks = list(Check)
    return reason is Reason.GRANTED or checks.index(REASONS[reason].check) >= checks.index(
        Check.PIN
    )


def pin_typed(holder: Holder | None, factors: Factors, reason: Reason, at: datetime) -> int | None:
    """Say which PIN of theirs was typed, of which one that works at ``at`` is likelier; None for a
    wrong one.

    Beside a card or a plate it is known to be right only where the decision came past it.
    """
    if holder is None or Factor.PIN not in factors:
        return None
    is_alone = factors == (Factor.PIN,)
    if not is_alone and (reason in _NO_RIGHT_PIN or not saw_the_pin(reason)):
        return None
    pins = [pin for pin in holder.pins if pin.opens_alone or not is_alone]
    works = reason is not Reason.PIN_EXPIRED
    return next((pin.id for pin in pins if (at in pin.span) is works), pins[0].id if pins else None)

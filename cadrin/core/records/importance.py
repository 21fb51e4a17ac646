"""Who has a place at a controller that has no room for everybody."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from cadrin.core.validity import Standing


class Claim(NamedTuple):
    """What decides about a cardholder's place: their standing, and when they expire."""

    holder_id: int
    standing: Standing = Standing.ACTIVE
    expiry_at: datetime | None = None


def least_important(claims: Iterable[Claim], room: int) -> frozenset[int]:
    """Return those for whom a controller has no room: the least important.

    First come those whom it may let in, of these the ones for longest; then those who are suspended
    or barred, for whom it can say so. Of equals whoever was enrolled first stays. Nobody's place
    changes as time goes by.

    >>> sorted(least_important([Claim(1, Standing.BARRED), Claim(2), Claim(3)], 2))
    [1]
    """
    return frozenset(claim.holder_id for claim in sorted(claims, key=_importance)[room:])


def _importance(claim: Claim) -> tuple[bool, bool, float, int]:
    end = claim.expiry_at
    is_active = claim.standing is Standing.ACTIVE
    return not is_active, end is not None, -end.timestamp() if end else 0.0, claim.holder_id

"""Who answers for a door or an access group, and how often they look through its people."""

from collections.abc import Iterable

from cadrin.core.errors import Problem
from cadrin.journal.naming import names_of

OPERATOR = "operator"
REVIEW_DAYS = range(1, 3651)


def problems_with_looking_after(owner_id: int | None, review_days: int | None) -> Iterable[Problem]:
    """Yield what stands against an owner and a rhythm, each beside its field."""
    if owner_id is not None and not names_of(OPERATOR, [owner_id]):
        yield Problem("input.no_longer_there", "owner_id")
    if review_days is not None and review_days not in REVIEW_DAYS:
        limits = {"lowest": REVIEW_DAYS[0], "highest": REVIEW_DAYS[-1]}
        yield Problem("input.out_of_range", "review_days", limits)
    elif review_days and owner_id is None:
        yield Problem("group.review_needs_owner", "owner_id")


def owners_told(before: int | None, after: int | None) -> tuple[str | None, str | None]:
    """Return two owners in words, as the journal tells of a change."""
    names = names_of(OPERATOR, filter(None, (before, after)))
    return names.get(before or 0), names.get(after or 0)

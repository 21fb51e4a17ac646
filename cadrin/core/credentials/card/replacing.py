"""A card in place of another: what of it the new one takes over, and which issue comes next."""

from cadrin.core.credentials.card.life import ALIVE, CardStatus

STAYS_WITH_THE_OLD = ("status", "suspended_until", "issue_level")
"""What is the old card's own; all else that is said of it goes over to the one in its place."""


def gives_way(status: CardStatus, *, is_temporary: bool) -> bool:
    """Whether a new card takes this one's place: one that works, or would again, and was not lent
    for a day.

    >>> gives_way(CardStatus.SUSPENDED, is_temporary=False)
    True
    >>> gives_way(CardStatus.ISSUED, is_temporary=True), gives_way(CardStatus.LOST, is_temporary=False)
    (False, False)
    """
    return status in ALIVE and not is_temporary


def next_issue_level(level: int | None, highest: int | None) -> int | None:
    """Return the next issue of a card, where its format has issues and there is one more.

    >>> next_issue_level(None, 15), next_issue_level(14, 15), next_issue_level(15, 15)
    (1, 15, None)
    >>> next_issue_level(None, None) is None
    True
    """
    following = (level or 0) + 1
    return following if highest is not None and following <= highest else None

"""A card in place of another: what of it the new one takes over, and which issue comes next."""

STAYS_WITH_THE_OLD = ("status", "suspended_until", "issue_level")
"""What is the old card's own; all else that is said of it goes over to the one in its place."""


def next_issue_level(level: int | None, highest: int | None) -> int | None:
    """Return the next issue of a card, where its format has issues and there is one more.

    >>> next_issue_level(None, 15), next_issue_level(14, 15), next_issue_level(15, 15)
    (1, 15, None)
    >>> next_issue_level(None, None) is None
    True
    """
    following = (level or 0) + 1
    return following if highest is not None and following <= highest else None

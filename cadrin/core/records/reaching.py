"""Which acts may change what controllers hold of a cardholder; of the others nothing is sent."""

from collections.abc import Iterable

DESK_ONLY = frozenset(
    {
        "title",
        "email",
        "phones",
        "language",
        "born_on",
        "remarks",
        "department",
        "company",
        "kind",
        "standing_reason",
        "external_id",
    }
)
"""Fields of a cardholder that no controller is told."""


def may_reach_doors(action: str, changed: Iterable[str]) -> bool:
    """Say whether an act, in which these fields were changed, may reach controllers; in doubt it
    may.

    >>> may_reach_doors("cardholder.changed", ["title"])
    False
    >>> may_reach_doors("cardholder.changed", ["title", "last_name"])
    True
    """
    if action.startswith("photo."):
        return False
    return action != "cardholder.changed" or not DESK_ONLY.issuperset(changed)

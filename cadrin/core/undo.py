"""Take back one act on a cardholder's details: only where everything is still as the act
left it.
"""

from collections.abc import Mapping
from typing import Any

Changes = Mapping[str, tuple[Any, Any]]
"""Field to (before, after), as the journal keeps them."""


def as_before(now: Mapping[str, Any], changes: Changes) -> tuple[dict[str, Any], tuple[str, ...]]:
    """Return the values as they were before, and the fields that somebody has changed since.

    Fields that the changes do not name stay; with any field changed since, nothing is to be taken
    back.

    >>> as_before({"title": "Diver", "email": ""}, {"title": ("", "Diver")})
    ({'title': '', 'email': ''}, ())
    >>> as_before({"title": "Skipper"}, {"title": ("", "Diver")})[1]
    ('title',)
    """
    since = tuple(field for field, (_, after) in changes.items() if now.get(field) != after)
    return {**now, **{field: before for field, (before, _) in changes.items()}}, since

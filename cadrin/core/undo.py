"""Take back what was done: one act, only where everything is still as it left it; or all acts since
an instant, to know what was then.
"""

from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

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


class Done(NamedTuple):
    """One act on a thing. ``made`` and ``removed`` say that it began or ended with it."""

    thing_id: int
    verb: str
    changes: Changes


def as_it_was(
    now: Mapping[int, Mapping[str, Any]], done: Iterable[Done]
) -> dict[int, dict[str, Any]]:
    """Return things as they were before acts, which come the latest first.

    >>> acts = [Done(1, "removed", {"n": (5, None)}), Done(1, "changed", {"n": (4, 5)})]
    >>> as_it_was({2: {"n": 7}}, [*acts, Done(2, "made", {})])
    {1: {'n': 4}}
    """
    then = {id_: dict(fields) for id_, fields in now.items()}
    for act in done:
        if act.verb == "made":
            then.pop(act.thing_id, None)
        else:
            before = {field: pair[0] for field, pair in act.changes.items()}
            then[act.thing_id] = then.get(act.thing_id, {}) | before
    return then

"""What the things are called that entries, records and scopes are about: each room says it of its
own.
"""

from collections.abc import Callable, Iterable, Mapping

from django.db.models import Model

Names = Callable[[Iterable[int]], Mapping[int, str]]
"""Ids to the names of those that are there."""

_names: dict[str, Names] = {}


def name(kind: str, names: Names) -> None:
    """Say how things of a kind are called; once, when the room is made ready."""
    _names[kind] = names


def by_column(model: type[Model], column: str = "name") -> Names:
    """Return names that stand in a column."""

    def names(ids: Iterable[int]) -> Mapping[int, str]:
        return dict(model._default_manager.filter(pk__in=ids).values_list("pk", column))

    return names


def as_text(model: type[Model]) -> Names:
    """Return names that the things themselves say."""

    def names(ids: Iterable[int]) -> Mapping[int, str]:
        return {found.pk: str(found) for found in model._default_manager.filter(pk__in=ids)}

    return names


def names_of(kind: str, ids: Iterable[int]) -> Mapping[int, str]:
    """Return the names of those of the ids that are there; none for a kind that nobody names."""
    wanted = list(ids)
    return _names[kind](wanted) if wanted and kind in _names else {}

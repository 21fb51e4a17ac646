"""Whom an act on many, or an export, is about."""

from collections.abc import Iterator
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Q, QuerySet

from cadrin.operators.actor import Actor
from cadrin.people.scoping import people_seen
from cadrin.register.filters import Filters, matching


class Selection(NamedTuple):
    """Whom it is about: these, or all that match the filters without those that were taken out."""

    ids: tuple[int, ...] = ()
    filters: Filters | None = None
    without: tuple[int, ...] = ()

    def people(self, actor: Actor, at: datetime) -> QuerySet[Any]:
        """Return those it is about and whom the actor may see; whoever was taken out is still among
        them.
        """
        return people_seen(actor).filter(
            Q(pk__in=self.ids) if self.filters is None else matching(actor, self.filters, at)
        )


def chosen(actor: Actor, selection: Selection, at: datetime) -> list[int]:
    """Return the ids of whom a selection means, as far as the actor may see them, by id."""
    ids = selection.people(actor, at).order_by("id").values_list("id", flat=True)
    without = set(selection.without if selection.filters is not None else ())
    return [id_ for id_ in ids if id_ not in without]


def in_steps(ids: list[int], size: int) -> Iterator[list[int]]:
    """Return the ids so many at a time."""
    for start in range(0, len(ids), size):
        yield ids[start : start + size]

"""Whom an act on many, or an export, is about."""

from collections.abc import Iterator
from datetime import datetime
from typing import NamedTuple

from django.db.models import Q

from cadrin.people.models import Cardholder
from cadrin.register.filters import Filters, matching


class Selection(NamedTuple):
    """Whom it is about: these, or all that match the filters without those that were taken out."""

    ids: tuple[int, ...] = ()
    filters: Filters | None = None
    without: tuple[int, ...] = ()

    def match(self, at: datetime) -> Q:
        """Match those it is about; whoever was taken out is still among them."""
        return Q(pk__in=self.ids) if self.filters is None else matching(self.filters, at)


def chosen(selection: Selection, at: datetime) -> list[int]:
    """Give the ids of whom a selection means, by id."""
    people = Cardholder.objects.order_by("id")
    if selection.filters is None:
        return list(people.filter(pk__in=selection.ids).values_list("id", flat=True))
    without = set(selection.without)
    return [
        id_ for id_ in people.filter(matching(selection.filters, at)).values_list("id", flat=True) if id_ not in without
    ]


def in_steps(ids: list[int], size: int) -> Iterator[list[int]]:
    """Give the ids so many at a time."""
    for start in range(0, len(ids), size):
        yield ids[start : start + size]

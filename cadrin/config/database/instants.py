"""When something of somebody begins or ends."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import QuerySet


class Turn(NamedTuple):
    """An instant at which something of somebody begins or ends."""

    at: datetime
    who: int


class Window(NamedTuple):
    """What is asked of turns: later than ``after``, not later than ``until``; of ``among`` alone, if
    it is said.
    """

    after: datetime
    until: datetime
    among: frozenset[int] | None = None


def turns(
    rows: QuerySet[Any, Any], who: str, columns: Iterable[str], window: Window
) -> Iterator[Turn]:
    """Yield the turns in the columns of a table, whose column ``who`` says of whom they are."""
    if window.among is not None:
        rows = rows.filter(**{f"{who}__among": window.among})
    for column in columns:
        found = rows.filter(**{f"{column}__gt": window.after, f"{column}__lte": window.until})
        yield from (Turn(at, id_) for at, id_ in found.values_list(column, who) if id_ is not None)

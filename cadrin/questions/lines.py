"""What an answer is made of."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import NamedTuple

from cadrin.core.decision.reasons import Reason
from cadrin.core.validity import Span
from cadrin.operators.actor import Actor
from cadrin.people.scoping import people_seen


class Answer(NamedTuple):
    """One line of an answer; what does not belong to it stays empty. ``is_way_out`` says that it is
    about going out through the door.
    """

    cardholder_id: int | None = None
    name: str = ""
    number: str = ""
    department: str = ""
    door_id: int | None = None
    door: str = ""
    area: str = ""
    group: str = ""
    reason: Reason | None = None
    other_reason: Reason | None = None
    hours: float | None = None
    other_hours: float | None = None
    last_at: datetime | None = None
    is_way_out: bool = False


class Answered(NamedTuple):
    """An answer. ``has_way`` is false where no door leads there at all; ``as_now`` is what was changed
    since an instant of the past and is taken to have been as it is now; ``more`` is how many lines
    were left out.
    """

    lines: Sequence[Answer]
    has_way: bool = True
    as_now: frozenset[str] = frozenset()
    more: int = 0


def people_told(
    actor: Actor, ids: Iterable[int], most: int | None = None
) -> dict[int, tuple[str, str, str]]:
    """Return the name, number and department of those whom the actor may see, the first ``most`` by
    name, or all.
    """
    seen = people_seen(actor).filter(pk__among=list(ids)).order_by("sort_name", "id")
    rows = seen.values_list("id", "display_name", "number", "department__name")[:most]
    return {id_: (name, number, department or "") for id_, name, number, department in rows}


def hours_in(spans: Sequence[Span]) -> float:
    """Return how many hours bounded spans last."""
    seconds = sum((s.end - s.start).total_seconds() for s in spans if s.start and s.end)
    return round(seconds / 3600, 2)

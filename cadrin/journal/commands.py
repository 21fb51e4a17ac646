"""Write the journal. Call it within the transaction of the act."""

from collections.abc import Iterable, Mapping
from datetime import date, datetime
from typing import Any, NamedTuple

from cadrin.journal.models import Entry, Topic
from cadrin.operators.actor import Actor

Changes = Mapping[str, tuple[Any, Any]]
"""Field to (before, after), as JSON knows them."""


class About(NamedTuple):
    """What an act is about: ``version`` is the object's after the act, 0 where it has none."""

    kind: str
    object_id: int
    version: int = 0


class Act(NamedTuple):
    """One act to be written. ``raw`` has what ``changes`` words for the reader, as it is kept: ids for names."""

    action: str
    about: tuple[About, ...]
    changes: Changes = {}
    raw: Changes = {}


def record(actor: Actor, at: datetime, acts: Iterable[Act]) -> None:
    """Append acts to the journal, in order."""
    written = list(acts)
    entries = Entry.objects.bulk_create(
        [
            Entry(
                at=at,
                operator_id=actor.operator_id,
                operator_name=actor.name,
                action=act.action,
                changes={field: list(pair) for field, pair in act.changes.items()},
                raw={field: list(pair) for field, pair in act.raw.items()},
            )
            for act in written
        ]
    )
    Topic.objects.bulk_create(
        Topic(entry=entry, kind=about.kind, object_id=about.object_id, version=about.version)
        for entry, act in zip(entries, written, strict=True)
        for about in act.about
    )


def redact(kind: str, object_id: int, kept: frozenset[str]) -> None:
    """Take everything but the fields ``kept`` out of the entries about one thing: whoever it was is erased.

    The one change that is ever made to what was written, and it only takes away. What is about others as well
    was the same for all of them, and stays.
    """
    for entry in Entry.objects.filter(topics__kind=kind, topics__object_id=object_id).distinct():
        if entry.topics.filter(kind=kind).exclude(object_id=object_id).exists():
            continue
        entry.changes = {field: pair for field, pair in entry.changes.items() if field in kept}
        entry.raw = {field: pair for field, pair in entry.raw.items() if field in kept}
        entry.save(update_fields=["changes", "raw"])


def hand_over(kind: str, object_id: int, to_id: int) -> None:
    """Let the entries about one thing be about another, into which it was merged."""
    Topic.objects.filter(kind=kind, object_id=object_id).update(object_id=to_id, version=0)


def changes_between(before: Mapping[str, Any], after: Mapping[str, Any]) -> Changes:
    """Give the fields that differ. Instants are written as text."""

    def plain(value: Any) -> Any:
        return value.isoformat() if isinstance(value, date) else value

    return {
        field: (plain(before.get(field)), plain(after.get(field)))
        for field in {**before, **after}
        if before.get(field) != after.get(field)
    }

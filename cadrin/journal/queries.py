from collections.abc import Iterable, Iterator, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import BigIntegerField, CharField, QuerySet

from cadrin.config.database.reading import IDS, Given, RowsByIds
from cadrin.journal.models import Entry, Topic
from cadrin.outbox.rows import Rows


def history_of(
    kind: str,
    object_id: int,
    *,
    after_version: int | None = None,
    without: str = "",
    most: int = 200,
) -> Rows:
    """Return what was done to something, newest first; with ``after_version`` only what came later,
    oldest first.

    ``without`` is the beginning of the acts that are left out.
    """
    entries = Entry.objects.filter(topics__kind=kind, topics__object_id=object_id)
    if without:
        entries = entries.exclude(action__startswith=without)
    if after_version is not None:
        entries = entries.filter(topics__version__gt=after_version)
    found = list(
        entries.distinct()
        .order_by("-id")
        .values("id", "at", "operator_name", "action", "changes")[:most]
    )
    return found if after_version is None else found[::-1]


class Told(NamedTuple):
    """What an entry tells of one thing: field to (before, after), as it is kept where it is."""

    object_id: int
    action: str
    changes: dict[str, tuple[Any, Any]]
    raw: dict[str, tuple[Any, Any]]


def told_since(kind: str, at: datetime, ids: Iterable[int] | None = None) -> Iterator[Told]:
    """Yield what was done to things of a kind after an instant, the latest first."""
    since = Topic.objects.filter(kind=kind, entry__at__gt=at)
    if ids is not None:
        since = since.filter(object_id__in=list(ids))
    rows = since.order_by("-entry_id").values_list(
        "object_id", "entry__action", "entry__changes", "entry__raw"
    )
    for object_id, action, changes, raw in rows.iterator():
        yield Told(object_id, action, pairs(changes), pairs(raw))


def pairs(kept: Mapping[str, Any]) -> dict[str, tuple[Any, Any]]:
    """Return what an entry keeps as field to (before, after)."""
    return {field: (before, after) for field, (before, after) in kept.items()}


def changed_since(kind: str, at: datetime) -> set[int]:
    """Return the things of a kind that anything was done to after an instant."""
    since = Topic.objects.filter(kind=kind, entry__at__gt=at)
    return set(since.values_list("object_id", flat=True).distinct())


def latest_digest() -> str:
    """Return what every act changes: the digest of the latest entry; empty where nothing was ever
    done.
    """
    last = last_place()
    return last.digest if last else ""


class Place(NamedTuple):
    """A place in the journal: an entry and its digest, by which it is known again."""

    entry_id: int
    digest: str


def last_place() -> Place | None:
    """Return where the journal ends; None where nothing was ever done."""
    return next((Place(*last) for last in _last()), None)


_last = RowsByIds(lambda: Entry.objects.order_by("-id").values_list("id", "digest")[:1])
_digests = RowsByIds(lambda: Entry.objects.filter(pk__among=IDS).values_list("digest"))
_touched = RowsByIds(
    lambda: Topic.objects.filter(
        entry_id__gt=Given("after", BigIntegerField()), kind=Given("kind", CharField())
    ).values_list("object_id")
)


def touched_since(place: Place, kind: str) -> set[int] | None:
    """Return the things of a kind that anything was done to after a place in the journal; None where
    the journal has no such place: it is another one.
    """
    if [(place.digest,)] != _digests([place.entry_id]):
        return None
    return {id_ for (id_,) in _touched(after=place.entry_id, kind=kind)}


def entries() -> QuerySet[Entry]:
    """Return every entry, to be narrowed down."""
    return Entry.objects.all()


def topics() -> QuerySet[Topic]:
    """Return what every entry is about, to be narrowed down."""
    return Topic.objects.all()


def find_entry(entry_id: int, kind: str, object_id: int) -> Entry | None:
    """Return an entry if it is about something."""
    return Entry.objects.filter(pk=entry_id, topics__kind=kind, topics__object_id=object_id).first()

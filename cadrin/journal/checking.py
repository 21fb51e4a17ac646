"""Check the journal against its chain."""

from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from cadrin.core.chain import BEGINNING, Body, Broken, Link, first_broken
from cadrin.journal.commands import HANDED_OVER
from cadrin.journal.models import Entry, Topic

_AT_ONCE = 2000


class Checked(NamedTuple):
    """What a check found: how many entries there are, the digest of the last, and the first that is
    broken.
    """

    entries: int
    last_number: int
    last_digest: str
    broken: Broken | None


def check_journal(noted: tuple[int, str] | None = None) -> Checked:
    """Check every entry. ``noted`` is an entry's number and digest that somebody wrote down
    earlier.

    A journal from which the last entries were cut off is whole as far as it goes: only what was
    noted finds that.
    """
    broken = first_broken(_links()) or _topics_broken()
    if noted is not None and broken is None:
        is_there = Entry.objects.filter(pk=noted[0], digest=noted[1]).exists()
        broken = None if is_there else Broken(noted[0], "gone")
    last = Entry.objects.order_by("-id").values_list("id", "digest").first() or (0, BEGINNING)
    return Checked(Entry.objects.count(), *last, broken)


def _links() -> Iterator[Link]:
    for entry in Entry.objects.order_by("id").iterator(chunk_size=_AT_ONCE):
        yield Link(
            entry.pk,
            entry.at,
            entry.operator_id,
            entry.operator_name,
            entry.address,
            entry.action,
            tuple((kind, object_id, version) for kind, object_id, version in entry.about),
            Body(entry.changes, entry.raw),
            entry.salt,
            entry.body_digest,
            entry.digest,
        )


def _topics_broken() -> Broken | None:
    """Find the first entry that is no longer found by what it is about, or by something else."""
    merged = {
        (kind, raw[HANDED_OVER][0]): raw[HANDED_OVER][1]
        for raw, ((kind, _, _), *_) in Entry.objects.filter(raw__has_key=HANDED_OVER).values_list(
            "raw", "about"
        )
    }

    def now(kind: str, object_id: int, version: int) -> tuple[str, int, int]:
        while (kind, object_id) in merged:
            object_id, version = merged[kind, object_id], 0
        return kind, object_id, version

    found: dict[int, Counter[tuple[str, int, int]]] = {}
    rows = Topic.objects.values_list("entry_id", "kind", "object_id", "version")
    for entry_id, topic in ((row[0], (row[1], row[2], row[3])) for row in rows.iterator()):
        found.setdefault(entry_id, Counter())[topic] += 1
    for id_, about in Entry.objects.order_by("id").values_list("id", "about").iterator():
        if found.get(id_, Counter()) != Counter(now(*item) for item in about):
            return Broken(id_, "topics")
    return None

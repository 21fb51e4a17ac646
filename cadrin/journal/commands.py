"""Write the journal. Call it within the transaction of the act."""

import secrets
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime
from typing import Any, NamedTuple

from cadrin.config.database.inserting import insert_rows
from cadrin.core.chain import BEGINNING, ERASED, Body, digest_of_body, digest_of_entry
from cadrin.core.records.withdrawals import takes_rights_away
from cadrin.journal.models import Entry, Topic
from cadrin.journal.queries import last_place
from cadrin.operators.actor import Actor

Changes = Mapping[str, tuple[Any, Any]]
"""Field to (before, after), as JSON knows them."""


HANDED_OVER = "handed_over"
"""The field of an entry that merged two things: the id whose history went to the other."""
NEVER_TAKEN_OUT = frozenset({ERASED, HANDED_OVER})


class About(NamedTuple):
    """What an act is about: ``version`` is the object's after the act, 0 where it has none."""

    kind: str
    object_id: int
    version: int = 0


class Act(NamedTuple):
    """One act to be written. ``raw`` has what ``changes`` words for the reader, as it is kept: ids
    for names.
    """

    action: str
    about: tuple[About, ...]
    changes: Changes = {}
    raw: Changes = {}


def record(actor: Actor, at: datetime, acts: Iterable[Act]) -> None:
    """Append acts to the journal, in order, each chained to the one before.

    The transaction holds the writer's turn, so nobody else appends meanwhile.
    """
    written = list(acts)
    if not written:
        return
    number, digest = last_place() or (0, BEGINNING)
    made = []
    for id_, act in enumerate(written, number + 1):
        made.append(_entry(id_, actor, at, act, digest))
        digest = made[-1].digest
    insert_rows(Entry, _Row._fields, made)
    insert_rows(
        Topic,
        ("entry_id", "kind", "object_id", "version"),
        (
            (entry.id, *about)
            for entry, act in zip(made, written, strict=True)
            for about in act.about
        ),
    )


class _Row(NamedTuple):
    """An entry, by the names of its columns."""

    id: int
    at: datetime
    operator_id: int | None
    operator_name: str
    address: str
    action: str
    about: Sequence[Sequence[str | int]]
    changes: Changes
    raw: Changes
    salt: str
    body_digest: str
    digest: str


def _entry(id_: int, actor: Actor, at: datetime, act: Act, before: str) -> _Row:
    body = Body(
        {field: list(pair) for field, pair in act.changes.items()},
        {field: list(pair) for field, pair in act.raw.items()},
    )
    salt = secrets.token_hex(16)
    body_digest = digest_of_body(body, salt)
    operator = (actor.operator_id, actor.name, actor.address)
    digest = digest_of_entry(before, at, operator, act.action, act.about, body_digest)
    return _Row(
        id_,
        at,
        *operator,
        act.action,
        [[*about] for about in act.about],
        body.changes,
        body.raw,
        salt,
        body_digest,
        digest,
    )


def take_rights_away(acts: Iterable[Act]) -> bool:
    """Say whether any of these acts takes from its cardholders what may open a door now."""
    return any(takes_rights_away(act.action, act.changes) for act in acts)


def redact(kind: str, object_id: int, kept: frozenset[str]) -> Changes:
    """Take everything but the fields ``kept`` out of the entries about one thing: whoever it was is
    erased.

    The one change that is ever made to what was written, and it only takes away. What is about
    others as well was the same for all of them, and stays. Gives what the entry of the erasing must
    say of it (its ``raw``).
    """
    left = []
    for entry in (
        Entry.objects.filter(topics__kind=kind, topics__object_id=object_id)
        .distinct()
        .order_by("id")
    ):
        if entry.topics.filter(kind=kind).exclude(object_id=object_id).exists():
            continue
        entry.changes = {field: pair for field, pair in entry.changes.items() if field in kept}
        entry.raw = {
            field: pair
            for field, pair in entry.raw.items()
            if field in kept or field in NEVER_TAKEN_OUT
        }
        entry.salt = ""
        entry.save(update_fields=["changes", "raw", "salt"])
        left.append([entry.pk, digest_of_body(Body(entry.changes, entry.raw), "")])
    return {ERASED: (None, left)}


def hand_over(kind: str, object_id: int, to_id: int) -> None:
    """Let the entries about one thing be about another, into which it was merged.

    The entry of the merging must say so in its ``raw``, as `HANDED_OVER`: from what, to what.
    """
    Topic.objects.filter(kind=kind, object_id=object_id).update(object_id=to_id, version=0)


def changes_between(before: Mapping[str, Any], after: Mapping[str, Any]) -> Changes:
    """Return the fields that differ. Instants are written as text."""

    def plain(value: Any) -> Any:
        return value.isoformat() if isinstance(value, date) else value

    return {
        field: (plain(before.get(field)), plain(after.get(field)))
        for field in {**before, **after}
        if before.get(field) != after.get(field)
    }

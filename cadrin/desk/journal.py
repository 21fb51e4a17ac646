"""Read the journal for the screen: what an actor may see of it, with names for what it is about."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Exists, OuterRef, Q

from cadrin.access.scoping import group_ids_hidden
from cadrin.intake.states import INTAKE
from cadrin.journal.naming import names_of
from cadrin.journal.queries import entries as every_entry
from cadrin.journal.queries import history_of
from cadrin.journal.queries import topics as every_topic
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.scoping import only_seen, people_seen

ACTS = (
    "cardholder", "card", "membership", "photo", "group", "schedule", "format", "box", "department",
    "company", "kind",
    "own_field", "register", "batch", "intake", "site", "area", "door", "release_group", "presence",
    "controller", "session", "operator", "role", "token",
    "pin", "pin_list", "plate", "reader", "card_settings",
    "finger", "face", "consent", "card_alone", "biometric_settings", "unknown_card",
)  # fmt: skip
"""What acts are about, as the first part of their names says it."""
NAMED_TOPICS = 5
_COLUMNS = ("id", "at", "operator_name", "address", "action", "changes", "salt")


class JournalFilters(NamedTuple):
    """What is asked of the journal; all that are set must hold. ``since`` is included, ``until`` is
    not.
    """

    operator: int | None = None
    act: str | None = None
    cardholder: int | None = None
    intake: int | None = None
    since: datetime | None = None
    until: datetime | None = None


def entries(
    actor: Actor, filters: JournalFilters, *, before: int | None = None, most: int = 100
) -> list[dict[str, Any]]:
    """Return entries of the journal, newest first; ``before`` is the id to go on from."""
    found = every_entry().filter(_seen(actor))
    if filters.operator is not None:
        found = found.filter(operator_id=filters.operator)
    if filters.act is not None:
        # "/" follows "."
        found = found.filter(action__gte=f"{filters.act}.", action__lt=f"{filters.act}/")
    for kind, object_id in ((CARDHOLDER, filters.cardholder), (INTAKE, filters.intake)):
        if object_id is not None:
            about = every_topic().filter(kind=kind, object_id=object_id).values("entry_id")
            found = found.filter(pk__in=about)
    if filters.since is not None:
        found = found.filter(at__gte=filters.since)
    if filters.until is not None:
        found = found.filter(at__lt=filters.until)
    if before is not None:
        found = found.filter(pk__lt=before)
    rows = found.order_by("-id").values(*_COLUMNS)[:most]
    return _with_topics(actor, [dict(row) for row in rows])


def history_seen(actor: Actor, cardholder_id: int) -> Rows:
    """Return what was done to somebody, without what became of groups out of the actor's reach."""
    acts = history_of(CARDHOLDER, cardholder_id)
    if not (hidden := group_ids_hidden(actor)):
        return acts
    about_hidden = set(
        every_topic()
        .filter(entry_id__in=[act["id"] for act in acts], kind="group", object_id__in=hidden)
        .values_list("entry_id", flat=True)
    )
    return [act for act in acts if act["id"] not in about_hidden]


def history_of_card(actor: Actor, card_id: int, most: int = 100) -> list[dict[str, Any]]:
    """Return what was done with a card, newest first, as far as the actor may see it."""
    about = every_topic().filter(kind="card", object_id=card_id).values("entry_id")
    rows = every_entry().filter(_seen(actor), pk__in=about).order_by("-id")
    return _with_topics(actor, [dict(row) for row in rows.values(*_COLUMNS)[:most]])


def _seen(actor: Actor) -> Q:
    """Match what an actor may read: whoever is kept to a part, their own acts and those on people
    they may see.
    """
    if actor.scope.is_whole:
        return Q()
    topics = every_topic().filter(entry_id=OuterRef("pk"))
    people = topics.filter(kind=CARDHOLDER, object_id__in=people_seen(actor).values("id"))
    about_hidden = topics.filter(kind="group", object_id__in=group_ids_hidden(actor))
    own = Q(operator_id=actor.operator_id, operator__isnull=False)
    return (Q(Exists(people)) | own) & ~Q(Exists(about_hidden))


def _with_topics(actor: Actor, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Say what entries are about, as far as the actor may see it."""
    topics: dict[int, list[tuple[str, int]]] = {}
    found = every_topic().filter(entry_id__in=[row["id"] for row in rows]).order_by("id")
    for entry_id, kind, object_id in found.values_list("entry_id", "kind", "object_id"):
        topics.setdefault(entry_id, []).append((kind, object_id))
    people = only_seen(
        actor, (id_ for those in topics.values() for kind, id_ in those if kind == CARDHOLDER)
    )
    if not actor.scope.is_whole:
        topics = {
            id_: [t for t in those if t[0] != CARDHOLDER or t[1] in people]
            for id_, those in topics.items()
        }
    names = _names(topic for those in topics.values() for topic in those[:NAMED_TOPICS])
    for row in rows:
        those = topics.get(row["id"], [])
        row["topics"] = [
            {"kind": kind, "id": id_, "name": names.get((kind, id_), "")}
            for kind, id_ in those[:NAMED_TOPICS]
        ]
        row["topic_count"] = len(those)
        row["is_erased"] = not row.pop("salt")
    return rows


def _names(topics: Iterable[tuple[str, int]]) -> dict[tuple[str, int], str]:
    ids: dict[str, set[int]] = {}
    for kind, id_ in topics:
        ids.setdefault(kind, set()).add(id_)
    return {
        (kind, id_): name
        for kind, wanted in ids.items()
        for id_, name in names_of(kind, wanted).items()
    }

"""What all acts on places share: the version that a draft was read at, names, and the entry in the journal."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, Protocol

from django.db.models import Model, QuerySet

from cadrin.core.errors import Problem, Stale
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor

LONGEST_NAME = 60


class Versioned(Protocol):
    pk: Any
    version: int

    def save(self) -> None: ...


def refuse_stale(kind: str, row: Versioned, version: int) -> None:
    """Raises Stale where something was saved by somebody else since it was read."""
    if row.version != version:
        raise Stale(row.version, history_of(kind, row.pk or 0, after_version=version))


def problems_with_name(kind: str, name: str, others: QuerySet[Any]) -> Iterable[Problem]:
    """Yield what is wrong with a name that nothing else of its kind may have."""
    if not name.strip():
        yield Problem("input.blank", "name")
    elif len(name.strip()) > LONGEST_NAME:
        yield Problem("input.too_long", "name", {"most": LONGEST_NAME})
    elif others.filter(name__iexact=name.strip()).exists():
        yield Problem(f"{kind}.name_taken", "name", {"name": name.strip()})


def keep(
    actor: Actor,
    kind: str,
    row: Versioned,
    after: Mapping[str, Any],
    at: datetime,
    told: Mapping[str, tuple[Any, Any]] | None = None,
) -> bool:
    """Save what differs with its journal entry, and say whether anything did.

    ``told`` says fields in words, in place of the ids in them.
    """
    is_new = row.pk is None
    before = {} if is_new else {name: getattr(row, name) for name in after}
    changes = dict(changes_between(before, after))
    for name, pair in (told or {}).items():
        if changes.pop(f"{name}_id", None) is not None:
            changes[name] = pair
    if not changes:
        return False
    for name, value in after.items():
        setattr(row, name, value)
    row.version = 1 if is_new else row.version + 1
    row.save()
    named = changes if "name" in changes else {"name": (after["name"], after["name"]), **changes}
    action = f"{kind}.made" if is_new else f"{kind}.changed"
    record(actor, at, [Act(action, (About(kind, row.pk, row.version),), named)])
    return True


def removed(actor: Actor, kind: str, row: Model, at: datetime) -> None:
    """Remove something that nothing leans on, with its journal entry."""
    id_, name = row.pk, getattr(row, "name", "")
    row.delete()
    record(actor, at, [Act(f"{kind}.removed", (About(kind, id_),), {"name": (name, None)})])

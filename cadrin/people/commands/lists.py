"""Make, change and retire what cardholders are chosen into: companies and kinds."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction

from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.people.names import fold
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.models import Company, Kind

Listed = Company | Kind


class ListedDraft(NamedTuple):
    """A company or a kind as an operator wants it; only companies have a short name."""

    name: str
    short_name: str = ""
    is_retired: bool = False
    version: int = 0


class _List(NamedTuple):
    model: type[Company] | type[Kind]
    topic: str
    longest: Mapping[str, int]


COMPANIES = _List(Company, "company", {"name": 80, "short_name": 20})
KINDS = _List(Kind, "kind", {"name": 40})


def problems_with_listed(which: _List, draft: ListedDraft, id_: int | None) -> tuple[Problem, ...]:
    """Return everything against saving it, each beside its field."""
    problems = []
    if not draft.name.strip():
        problems.append(Problem("input.blank", "name"))
    others = list(which.model.objects.exclude(pk=id_ or 0))
    for field, most in which.longest.items():
        wanted = getattr(draft, field).strip()
        if len(wanted) > most:
            problems.append(Problem("input.too_long", field, {"most": most}))
        if wanted and any(fold(getattr(other, field)) == fold(wanted) for other in others):
            problems.append(Problem("listed.taken", field, {"name": wanted}))
    return tuple(problems)


@transaction.atomic
def save_listed(
    actor: Actor, which: _List, id_: int | None, draft: ListedDraft, at: datetime
) -> int:
    """Make a company or a kind, or save one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    row: Listed | None = (
        which.model(version=0) if id_ is None else which.model.objects.filter(pk=id_).first()
    )
    if row is None:
        raise NotFound.of("listed.not_found")
    if row.version != draft.version:
        raise Stale(row.version, history_of(which.topic, row.pk, after_version=draft.version))
    if problems := problems_with_listed(which, draft, id_):
        raise Invalid(problems)
    after: dict[str, Any] = {name: getattr(draft, name).strip() for name in which.longest}
    after["is_retired"] = draft.is_retired
    changes = changes_between({name: getattr(row, name) for name in after}, after)
    for name, value in after.items():
        setattr(row, name, value)
    row.version += 1
    row.save()
    action = f"{which.topic}.made" if id_ is None else f"{which.topic}.changed"
    record(actor, at, [Act(action, (About(which.topic, row.pk, row.version),), changes)])
    return row.pk

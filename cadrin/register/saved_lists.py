"""Lists kept under a name: an operator's own, and those shared with everybody."""

from typing import NamedTuple

from django.db import transaction
from django.db.models import Q

from cadrin.core.errors import Invalid, NotFound, NotPermitted, Problem
from cadrin.core.people.names import fold
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.rows import Rows
from cadrin.register.models import SavedList

LONGEST_NAME = 60


class SavedListDraft(NamedTuple):
    """A list as an operator wants to keep it."""

    name: str
    is_shared: bool
    filters: dict[str, object]
    columns: tuple[str, ...]
    sort: str


def saved_lists_for(operator_id: int | None) -> Rows:
    """Return the views an operator sees, the shared ones first."""
    seen = SavedList.objects.filter(Q(operator=None) | Q(operator_id=operator_id)).order_by(
        "operator_id", "name"
    )
    return [dict(row) | {"is_shared": row["operator_id"] is None} for row in seen.values()]


@transaction.atomic
def save_list(actor: Actor, draft: SavedListDraft) -> None:
    """Keep a list under a name; the same name again replaces it. Sharing one needs the permission
    to set up.

    Raises Invalid or NotPermitted.
    """
    actor.require(Permission.SET_UP if draft.is_shared else Permission.SEE)
    if not draft.is_shared and actor.operator_id is None:
        raise NotPermitted.of("operator.not_permitted")  # a script has nothing of its own
    name = draft.name.strip()
    problems = [Problem("input.blank", "name")] if not name else []
    if len(name) > LONGEST_NAME:
        problems.append(Problem("input.too_long", "name", {"most": LONGEST_NAME}))
    if problems:
        raise Invalid(problems)
    owner = None if draft.is_shared else actor.operator_id
    known = SavedList.objects.filter(Q(operator=None) if owner is None else Q(operator_id=owner))
    same = [item for item in known if fold(item.name) == fold(name)]
    view = same[0] if same else SavedList(operator_id=owner)
    view.name, view.filters, view.columns, view.sort = (
        name,
        draft.filters,
        list(draft.columns),
        draft.sort,
    )
    view.save()


@transaction.atomic
def remove_list(actor: Actor, view_id: int) -> None:
    """Forget a view: one's own, or with the permission to set up a shared one. Raises NotFound or
    NotPermitted.
    """
    view = SavedList.objects.filter(
        Q(operator=None) | Q(operator_id=actor.operator_id), pk=view_id
    ).first()
    if view is None:
        raise NotFound.of("view.not_found")
    if view.operator_id is None:
        actor.require(Permission.SET_UP)
    view.delete()

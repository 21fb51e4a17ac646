"""What an operator wants to do to many, and to whom."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from cadrin.access.models import AccessGroup, Membership
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.bulk import BulkAct, BulkOrder, Subject
from cadrin.core.errors import Problem
from cadrin.core.people.details import LONGEST
from cadrin.core.validity import Standing
from cadrin.operators.actor import Actor
from cadrin.people.models import Cardholder, Company, Department, Kind
from cadrin.people.scoping import departments_seen

BULK_CHANGE = "batch"  # as the journal has it since its first day
CHOSEN_FROM: Mapping[BulkAct, Any] = {
    BulkAct.DEPARTMENT: Department,
    BulkAct.COMPANY: Company,
    BulkAct.KIND: Kind,
    BulkAct.ADD_GROUP: AccessGroup,
    BulkAct.REMOVE_GROUP: AccessGroup,
}
_FIELDS = (
    "department_id",
    "company_id",
    "kind_id",
    "standing_reason",
    "suspended_until",
    "activation_at",
    "expiry_at",
)


class BulkDraft(NamedTuple):
    """What an operator wants to do; the value is an id, a standing, or an instant as ISO 8601
    writes it.
    """

    act: BulkAct
    value: int | str | None
    reason: str = ""

    @property
    def order(self) -> BulkOrder:
        value: Any = self.value
        if self.act is BulkAct.STANDING:
            value = Standing(value)
        elif self.act is BulkAct.EXPIRY and value:
            value = datetime.fromisoformat(value)
        return BulkOrder(self.act, value, self.reason)


def problems_with_batch(actor: Actor, draft: BulkDraft, count: int) -> tuple[Problem, ...]:
    """Return everything against beginning the batch; it can put nobody out of the actor's reach."""
    problems = []
    if not count:
        problems.append(Problem("batch.nobody", None))
    if len(draft.reason) > LONGEST["standing_reason"]:
        problems.append(Problem("input.too_long", "reason", {"most": LONGEST["standing_reason"]}))
    model = CHOSEN_FROM.get(draft.act)
    if model and draft.value is not None:
        row = model.objects.filter(pk=draft.value).first()
        if row is None or not _is_within(actor, draft):
            problems.append(Problem("input.no_longer_there", "value"))
        elif getattr(row, "is_retired", False):
            problems.append(Problem("input.retired", "value", {"name": row.name}))
    if draft.value is None and not _is_within(actor, draft):
        problems.append(Problem("scope.needed", "value"))
    if (
        draft.act in (BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP, BulkAct.STANDING)
        and draft.value is None
    ):
        problems.append(Problem("input.blank", "value"))
    return tuple(problems)


def _is_within(actor: Actor, draft: BulkDraft) -> bool:
    """Say whether what people are put into is within the actor's reach; nothing is out of it."""
    match draft.act:
        case BulkAct.DEPARTMENT:
            within = departments_seen(actor)
        case BulkAct.COMPANY:
            within = actor.scope.companies
        case BulkAct.ADD_GROUP | BulkAct.REMOVE_GROUP:
            return draft.value not in group_ids_hidden(actor)
        case _:
            return True
    return within is None or draft.value in within


def subjects(ids: Iterable[int]) -> dict[int, Subject]:
    """Return cardholders as far as a batch is concerned, in two queries; those that are not there
    are left out.
    """
    wanted = list(ids)
    groups: dict[int, dict[int, tuple[datetime | None, datetime | None]]] = {}
    for holder_id, group_id, *span in Membership.objects.filter(
        cardholder_id__in=wanted
    ).values_list("cardholder_id", "group_id", "activation_at", "expiry_at"):
        groups.setdefault(holder_id, {})[group_id] = (span[0], span[1])
    people = Cardholder.objects.filter(pk__in=wanted).values(
        "id", "standing", "erased_at", *_FIELDS
    )
    return {
        row["id"]: Subject(
            **{name: row[name] for name in _FIELDS},
            standing=Standing(row["standing"]),
            groups=groups.get(row["id"], {}),
            is_erased=row["erased_at"] is not None,
        )
        for row in people
    }

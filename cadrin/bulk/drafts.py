"""What an operator wants to do to many, and to whom."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from cadrin.access.commands.memberships import memberships_of
from cadrin.access.meeting import groups_apart
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.bulk import BulkAct, BulkOrder, Subject
from cadrin.core.errors import Problem
from cadrin.core.people.details import LONGEST
from cadrin.core.validity import ALWAYS, Span, Standing, problems_with_span
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.people.lists import is_retired
from cadrin.people.queries import columns_of
from cadrin.people.scoping import departments_seen

BULK_CHANGE = "batch"  # as the journal has it since its first day
CHOSEN_FROM: Mapping[BulkAct, str] = {
    BulkAct.DEPARTMENT: "department",
    BulkAct.COMPANY: "company",
    BulkAct.KIND: "kind",
    BulkAct.ADD_GROUP: "group",
    BulkAct.REMOVE_GROUP: "group",
}
"""What an act chooses from, as it is named."""
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
    writes it. Into a group people are put for the time of a ``span``.
    """

    act: BulkAct
    value: int | str | None
    reason: str = ""
    span: Span = ALWAYS

    @property
    def order(self) -> BulkOrder:
        value: Any = self.value
        if self.act is BulkAct.STANDING:
            value = Standing(value)
        elif self.act is BulkAct.EXPIRY and value:
            value = datetime.fromisoformat(value)
        is_added = self.act is BulkAct.ADD_GROUP and isinstance(value, int)
        return BulkOrder(
            self.act,
            value,
            self.reason,
            frozenset(groups_apart(value)) if is_added else frozenset(),
            (self.span.start, self.span.end),
        )


def problems_with_batch(actor: Actor, draft: BulkDraft, count: int) -> tuple[Problem, ...]:
    """Return everything against beginning the batch; it can put nobody out of the actor's reach."""
    problems = []
    if not count:
        problems.append(Problem("batch.nobody", None))
    if len(draft.reason) > LONGEST["standing_reason"]:
        problems.append(Problem("input.too_long", "reason", {"most": LONGEST["standing_reason"]}))
    problems += problems_with_span(draft.span)
    kind = CHOSEN_FROM.get(draft.act)
    if kind and isinstance(draft.value, int):
        name = names_of(kind, [draft.value]).get(draft.value)
        if name is None or not _is_within(actor, draft):
            problems.append(Problem("input.no_longer_there", "value"))
        elif is_retired(kind, draft.value):
            problems.append(Problem("input.retired", "value", {"name": name}))
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
    memberships = memberships_of(wanted)
    return {
        row["id"]: Subject(
            **{name: row[name] for name in _FIELDS},
            standing=Standing(row["standing"]),
            groups={
                membership.group_id: (membership.activation_at, membership.expiry_at)
                for membership in memberships[row["id"]]
            },
            is_erased=row["erased_at"] is not None,
        )
        for row in columns_of(wanted, ("id", "standing", "erased_at", *_FIELDS))
    }

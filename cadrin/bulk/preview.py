"""What a batch would do, before it begins."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from cadrin.access.queries import doors_of_group
from cadrin.bulk.drafts import BulkDraft, problems_with_batch, subjects
from cadrin.core.bulk import TOUCHES_DOORS, LeftAlone, changed
from cadrin.core.errors import Problem
from cadrin.delivery.queries import carrying_at, count_records_of
from cadrin.delivery.wanted import plans_here
from cadrin.operators.actor import Actor
from cadrin.people.queries import count_matching, display_names
from cadrin.register.selection import Selection, chosen, in_steps

_EXAMPLES = 5


@dataclass(frozen=True, slots=True)
class BulkPreview:
    """What a batch would do: how many it changes, whom it leaves alone and why, and what goes to
    controllers.
    """

    problems: tuple[Problem, ...]
    total: int
    changed: int
    left_alone: Mapping[LeftAlone, int]
    examples: Mapping[LeftAlone, list[str]]
    records: int
    doors: tuple[int, ...]


def preview_bulk_change(
    actor: Actor, draft: BulkDraft, selection: Selection, at: datetime
) -> BulkPreview:
    """Work out what the batch would do. Nothing is saved."""
    ids = chosen(actor, selection, at)
    problems = problems_with_batch(actor, draft, len(ids))
    if problems:
        return BulkPreview(problems, len(ids), 0, {}, {}, 0, ())
    changing: list[int] = []
    alone: dict[LeftAlone, list[int]] = {}
    order = draft.order
    for some in in_steps(ids, 5000):
        for id_, subject in subjects(some).items():
            after = changed(subject, order)
            if isinstance(after, LeftAlone):
                alone.setdefault(after, []).append(id_)
            else:
                changing.append(id_)
    examples = {
        why: list(display_names(those[:_EXAMPLES]).values()) for why, those in alone.items()
    }
    return BulkPreview(
        problems,
        len(ids),
        len(changing),
        {why: len(those) for why, those in alone.items()},
        examples,
        _records(draft, changing),
        tuple(doors_of_group(order.group_id)),
    )


def _records(draft: BulkDraft, ids: list[int]) -> int:
    """Count the records that go to controllers: a group's people go to those with its doors, others
    where they are.
    """
    if draft.act not in TOUCHES_DOORS:
        return 0
    group_id = draft.order.group_id
    if group_id is None:
        return sum(count_records_of(some) for some in in_steps(ids, 5000))
    known_at = [here for here in plans_here().values() if group_id in here.groups]
    return sum(
        count_matching(carrying_at(here), some) for here in known_at for some in in_steps(ids, 5000)
    )

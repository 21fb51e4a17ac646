"""Save a department together with the access groups that are proposed to whoever comes into it."""

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction

from cadrin.access.models import AccessGroup, DefaultGroup
from cadrin.core.errors import Invalid, Problem
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.people.commands.departments import (
    DEPARTMENT,
    DepartmentDraft,
    move_version,
    save_department,
)


@transaction.atomic
def save_department_with_groups(
    actor: Actor,
    department_id: int | None,
    draft: DepartmentDraft,
    group_ids: Sequence[int],
    at: datetime,
) -> int:
    """Save a department and its default access groups in one act, or nothing, and give its id.

    Nobody's access changes by it: the groups are proposed when somebody comes into the department.
    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    names = dict(AccessGroup.objects.filter(pk__in=group_ids).values_list("id", "name"))
    if len(names) < len(set(group_ids)):
        raise Invalid([Problem("input.no_longer_there", "default_groups")])
    id_ = save_department(actor, department_id, draft, at)
    had = dict(
        DefaultGroup.objects.filter(department_id=id_).values_list("group_id", "group__name")
    )
    if set(had) != set(names):
        DefaultGroup.objects.filter(department_id=id_).exclude(group_id__in=names).delete()
        new = [group_id for group_id in names if group_id not in had]
        DefaultGroup.objects.bulk_create(
            DefaultGroup(department_id=id_, group_id=group_id) for group_id in new
        )
        move_version(id_, draft.version)
        changes = {"default_groups": (sorted(had.values()), sorted(names.values()))}
        record(actor, at, [Act("department.changed", (About(DEPARTMENT, id_),), changes)])
    return id_

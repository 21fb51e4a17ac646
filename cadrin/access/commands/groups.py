"""Make, change and remove access groups, and put many people into one."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction

from cadrin.access.commands.memberships import GROUP
from cadrin.access.models import AccessGroup, Grant
from cadrin.access.queries import get_group
from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery, move_plan_version
from cadrin.outbox.subjects import Subject


class GrantDraft(NamedTuple):
    """One door with one schedule."""

    door_id: int
    schedule_id: int


class GroupDraft(NamedTuple):
    """An access group as an operator wants it. ``version`` is the one it was read at; 0 for a new
    one. One that ``overrides`` opens doors in their closed hours too.
    """

    name: str
    remarks: str
    grants: tuple[GrantDraft, ...]
    version: int = 0
    overrides: bool = False


def problems_with_group(draft: GroupDraft, group_id: int | None) -> tuple[Problem, ...]:
    """Return everything against saving the group, each beside its field."""
    problems = []
    if not draft.name.strip():
        problems.append(Problem("input.blank", "name"))
    if (
        AccessGroup.objects.filter(name__iexact=draft.name.strip())
        .exclude(pk=group_id or 0)
        .exists()
    ):
        problems.append(Problem("group.name_taken", "name", {"name": draft.name}))
    doors = names_of("door", (grant.door_id for grant in draft.grants))
    schedules = names_of("schedule", (grant.schedule_id for grant in draft.grants))
    for place, grant in enumerate(draft.grants):
        if grant.door_id not in doors:
            problems.append(Problem("input.no_longer_there", f"grants.{place}.door"))
        if grant.schedule_id not in schedules:
            problems.append(Problem("input.no_longer_there", f"grants.{place}.schedule"))
        if grant in draft.grants[:place]:
            problems.append(Problem("grant.twice", f"grants.{place}.door"))
    return tuple(problems)


@transaction.atomic
def save_group(actor: Actor, group_id: int | None, draft: GroupDraft, at: datetime) -> int:
    """Make an access group, or save one, and give its id. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.GROUPS)
    group = AccessGroup(version=0) if group_id is None else get_group(actor, group_id)
    if group.version != draft.version:
        raise Stale(group.version, history_of(GROUP, group.pk, after_version=draft.version))
    if problems := problems_with_group(draft, group_id):
        raise Invalid(problems)
    had = (
        {}
        if group_id is None
        else {GrantDraft(g.door_id, g.schedule_id): g.pk for g in group.grants.all()}
    )
    changes: dict[str, tuple[Any, Any]] = {
        name: (getattr(group, name) or None, after)
        for name, after in (("name", draft.name.strip()), ("remarks", draft.remarks))
        if getattr(group, name) != after
    } | _grant_changes(tuple(had), draft.grants)
    if group.overrides != draft.overrides:
        changes["overrides"] = (group.overrides, draft.overrides)
    if not changes:
        return group.pk
    group.name, group.remarks, group.version = draft.name.strip(), draft.remarks, group.version + 1
    group.overrides = draft.overrides
    group.save()
    Grant.objects.filter(
        pk__in=[pk for grant, pk in had.items() if grant not in draft.grants]
    ).delete()
    Grant.objects.bulk_create(
        Grant(group=group, door_id=g.door_id, schedule_id=g.schedule_id)
        for g in draft.grants
        if g not in had
    )
    action = "group.made" if group_id is None else "group.changed"
    record(actor, at, [Act(action, (About(GROUP, group.pk, group.version),), changes)])
    move_plan_version()
    mark_for_delivery(Subject.GROUP, [group.pk])
    return group.pk


def _grant_changes(
    before: Sequence[GrantDraft], after: Sequence[GrantDraft]
) -> dict[str, tuple[list[str], list[str]]]:
    if set(before) == set(after):
        return {}
    doors = names_of("door", {grant.door_id for grant in (*before, *after)})
    schedules = names_of("schedule", {grant.schedule_id for grant in (*before, *after)})

    def words(grants: Sequence[GrantDraft]) -> list[str]:
        return sorted(f"{doors[grant.door_id]}: {schedules[grant.schedule_id]}" for grant in grants)

    return {"grants": (words(before), words(after))}


@transaction.atomic
def remove_group(actor: Actor, group_id: int, at: datetime) -> None:
    """Remove an access group that has no people. Raises Invalid when it has some, NotFound or
    NotPermitted.
    """
    actor.require(Permission.GROUPS)
    group = get_group(actor, group_id)
    if people := group.memberships.count():
        raise Invalid.of("group.has_people", None, count=people)
    name = group.name
    group.delete()
    record(actor, at, [Act("group.removed", (About(GROUP, group_id),), {"name": (name, None)})])
    move_plan_version()
    mark_for_delivery(Subject.GROUP, [group_id])

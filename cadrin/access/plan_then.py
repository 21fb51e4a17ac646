"""The plan as it was, by what the journal tells of groups and schedules since."""

from dataclasses import replace
from datetime import datetime
from typing import Any

from cadrin.access.commands.groups import TOLD_OF_WAY
from cadrin.access.drafts import GrantDraft
from cadrin.access.granted import group_that_opens
from cadrin.access.models import AccessGroup, Grant
from cadrin.access.plan import access_plan
from cadrin.core.access.plan import AccessGroup as CoreGroup
from cadrin.core.access.plan import Plan, Way
from cadrin.core.undo import Done, as_it_was
from cadrin.journal.queries import changed_since, told_since
from cadrin.sites.hours import as_core, schedules_as_kept

AS_NOW = {
    "doors": "door",
    "readers": "reader",
    "holidays": "holiday_calendar",
    "formats": "format",
}
"""What is taken to have been as it is now, by the kind of thing whose entries say that it was not."""


def plan_then(at: datetime) -> tuple[Plan, frozenset[str]]:
    """Return doors, groups and schedules as they were, and what of it was changed since and is taken to
    have been as it is now.
    """
    unknown = {word for word, kind in AS_NOW.items() if changed_since(kind, at)}
    acts = []
    for told in told_since("group", at):
        group_verb = told.action.removeprefix("group.")
        if group_verb not in ("made", "changed", "removed"):
            continue
        says_grants = "grants" in told.raw
        changes_grants = told.changes.keys() & set(TOLD_OF_WAY.values())
        if not says_grants and (changes_grants or group_verb == "removed"):
            unknown.add("groups")  # an entry from before it was kept
        told.changes.pop("grants", None)
        acts.append(Done(told.object_id, group_verb, told.changes | told.raw))
    groups = as_it_was(_groups_as_kept(), acts)
    schedules = as_it_was(
        schedules_as_kept(),
        (
            Done(told.object_id, told.action.removeprefix("schedule."), told.changes | told.raw)
            for told in told_since("schedule", at)
        ),
    )
    whole = {id_: kept for id_, kept in schedules.items() if "hours" in kept}
    if len(whole) < len(schedules):
        unknown.add("schedules")
    plan = replace(
        access_plan(),
        schedules=as_core(whole),
        groups={id_: _as_core(id_, kept) for id_, kept in groups.items()},
    )
    return plan, frozenset(unknown)


def _groups_as_kept() -> dict[int, dict[str, Any]]:
    groups = AccessGroup.objects.values("id", "name", "overrides")
    found = {row["id"]: dict[str, Any](row) | {"grants": []} for row in groups}
    rows = Grant.objects.values_list("group", "door", "schedule", "area", "way")
    for group_id, *grant in rows:
        found[group_id]["grants"].append(grant)
    return found


def _as_core(id_: int, kept: dict[str, Any]) -> CoreGroup:
    grants = [
        GrantDraft(door_id, schedule_id, area_id, *map(Way, way))
        for door_id, schedule_id, area_id, *way in kept.get("grants") or ()
    ]
    overrides = bool(kept.get("overrides"))
    return group_that_opens(grants, id_, kept.get("name") or "", overrides=overrides)

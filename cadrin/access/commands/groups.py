"""Make, change and remove access groups, and put many people into one."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from django.db import transaction

from cadrin.access.commands.memberships import GROUP
from cadrin.access.drafts import GrantDraft, GroupDraft, RuleDraft
from cadrin.access.granted import grants_of, group_that_opens
from cadrin.access.meeting import groups_apart, told_of, who_meet
from cadrin.access.models import AccessGroup, DefaultGroup, Grant, KeptOut, MembershipRule
from cadrin.access.queries import get_group
from cadrin.core.access.plan import Way
from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery, move_plan_version
from cadrin.outbox.subjects import Subject
from cadrin.sites.looking_after import owners_told, problems_with_looking_after


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
    doors, areas = _places(draft.grants)
    schedules = names_of("schedule", (grant.schedule_id for grant in draft.grants))
    for place, grant in enumerate(draft.grants):
        if (grant.door_id is None) is (grant.area_id is None):
            problems.append(Problem("grant.of_door_or_area", f"grants.{place}.door"))
        elif grant.area_id not in areas if grant.door_id is None else grant.door_id not in doors:
            problems.append(Problem("input.no_longer_there", f"grants.{place}.door"))
        if grant.schedule_id not in schedules:
            problems.append(Problem("input.no_longer_there", f"grants.{place}.schedule"))
        if any(grant[:3] == other[:3] for other in draft.grants[:place]):
            problems.append(Problem("grant.twice", f"grants.{place}.door"))
    problems += _problems_where_groups_meet(draft, group_id)
    problems += _problems_with_rules(draft.rules)
    problems += problems_with_looking_after(draft.owner_id, draft.review_days)
    return tuple(problems)


def _problems_where_groups_meet(draft: GroupDraft, group_id: int | None) -> Iterable[Problem]:
    """Yield the grants by which somebody of this group would meet another group of theirs at a door at
    which they may not.
    """
    if group_id is None:  # nobody is in it
        return
    after = group_that_opens(draft.grants, group_id)
    others = groups_apart(group_id, after)
    for other_id, count in who_meet(group_id, others).items() if others else ():
        door_id = others[other_id]
        place = next(
            place
            for place, grant in enumerate(draft.grants)
            if door_id in group_that_opens([grant]).schedules_of_door
        )
        told = told_of(group_id, other_id, door_id) | {"count": count}
        yield Problem("group.meets", f"grants.{place}.door", told)


RULE_KINDS = ("department", "kind", "company")


def _problems_with_rules(rules: Sequence[RuleDraft]) -> list[Problem]:
    found = []
    for place, rule in enumerate(rules):
        if not any(rule):
            found.append(Problem("rule.about_nothing", f"rules.{place}.department"))
        if rule in rules[:place]:
            found.append(Problem("rule.twice", f"rules.{place}.department"))
        for kind, id_ in zip(RULE_KINDS, rule, strict=True):
            if id_ is not None and not names_of(kind, [id_]):
                found.append(Problem("input.no_longer_there", f"rules.{place}.{kind}"))
    return found


def _places(grants: Sequence[GrantDraft]) -> tuple[Mapping[int, str], Mapping[int, str]]:
    """Return the names of the doors and areas that are there."""
    return (
        names_of("door", {grant.door_id for grant in grants if grant.door_id is not None}),
        names_of("area", {grant.area_id for grant in grants if grant.area_id is not None}),
    )


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
    had = {} if group_id is None else grants_of(group)
    changes: dict[str, tuple[Any, Any]] = {
        name: (getattr(group, name) or None, after)
        for name, after in (("name", draft.name.strip()), ("remarks", draft.remarks))
        if getattr(group, name) != after
    } | _grant_changes(tuple(had), draft.grants)
    if group.overrides != draft.overrides:
        changes["overrides"] = (group.overrides, draft.overrides)
    if group.owner_id != draft.owner_id:
        changes["owner"] = owners_told(group.owner_id, draft.owner_id)
    if group.review_days != draft.review_days:
        changes["review_days"] = (group.review_days, draft.review_days)
    rules_before = [] if group_id is None else _rules_of(group)
    if set(rules_before) != set(draft.rules):
        changes["rules"] = (_rule_words(rules_before), _rule_words(draft.rules))
    if not changes:
        return group.pk
    group.name, group.remarks, group.version = draft.name.strip(), draft.remarks, group.version + 1
    group.overrides, group.owner_id = draft.overrides, draft.owner_id
    group.review_days = draft.review_days
    group.save()
    Grant.objects.filter(
        pk__in=[pk for grant, pk in had.items() if grant not in draft.grants]
    ).delete()
    Grant.objects.bulk_create(
        Grant(group=group, **g._asdict()) for g in draft.grants if g not in had
    )
    if "rules" in changes:
        MembershipRule.objects.filter(group=group).delete()
        MembershipRule.objects.bulk_create(
            MembershipRule(group=group, **rule._asdict()) for rule in draft.rules
        )
    action = "group.made" if group_id is None else "group.changed"
    raw = (
        {"grants": (sorted_grants(had), sorted_grants(draft.grants))}
        if changes.keys() & set(TOLD_OF_WAY.values())
        else {}
    )
    record(actor, at, [Act(action, (About(GROUP, group.pk, group.version),), changes, raw)])
    move_plan_version()
    mark_for_delivery(Subject.GROUP, [group.pk])
    return group.pk


def sorted_grants(grants: Iterable[GrantDraft]) -> list[list[Any]]:
    """Return grants as the journal keeps them: door, schedule, area and way of each."""
    return sorted(([*grant] for grant in grants), key=str)


def _rules_of(group: AccessGroup) -> list[RuleDraft]:
    rows = group.rules.order_by("id").values_list("department_id", "kind_id", "company_id")
    return [RuleDraft(*row) for row in rows]


def _rule_words(rules: Sequence[RuleDraft]) -> list[str]:
    return sorted(
        ", ".join(
            names_of(kind, [id_]).get(id_, "?")
            for kind, id_ in zip(RULE_KINDS, rule, strict=True)
            if id_ is not None
        )
        for rule in rules
    )


def _grant_changes(
    before: Sequence[GrantDraft], after: Sequence[GrantDraft]
) -> dict[str, tuple[list[str], list[str]]]:
    doors, areas = _places((*before, *after))
    schedules = names_of("schedule", {grant.schedule_id for grant in (*before, *after)})

    def words(grants: Sequence[GrantDraft], way: Way) -> list[str]:
        return sorted(
            f"{areas[grant.area_id] if grant.area_id else doors[grant.door_id or 0]}: "
            f"{schedules[grant.schedule_id]}"
            for grant in grants
            if grant.way is way
        )

    told = {TOLD_OF_WAY[way]: (words(before, way), words(after, way)) for way in Way}
    return {name: change for name, change in told.items() if change[0] != change[1]}


TOLD_OF_WAY = {Way.BOTH: "grants", Way.IN: "grants_in", Way.OUT: "grants_out"}
"""As what grants of each way stand in the journal."""


def hand_rules_over(group: AccessGroup, into: AccessGroup) -> None:
    """Let the rules of a group that is merged into another, and who is kept out of it, count for that
    one. The caller holds the transaction.
    """
    MembershipRule.objects.filter(group=group).update(group=into)
    known = KeptOut.objects.filter(group=into).values("cardholder")
    KeptOut.objects.filter(group=group).exclude(cardholder__in=known).update(group=into)


def leave_to_group(actor: Actor, group: AccessGroup, into: AccessGroup, at: datetime) -> None:
    """Let departments propose another group instead of one that is merged into it, and say so in the
    journal. The caller holds the transaction.
    """
    proposing = DefaultGroup.objects.filter(group=group)
    known = DefaultGroup.objects.filter(group=into).values("department")
    proposing.exclude(department__in=known).update(group=into)
    proposing.delete()
    about = (About(GROUP, into.pk, into.version), About(GROUP, group.pk, group.version))
    record(actor, at, [Act("group.merged", about, {"name": (group.name, into.name)})])


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
    raw = {
        "grants": (sorted_grants(grants_of(group)), None),
        "overrides": (group.overrides, None),
    }
    group.delete()
    act = Act("group.removed", (About(GROUP, group_id),), {"name": (name, None)}, raw)
    record(actor, at, [act])
    move_plan_version()
    mark_for_delivery(Subject.GROUP, [group_id])

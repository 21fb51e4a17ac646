"""Make one access group of two: its people go into the other one, and it is removed."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, NamedTuple

from django.db import transaction

from cadrin.access.commands.groups import hand_rules_over, leave_to_group, remove_group
from cadrin.access.commands.memberships import MembershipDraft, memberships_of
from cadrin.access.fitting import AtDoor, at_doors, year_of_plan
from cadrin.access.queries import get_group, member_ids
from cadrin.core.access.fitting import beyond
from cadrin.core.errors import Invalid
from cadrin.core.validity import Span, as_one
from cadrin.enrolment.writer import Writing, write
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import get_cardholders
from cadrin.people.scoping import only_seen

if TYPE_CHECKING:
    from cadrin.access.models import AccessGroup

MOST_PEOPLE = 5000
"""More are moved by a change to many, which goes in steps."""


class GroupMerge(NamedTuple):
    """What merging leads to: how many people within reach, how many of them are in both, what doors they get more
    and less by it; ``apart`` are those whose two times do not meet, so that they cannot be one.
    """

    people: int
    in_both: int
    apart: tuple[int, ...]
    more: tuple[AtDoor, ...]
    less: tuple[AtDoor, ...]


def preview_group_merge(actor: Actor, group_id: int, into_id: int, at: datetime) -> GroupMerge:
    """Work out what merging a group into another would lead to. Raises Invalid or NotFound."""
    group, into = _both(actor, group_id, into_id)
    year = year_of_plan(at)
    before, after = (year.groups.get(one.pk, {}) for one in (group, into))
    moved = _moved(group.pk, into.pk)
    seen = sorted(only_seen(actor, moved))
    had = memberships_of(seen, among=[group.pk, into.pk])
    return GroupMerge(
        len(seen),
        sum(1 for each in had.values() if len(each) > 1),
        tuple(id_ for id_ in seen if moved[id_] is None),
        at_doors(beyond(after, before), year.plan),
        at_doors(beyond(before, after), year.plan),
    )


@transaction.atomic
def merge_groups(actor: Actor, group_id: int, into_id: int, at: datetime) -> int:
    """Put everybody in a group into another, departments propose that one instead, and the group is
    removed; give how many people it were. Whoever is in both has both times together.

    Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.GROUPS)
    actor.require(Permission.ACCESS)
    group, into = _both(actor, group_id, into_id)
    moved = _moved(group.pk, into.pk)
    if len(moved) > MOST_PEOPLE:
        raise Invalid.of("group.too_many_to_merge", None, most=MOST_PEOPLE)
    if len(only_seen(actor, moved)) < len(moved):
        raise Invalid.of("group.has_hidden_people", None)
    if apart := sum(1 for one in moved.values() if one is None):
        raise Invalid.of("group.times_apart", None, count=apart)
    hand_rules_over(group, into)
    people = get_cardholders(actor, sorted(moved))
    had = memberships_of(moved)
    both = {group.pk, into.pk}
    write(
        actor,
        [
            Writing(
                person,
                memberships=(
                    *(one for one in had[person.pk] if one.group_id not in both),
                    *(one for one in (moved[person.pk],) if one is not None),
                ),
            )
            for person in people
        ],
        at,
    )
    leave_to_group(actor, group, into, at)
    remove_group(actor, group.pk, at)
    return len(moved)


def _both(actor: Actor, group_id: int, into_id: int) -> tuple[AccessGroup, AccessGroup]:
    if group_id == into_id:
        raise Invalid.of("group.merge_with_itself", "into")
    return get_group(actor, group_id), get_group(actor, into_id)


def _moved(group_id: int, into_id: int) -> dict[int, MembershipDraft | None]:
    """Return the membership that everybody in the first will have in the second; None for times that
    cannot be one.
    """
    had = memberships_of(member_ids(group_id), among=[group_id, into_id])
    found: dict[int, MembershipDraft | None] = {}
    for holder_id, memberships in had.items():
        spans = [one.span for one in memberships]
        span: Span | None = as_one(spans[0], spans[-1])
        found[holder_id] = MembershipDraft(into_id, span.start, span.end) if span else None
    return found

"""Put many people into an access group at once."""

from collections.abc import Iterable
from datetime import datetime

from django.db import transaction

from cadrin.access.commands.memberships import MembershipDraft, memberships_of
from cadrin.access.meeting import problem_with_newcomers
from cadrin.access.queries import get_group
from cadrin.core.errors import Invalid
from cadrin.core.validity import ALWAYS, Span, problems_with_span
from cadrin.enrolment.writer import Writing, write
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import get_cardholder, get_cardholders
from cadrin.people.scoping import only_seen


@transaction.atomic
def add_people(
    actor: Actor,
    group_id: int,
    cardholder_ids: Iterable[int],
    at: datetime,
    span: Span = ALWAYS,
) -> int:
    """Put people into a group for a time, and give how many were not in it; whoever was stays as they
    are. Raises Invalid, NotFound or NotPermitted.
    """
    actor.require(Permission.ACCESS)
    get_group(actor, group_id)
    if problems := problems_with_span(span):
        raise Invalid(problems)
    people = get_cardholders(actor, sorted(only_seen(actor, cardholder_ids)))
    had = memberships_of(person.pk for person in people)
    new = [
        person
        for person in people
        if all(membership.group_id != group_id for membership in had[person.pk])
    ]
    theirs = {person.pk: [(one.group_id, one.span) for one in had[person.pk]] for person in new}
    if problem := problem_with_newcomers(group_id, theirs, span):
        raise Invalid([problem])
    write(
        actor,
        [
            Writing(
                person,
                memberships=(*had[person.pk], MembershipDraft(group_id, span.start, span.end)),
            )
            for person in new
        ],
        at,
    )
    return len(new)


@transaction.atomic
def join_groups(actor: Actor, cardholder_id: int, group_ids: Iterable[int], at: datetime) -> None:
    """Put somebody into several groups, or into none; those that they are in stay as they are. Raises
    NotFound or NotPermitted.
    """
    get_cardholder(actor, cardholder_id)
    for group_id in sorted(set(group_ids)):
        add_people(actor, group_id, [cardholder_id], at)


@transaction.atomic
def remove_people(actor: Actor, group_id: int, cardholder_ids: Iterable[int], at: datetime) -> int:
    """Take people out of a group and give how many were in it. Raises NotFound or NotPermitted."""
    actor.require(Permission.ACCESS)
    get_group(actor, group_id)
    people = get_cardholders(actor, sorted(only_seen(actor, cardholder_ids)))
    had = memberships_of(person.pk for person in people)
    after = {
        person.pk: tuple(one for one in had[person.pk] if one.group_id != group_id)
        for person in people
    }
    leaving = [person for person in people if len(after[person.pk]) < len(had[person.pk])]
    write(actor, [Writing(person, memberships=after[person.pk]) for person in leaving], at)
    return len(leaving)

"""Go through the people of an access group, or of a door: keep each, or take them out, and say why."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from django.db import transaction

from cadrin.access.commands.memberships import GROUP
from cadrin.access.queries import members_of_any
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.errors import Invalid
from cadrin.core.given_reason import reason_given
from cadrin.enrolment.commands.memberships import remove_people
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.scoping import only_seen
from cadrin.reviews.looked import Kind, Looked, looked_through
from cadrin.reviews.models import Decision, Review
from cadrin.reviews.queries import undecided
from cadrin.sites.commands.doors import DOOR

_ABOUT = {Kind.GROUP: GROUP, Kind.DOOR: DOOR}
_ACTIONS = {
    Kind.GROUP: {True: "membership.confirmed", False: "membership.withdrawn"},
    Kind.DOOR: {True: "door.confirmed", False: "door.withdrawn"},
}


@transaction.atomic
def decide(
    actor: Actor,
    kind: Kind,
    id_: int,
    cardholder_ids: Iterable[int],
    *,
    is_kept: bool,
    reason: str,
    at: datetime,
) -> int:
    """Keep people in a group or take them out of it, for one reason, and give how many they were; at
    a door, out of every group that lets them through it. The first decision begins the review. What
    was decided before of somebody is decided anew.

    Raises Invalid without a reason, NotFound or NotPermitted.
    """
    actor.require(Permission.ACCESS)
    looked = looked_through(actor, kind, id_)
    told = reason_given(reason)
    people = sorted(only_seen(actor, cardholder_ids) & members_of_any(looked.group_ids))
    if not people:
        return 0
    if not is_kept:
        _refuse_hidden_groups(actor, looked, people)
    review = _under_way(looked, at)
    Decision.objects.filter(review=review, cardholder_id__in=people).delete()
    Decision.objects.bulk_create(
        Decision(
            review=review,
            cardholder_id=holder_id,
            is_kept=is_kept,
            reason=told,
            decided_by=actor.name,
            at=at,
        )
        for holder_id in people
    )
    changes = {kind.value: (looked.name, looked.name), "reason": (None, told)}
    about = (About(_ABOUT[kind], id_),)
    action = _ACTIONS[kind][is_kept]
    record(
        actor,
        at,
        [Act(action, (About(CARDHOLDER, holder_id), *about), changes) for holder_id in people],
    )
    for group_id in () if is_kept else sorted(looked.group_ids):
        remove_people(actor, group_id, people, at)
    return len(people)


def _refuse_hidden_groups(actor: Actor, looked: Looked, people: Iterable[int]) -> None:
    """Raises Invalid where somebody comes through a door by a group that is out of the actor's reach."""
    hidden = looked.group_ids & group_ids_hidden(actor)
    if hidden and members_of_any(hidden) & set(people):
        raise Invalid.of("review.hidden_groups", None)


def _under_way(looked: Looked, at: datetime) -> Review:
    new = {"begun_at": at, "name": looked.name}
    return Review.objects.get_or_create(**looked.of_reviews, ended_at=None, defaults=new)[0]


@transaction.atomic
def end_review(actor: Actor, kind: Kind, id_: int, at: datetime) -> None:
    """End the review of a group or a door, of whose people everybody was kept or taken out.

    Raises Invalid while somebody is left, NotFound or NotPermitted.
    """
    actor.require(Permission.ACCESS)
    looked = looked_through(actor, kind, id_)
    if left := undecided(looked):
        if len(only_seen(actor, left)) < len(left):  # how many these are is not told
            raise Invalid.of("group.has_hidden_people", None)
        raise Invalid.of("review.people_left", None, count=len(left))
    review = _under_way(looked, at)
    review.ended_at, review.ended_by = at, actor.name
    review.save()
    kept = review.decisions.filter(is_kept=True).count()
    changes = {
        "name": (looked.name, looked.name),
        "kept": (None, kept),
        "withdrawn": (None, review.decisions.count() - kept),
    }
    record(actor, at, [Act(f"{kind.value}.reviewed", (About(_ABOUT[kind], id_),), changes)])

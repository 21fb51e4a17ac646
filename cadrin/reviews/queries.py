"""How the reviews of access groups and doors stand, and what was decided in them."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import F, Max, Q, QuerySet

from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import groups_within, member_counts, members_of_any, people_of_groups
from cadrin.access.scoping import group_ids_hidden
from cadrin.activity.queries import last_granted
from cadrin.config.database.reading import RowsByIds
from cadrin.core.access.reviewing import ReviewState, due_at, review_state
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.scoping import only_seen
from cadrin.reviews.looked import Kind, Looked, groups_into, looked_through
from cadrin.reviews.models import Decision, Review
from cadrin.sites.queries import doors_within

MOST_PEOPLE = 5000


class ReviewDue(NamedTuple):
    """A group or a door that is to be reviewed: by whom, how often, when it was, and of how many
    people nothing is decided yet.
    """

    kind: Kind
    id: int
    name: str
    owner_id: int | None
    review_days: int | None
    state: ReviewState
    last_at: datetime | None
    due_at: datetime | None
    people: int
    left: int
    is_under_way: bool


_REVIEWED = ("id", "name", "owner_id", "review_days")


def reviews(actor: Actor, at: datetime) -> list[ReviewDue]:
    """Return what is to be reviewed within reach, or was: the most urgent first."""
    found = [
        *_of_kind(actor, Kind.GROUP, groups_within(actor), at),
        *_of_kind(actor, Kind.DOOR, doors_within(actor), at),
    ]
    order = [ReviewState.OVERDUE, ReviewState.SOON, ReviewState.DONE, ReviewState.NONE]
    return sorted(found, key=lambda one: (order.index(one.state), one.due_at or at, one.name))


def _ended_of(kind: Kind) -> RowsByIds:
    theirs = Review.objects.exclude(**{kind.value: None}).exclude(ended_at=None)
    return RowsByIds(lambda: theirs.values_list(kind.value).annotate(Max("ended_at")).order_by())


def _under_way_of(kind: Kind) -> RowsByIds:
    theirs = Review.objects.exclude(**{kind.value: None}).filter(ended_at=None)
    return RowsByIds(lambda: theirs.values_list(kind.value))


_ended = {kind: _ended_of(kind) for kind in Kind}
_under_way = {kind: _under_way_of(kind) for kind in Kind}


def _of_kind(actor: Actor, kind: Kind, within: QuerySet[Any], at: datetime) -> Iterable[ReviewDue]:
    ended = dict(_ended[kind]())
    under_way = {id_ for (id_,) in _under_way[kind]()}
    asked = within.filter(Q(review_days__isnull=False) | Q(pk__among=list(ended)))
    looked_at = list(asked.values(*_REVIEWED))
    counts = member_counts(actor, [row["id"] for row in looked_at]) if kind is Kind.GROUP else {}
    for row in looked_at:
        id_, days = row["id"], row["review_days"]
        last = ended.get(id_)
        through = groups_into(id_) if kind is Kind.DOOR else frozenset({id_})
        looked = Looked(kind, id_, row["name"], through, ())
        people = (
            counts.get(id_, 0)
            if kind is Kind.GROUP
            else len(only_seen(actor, members_of_any(through)))
        )
        is_under_way = id_ in under_way
        yield ReviewDue(
            kind,
            id_,
            row["name"],
            row["owner_id"],
            days,
            review_state(last, days, at),
            last,
            due_at(last, days),
            people,
            len(only_seen(actor, undecided(looked))) if is_under_way else people,
            is_under_way,
        )


def overdue_reviews(actor: Actor, at: datetime) -> list[ReviewDue]:
    return [one for one in reviews(actor, at) if one.state is ReviewState.OVERDUE]


def people_to_review(actor: Actor, kind: Kind, id_: int) -> Rows:
    """Return the people of a group, or of a door, within reach, each with what was decided of them so
    far, when they were last let in there, by which groups that is, and how many other doors they
    would no longer open without these. Whoever was taken out stands in the record alone.

    Raises NotFound.
    """
    looked = looked_through(actor, kind, id_)
    people = people_of_groups(actor, looked.group_ids, MOST_PEOPLE)
    ids = [row["cardholder_id"] for row in people]
    last = last_granted(actor, ids, looked.door_ids)
    decisions, losses = _open_decisions(looked), _doors_lost(looked, ids)
    plan, hidden = access_plan(), group_ids_hidden(actor)
    return [
        {name: value for name, value in row.items() if name not in ("group_id", "group_ids")}
        | {
            "last_at": last.get(row["cardholder_id"]),
            "is_kept": decisions.get(row["cardholder_id"], {}).get("is_kept"),
            "reason": decisions.get(row["cardholder_id"], {}).get("reason", ""),
            "groups": [plan.groups[id_].name for id_ in row["group_ids"] if id_ not in hidden],
            "loses": losses.get(row["cardholder_id"], 0),
        }
        for row in people
    ]


def _doors_lost(looked: Looked, holder_ids: Iterable[int]) -> dict[int, int]:
    """Return how many other doors each of these people would no longer open without the groups."""
    plan, found = access_plan(), {}
    for holder_id, holder in holders(holder_ids).items():
        others = tuple(one for one in holder.memberships if one.group_id not in looked.group_ids)
        lost = plan.doors_of(holder.memberships) - plan.doors_of(others)
        found[holder_id] = len(lost - set(looked.door_ids))
    return found


def _open_decisions(looked: Looked) -> Mapping[int, dict[str, Any]]:
    under_way = Review.objects.filter(**looked.of_reviews, ended_at=None)
    rows = Decision.objects.filter(review__in=under_way).values(
        "cardholder_id", "is_kept", "reason"
    )
    return {row["cardholder_id"]: dict(row) for row in rows}


def undecided(looked: Looked) -> set[int]:
    """Return the people of whom nothing was decided yet in the review under way."""
    return members_of_any(looked.group_ids) - _open_decisions(looked).keys()


def decisions_of(actor: Actor, kind: Kind, id_: int) -> Iterable[dict[str, Any]]:
    """Yield everything that was decided in the reviews of a group or a door, of whom the actor may
    see, the latest first. Raises NotFound.
    """
    looked = looked_through(actor, kind, id_)
    theirs = Review.objects.filter(**looked.of_reviews)
    found = Decision.objects.filter(review__in=theirs).order_by("-id")
    rows = list(
        found.values(
            "cardholder_id",
            "is_kept",
            "reason",
            "decided_by",
            "at",
            name=F("cardholder__display_name"),
            number=F("cardholder__number"),
            looked_through=F("review__name"),
            ended_at=F("review__ended_at"),
        )
    )
    seen = only_seen(actor, (row["cardholder_id"] for row in rows if row["cardholder_id"]))
    for row in rows:
        if row["cardholder_id"] is None or row["cardholder_id"] in seen:
            yield dict(row) | {"name": row["name"] or "", "number": row["number"] or ""}

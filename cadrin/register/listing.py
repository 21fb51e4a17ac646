"""The list of cardholders: page through it by key in any order, and say of each row what
it lacks.
"""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import CharField, Q, QuerySet, Value
from django.db.models.functions import Cast, Coalesce

from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import members_of_any
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.finder import Roster
from cadrin.core.access.readiness import readiness
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.validity import state_at
from cadrin.delivery.queries import not_held_counts
from cadrin.operators.actor import Actor
from cadrin.people.matching import custom_key
from cadrin.people.queries import details_of_rows
from cadrin.people.scoping import people_seen
from cadrin.photos.queries import portraits_of
from cadrin.register.filters import Filters, matching
from cadrin.register.selection import Selection
from cadrin.sites.queries import door_ids

MOST_COUNTED = 10_000
_FIELDS = {"name": "sort_name", "number": "number_key"}
"""Orders that an index gives; the others are worked out for everybody who matches."""
_SORTED_BY = {
    "department": "department__name",
    "company": "company__name",
    "kind": "kind__name",
    "title": "title",
    "email": "email",
    "standing": "standing",
    "activation": "activation_at",
    "expiry": "expiry_at",
}
SORTS = (*_FIELDS, *_SORTED_BY)


class PageOfIds(NamedTuple):
    """The cardholders of a page; ``next`` and ``total`` are as in `Page`."""

    ids: list[int]
    next: str | None
    total: int | None


class Page(NamedTuple):
    """``next`` is the key to ask for the page after; None on the last.

    ``total`` stops at 10,000, and is None on every page but the first: it was told there.
    """

    rows: list[dict[str, Any]]
    next: str | None
    total: int | None


def ids_in_order(actor: Actor, selection: Selection, sort: str, at: datetime) -> list[int]:
    """Return everybody a selection is about, in an order of the list. Raises Invalid for an order
    that is none.
    """
    _check_sort(sort)
    without = set(selection.without)
    keys = _keys(selection.people(actor, at), sort, "", None)
    return [id_ for id_, _ in keys if id_ not in without]


def _check_sort(sort: str) -> None:
    if sort.removeprefix("-") not in SORTS and not own_id_in(sort.removeprefix("-")):
        raise Invalid.of("list.unknown_sort", "sort", sort=sort[:20])


def page(
    actor: Actor,
    filters: Filters,
    at: datetime,
    *,
    sort: str = "name",
    after: str = "",
    most: int = 50,
) -> Page:
    """Return one page of the list, as `page_of_ids`."""
    found = page_of_ids(actor, filters, at, sort=sort, after=after, most=most)
    return Page(rows_of(actor, found.ids, at), found.next, found.total)


def page_of_ids(
    actor: Actor, filters: Filters, at: datetime, *, sort: str, after: str, most: int
) -> PageOfIds:
    """Return who is on one page of the list. Paging by key never repeats or skips anybody while
    others work.

    Raises Invalid for a sort or key that is none.
    """
    _check_sort(sort)
    people = people_seen(actor).filter(matching(actor, filters, at))
    keys = _keys(people, sort, after, most + 1)
    id_, value = keys[most - 1] if len(keys) > most else (0, "")
    following = f"{value}|{id_}" if id_ else None
    total = None if after else people[:MOST_COUNTED].count()
    return PageOfIds([id_ for id_, _ in keys[:most]], following, total)


def _keys(people: QuerySet[Any], sort: str, after: str, most: int | None) -> list[tuple[int, str]]:
    """Return ids in their order, each with the value that puts it there."""
    value, _, last = after.rpartition("|")
    if after and not last.isdecimal():
        raise Invalid.of("list.unknown_key", "after")
    by, comparison = sort.removeprefix("-"), "lt" if sort.startswith("-") else "gt"
    field = _FIELDS.get(by, "sort_value")
    if field == "sort_value":
        people = people.annotate(sort_value=_sort_value(by))
    if after:
        # the first condition alone would do, but only the second is one that an index can answer
        beyond = Q(**{f"{field}__{comparison}": value}) | Q(
            **{field: value, f"id__{comparison}": int(last)}
        )
        people = people.filter(beyond, **{f"{field}__{comparison}e": value})
    people = people.order_by(*((f"-{field}", "-id") if sort.startswith("-") else (field, "id")))
    return list(people.values_list("id", field)[:most])


def _sort_value(by: str) -> Coalesce:
    """Return what a list is put in order by, as text; whoever has nothing there comes first."""
    if own_id := own_id_in(by):
        return custom_key(own_id)
    return Coalesce(Cast(_SORTED_BY[by], CharField()), Value(""))


def own_id_in(name: str) -> int | None:
    """Return the id in the name of an own field, such as ``own.7``; None when it names none."""
    head, _, id_ = name.partition(".")
    return int(id_) if head == "own" and id_.isdecimal() and len(id_) < 10 else None


def rows_of(
    actor: Actor, ids: Iterable[int], at: datetime, *, is_judged: bool = True
) -> list[dict[str, Any]]:
    """Return what the list shows of these cardholders, in their order; a bounded number of queries.

    They must be within the actor's reach; of their groups only those that are too are named. Who is
    not ``is_judged`` has no gaps and no portrait: half of the time.
    """
    wanted, hidden = list(ids), group_ids_hidden(actor)
    plan, people = access_plan(), holders(wanted)
    portraits = portraits_of(wanted) if is_judged else {}
    not_held = not_held_counts(people) if is_judged else {}
    values = details_of_rows(wanted)
    rows = []
    # whoever was merged or erased between two of these queries is left out
    for id_ in (id_ for id_ in wanted if id_ in people and id_ in values):
        holder = people[id_]
        condition = state_at(holder.standing, holder.span, at, holder.suspended_until)
        items = readiness(holder, plan, at, not_held.get(id_, 0)) if is_judged else ()
        rows.append(
            values[id_]
            | {
                "number": holder.number,
                "display_name": holder.display_name,
                "portrait": portraits.get(id_),
                "state": condition.state,
                "until": condition.until,
                "activation_at": holder.span.start,
                "expiry_at": holder.span.end,
                "is_by_card_alone": holder.is_by_card_alone(at),
                "gaps": [item.gap for item in items if item.gap],
                "cards": [f"{c.key.facility_code}-{c.key.card_number:05}" for c in holder.cards],
                "groups": [
                    plan.groups[m.group_id].name
                    for m in holder.memberships
                    if m.group_id in plan.groups and m.group_id not in hidden
                ],
            }
        )
    return rows


def who_may_open(actor: Actor, door_id: int, at: datetime) -> list[int]:
    """Return the ids of everybody for whom the door opens at ``at``, and whom the actor may see, by
    name.

    Raises NotFound, for a door out of reach as well.
    """
    if door_id not in door_ids(actor):
        raise NotFound.of("door.not_found")
    plan = access_plan()
    opening = [id_ for id_, group in plan.groups.items() if door_id in group.schedules_of_door]
    members = members_of_any(opening)
    admitted = Roster(list(holders(members).values())).who_may_open(door_id, plan, at)
    return list(
        people_seen(actor)
        .filter(pk__in=admitted)
        .order_by("sort_name")
        .values_list("id", flat=True)
    )

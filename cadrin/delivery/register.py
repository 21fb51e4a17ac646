"""The list of cardholders: filter it, page through it by key, and say of each row what it lacks."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Exists, F, OuterRef, Q, Value
from django.db.models.functions import Coalesce

from cadrin.access.models import Door, Grant, Membership
from cadrin.access.plan import holders, the_plan
from cadrin.cards.models import Card
from cadrin.core.access.finder import Roster
from cadrin.core.cards.status import CardStatus
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.readiness import Gap, readiness
from cadrin.core.validity import Standing, State, state_at
from cadrin.delivery.queries import has_record_not_held, not_held_counts
from cadrin.people.models import Cardholder
from cadrin.people.queries import departments_below, ending_within, having_terms, in_state, starting_within

MOST_COUNTED = 10_000
SORTS = ("name", "-name", "number", "-number", "expiry")
_SORT_FIELD = {"name": "sort_name", "number": "number_key"}


class Filters(NamedTuple):
    """What is asked of the list; all that are set must hold."""

    text: str = ""
    department_id: int | None = None
    state: State | None = None
    group_id: int | None = None
    gap: Gap | None = None
    is_not_ready: bool = False
    ending_within_days: int | None = None
    starting_within_days: int | None = None


class Page(NamedTuple):
    """``next`` is the key to ask for the page after; None on the last.

    ``total`` stops at 10,000, and is None on every page but the first: it was told there.
    """

    rows: list[dict[str, Any]]
    next: str | None
    total: int | None


def matching(filters: Filters, at: datetime) -> Q:
    """Match the cardholders for whom every filter holds."""
    match = having_terms(filters.text)
    if filters.department_id is not None:
        match &= Q(department_id__in=departments_below(filters.department_id))
    if filters.state is not None:
        match &= in_state(filters.state, at)
    if filters.group_id is not None:
        match &= Q(pk__in=Membership.objects.filter(group_id=filters.group_id).values("cardholder_id"))
    if filters.gap is not None:
        match &= having_gap(filters.gap, at)
    if filters.is_not_ready:
        match &= not_ready(at)
    if filters.ending_within_days is not None:
        match &= ending_within(at, filters.ending_within_days)
    if filters.starting_within_days is not None:
        match &= starting_within(at, filters.starting_within_days)
    return match


def not_ready(at: datetime) -> Q:
    """Match whoever should come in, now or later, and lacks something for it."""
    gaps = (
        Gap.NO_CARD,
        Gap.NO_CARD_IN_FORCE,
        Gap.NO_ACCESS_GROUP,
        Gap.GROUPS_OPEN_NOTHING,
        Gap.NO_MEMBERSHIP_IN_FORCE,
        Gap.NOT_HELD,
    )
    lacking = Q()
    for gap in gaps:
        lacking |= having_gap(gap, at)
    return (in_state(State.IN_FORCE, at) | in_state(State.PENDING, at)) & lacking


def having_gap(gap: Gap, at: datetime) -> Q:
    """Match cardholders in whose `readiness` the core finds this gap; a test holds the two together."""
    cards = Card.objects.filter(holder_id=OuterRef("pk"))
    memberships = Membership.objects.filter(cardholder_id=OuterRef("pk"))
    opening = memberships.filter(Exists(Grant.objects.filter(group_id=OuterRef("group_id"))))
    match gap:
        case Gap.NO_CARD:
            return Q(~Exists(cards))
        case Gap.NO_CARD_IN_FORCE:
            issued = cards.filter(_has_begun(at), _is_not_over(at), status=CardStatus.ISSUED)
            return Q(Exists(cards)) & Q(~Exists(issued))
        case Gap.NO_ACCESS_GROUP:
            return Q(~Exists(memberships))
        case Gap.GROUPS_OPEN_NOTHING:
            return Q(Exists(memberships)) & Q(~Exists(opening))
        case Gap.NO_MEMBERSHIP_IN_FORCE:
            return Q(Exists(opening)) & Q(~Exists(memberships.filter(_is_not_over(at))))
        case Gap.SUSPENDED:
            later = Q(suspended_until__gt=at) & (Q(activation_at=None) | Q(suspended_until__gt=F("activation_at")))
            return Q(standing=Standing.SUSPENDED) & (Q(suspended_until=None) | later)
        case Gap.EXPIRED:
            by_decision = Q(standing__in=[Standing.BARRED, Standing.DEPARTED]) | having_gap(Gap.SUSPENDED, at)
            return Q(expiry_at__lte=at) & ~by_decision
        case Gap.BARRED | Gap.DEPARTED:
            return Q(standing=gap.value)
        case Gap.NOT_HELD:
            return Q(has_record_not_held())


def _has_begun(at: datetime) -> Q:
    """Match what counts at ``at``, or when its cardholder starts if that is later."""
    return Q(activation_at=None) | Q(activation_at__lte=at) | Q(activation_at__lte=OuterRef("activation_at"))


def _is_not_over(at: datetime) -> Q:
    moment_of_start = Coalesce(OuterRef("activation_at"), Value(at))
    return Q(expiry_at=None) | Q(expiry_at__gt=at) & Q(expiry_at__gt=moment_of_start)


def page(filters: Filters, at: datetime, *, sort: str = "name", after: str = "", most: int = 50) -> Page:
    """Give one page of the list. Paging by key never repeats or skips a row while others work.

    Raises Invalid for a sort or key that is none.
    """
    if sort not in SORTS:
        raise Invalid.of("list.unknown_sort", "sort", sort=sort[:20])
    match = matching(filters, at)
    ids = _ids(match, sort, after, most + 1)
    rows = rows_of(ids[:most], at)
    following = _key_of(rows[-1], sort) if len(ids) > most else None
    return Page(rows, following, None if after else Cardholder.objects.filter(match)[:MOST_COUNTED].count())


def _ids(match: Q, sort: str, after: str, most: int) -> list[int]:
    people = Cardholder.objects.filter(match)
    value, _, last = after.rpartition("|")
    try:
        last_id = int(last) if after else 0
        ends_at = datetime.fromisoformat(value) if sort == "expiry" and value else None
    except ValueError:
        raise Invalid.of("list.unknown_key", "after") from None
    if sort == "expiry":
        if after:
            with_end = Q(expiry_at__gt=ends_at) | Q(expiry_at=ends_at, id__gt=last_id) | Q(expiry_at=None)
            people = people.filter(with_end if ends_at else Q(expiry_at=None, id__gt=last_id))
        people = people.order_by(F("expiry_at").asc(nulls_last=True), "id")
    else:
        field = _SORT_FIELD[sort.removeprefix("-")]
        comparison = "lt" if sort.startswith("-") else "gt"
        if after:
            # the first condition alone would do, but only the second is one that an index can answer
            beyond = Q(**{f"{field}__{comparison}": value}) | Q(**{field: value, f"id__{comparison}": last_id})
            people = people.filter(beyond, **{f"{field}__{comparison}e": value})
        people = people.order_by(*((f"-{field}", "-id") if sort.startswith("-") else (field, "id")))
    return list(people.values_list("id", flat=True)[:most])


def _key_of(row: dict[str, Any], sort: str) -> str:
    if sort == "expiry":
        return f"{row['expiry_at'].isoformat() if row['expiry_at'] else ''}|{row['id']}"
    return f"{row[_SORT_FIELD[sort.removeprefix('-')]]}|{row['id']}"


def rows_of(ids: Iterable[int], at: datetime) -> list[dict[str, Any]]:
    """Give what the list shows of these cardholders, in their order; a bounded number of queries."""
    wanted = list(ids)
    plan, people, not_held = the_plan(), holders(wanted), not_held_counts(wanted)
    values = {
        row["id"]: row
        for row in Cardholder.objects.filter(pk__in=wanted).values(
            "id", "first_name", "last_name", "sort_name", "number_key", "title", department_name=F("department__name")
        )
    }
    rows = []
    for id_ in wanted:
        holder = people[id_]
        condition = state_at(holder.standing, holder.span, at, holder.suspended_until)
        items = readiness(holder, plan, at, not_held.get(id_, 0))
        rows.append(
            values[id_]
            | {
                "number": holder.number,
                "display_name": holder.display_name,
                "state": condition.state,
                "until": condition.until,
                "expiry_at": holder.span.end,
                "gaps": [item.gap for item in items if item.gap],
                "cards": [f"{c.key.facility_code}-{c.key.card_number:05}" for c in holder.cards],
                "groups": [plan.groups[m.group_id].name for m in holder.memberships if m.group_id in plan.groups],
            }
        )
    return rows


def who_may_open(door_id: int, at: datetime) -> list[int]:
    """Give the ids of everybody for whom the door opens at ``at``, by name. Raises NotFound."""
    if not Door.objects.filter(pk=door_id).exists():
        raise NotFound.of("door.not_found")
    plan = the_plan()
    opening = [id_ for id_, group in plan.groups.items() if door_id in group.schedules_of_door]
    members = Membership.objects.filter(group_id__in=opening).values_list("cardholder_id", flat=True).distinct()
    admitted = Roster(list(holders(members).values())).who_may_open(door_id, plan, at)
    return list(Cardholder.objects.filter(pk__in=admitted).order_by("sort_name").values_list("id", flat=True))

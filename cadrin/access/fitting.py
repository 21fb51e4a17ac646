"""Find the access groups that give what is wanted; list those that could be one, or none."""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime, time, timedelta
from functools import lru_cache
from typing import NamedTuple

from cadrin.access.drafts import GrantDraft
from cadrin.access.granted import granted, group_that_opens
from cadrin.access.models import Membership
from cadrin.access.plan import access_plan, holders
from cadrin.access.queries import groups
from cadrin.core.access.fitting import (
    Minutes,
    Openings,
    Year,
    beyond,
    fits,
    nearly_alike,
    smallest_cover,
)
from cadrin.core.access.plan import Plan, Way
from cadrin.core.errors import NotFound
from cadrin.core.schedules import zone_named
from cadrin.core.validity import Span
from cadrin.operators.actor import Actor
from cadrin.outbox.queries import plan_version
from cadrin.people.queries import get_cardholder
from cadrin.sites.queries import doors_within, home_site, site_day

A_YEAR = timedelta(days=364)
WEEKS = A_YEAR // timedelta(weeks=1)
MOST_FITS = 20
LEAST_ALIKE = 0.8
"""From here on two groups are worth a look together."""


class AtDoor(NamedTuple):
    """Hours a week at a door, on the average of a year with its holidays; on both its ways, or on one
    of them.
    """

    door_id: int
    hours: float
    way: Way = Way.BOTH


class FoundGroup(NamedTuple):
    """A group beside what is wanted: whether it gives exactly that, or what more and what less."""

    group_id: int
    is_exact: bool
    more: tuple[AtDoor, ...]
    less: tuple[AtDoor, ...]


class Found(NamedTuple):
    """The groups that give some of it, the best first, and the fewest that give it together.

    ``wanted`` is what was asked for, ``lacking`` what no group gives; ``has_already`` are groups
    that the ``person`` it is for is in.
    """

    wanted: tuple[AtDoor, ...]
    groups: tuple[FoundGroup, ...]
    cover: tuple[int, ...]
    cover_more: tuple[AtDoor, ...]
    lacking: tuple[AtDoor, ...]
    is_smallest: bool
    has_already: tuple[int, ...]
    person: str


class AlikeGroups(NamedTuple):
    one_id: int
    other_id: int
    likeness: float
    more: tuple[AtDoor, ...]
    less: tuple[AtDoor, ...]


class Untidy(NamedTuple):
    """What somebody might put in order: groups that are nearly the same, that have nobody or one
    person, that open nothing, and doors that nobody opens.
    """

    alike: tuple[AlikeGroups, ...]
    empty: tuple[int, ...]
    of_one: tuple[int, ...]
    opening_nothing: tuple[int, ...]
    doors: tuple[int, ...]


def year_of_plan(at: datetime) -> Year:
    """Return what schedules and groups give from the day of an instant on, for a year."""
    start = datetime.combine(site_day(at), time(), zone_named(home_site()["zone"]))
    return _year(plan_version(), start.astimezone(UTC))


@lru_cache(maxsize=1)
def _year(version: str, start: datetime) -> Year:
    return Year(access_plan(), Span(start, start + A_YEAR))


def find_groups(
    actor: Actor,
    wanted: Iterable[GrantDraft],
    like_id: int | None,
    for_id: int | None,
    at: datetime,
) -> Found:
    """Find groups for doors with hours, or for what a colleague has now, without what is out of the
    actor's reach. Raises NotFound.
    """
    year = year_of_plan(at)
    here = set(doors_within(actor).values_list("id", flat=True))
    as_group = group_that_opens(wanted)
    if not as_group.schedules_of_door.keys() <= here:
        raise NotFound.of("door.not_found")
    asked = year.of_group(as_group)
    if like_id is not None:
        get_cardholder(actor, like_id)
        theirs = year.of_memberships(holders([like_id])[like_id].memberships, at)
        asked = {id_: minutes for id_, minutes in theirs.items() if abs(id_) in here}
    seen = {row["id"]: year.groups.get(row["id"], {}) for row in groups(actor)}
    cover = smallest_cover(asked, seen)
    had: set[int] = set()
    person = ""
    if for_id is not None:
        person = get_cardholder(actor, for_id).display_name
        had = {one.group_id for one in holders([for_id])[for_id].memberships}
    return Found(
        at_doors(asked, year.plan),
        tuple(
            FoundGroup(
                one.group_id,
                one.is_exact,
                at_doors(one.more, year.plan),
                at_doors(one.less, year.plan),
            )
            for one in fits(asked, seen)[:MOST_FITS]
        ),
        cover.group_ids,
        at_doors(cover.more, year.plan),
        at_doors(cover.lacking, year.plan),
        cover.is_smallest,
        tuple(sorted(had & seen.keys())),
        person,
    )


def untidy(actor: Actor, at: datetime) -> Untidy:
    """Return what could be put in order, within the actor's reach."""
    rows = groups(actor)
    year = year_of_plan(at)
    gives: Mapping[int, Openings] = {row["id"]: year.groups.get(row["id"], {}) for row in rows}
    having_people = Membership.objects.values("group").distinct()
    used = set(granted().filter(group__in=having_people).values_list("opens", flat=True))
    names = dict(doors_within(actor).values_list("id", "name"))
    return Untidy(
        tuple(
            AlikeGroups(
                *pair,
                at_doors(beyond(gives[pair.other_id], gives[pair.one_id]), year.plan),
                at_doors(beyond(gives[pair.one_id], gives[pair.other_id]), year.plan),
            )
            for pair in nearly_alike(gives, LEAST_ALIKE)
        ),
        tuple(row["id"] for row in rows if row["member_count"] == 0),
        tuple(row["id"] for row in rows if row["member_count"] == 1),
        tuple(row["id"] for row in rows if not gives[row["id"]]),
        tuple(id_ for id_ in sorted(names, key=lambda id_: names[id_]) if id_ not in used),
    )


def at_doors(openings: Openings, plan: Plan) -> tuple[AtDoor, ...]:
    """Return openings by their doors; a door whose two ways differ stands there for each of them."""
    found: list[AtDoor] = []
    for id_ in sorted(set(map(abs, openings))):
        on_way_in, on_way_out = openings.get(id_, 0), openings.get(-id_, 0)
        if on_way_in == on_way_out or not plan.policies_out_of(id_):
            found.append(AtDoor(id_, hours_a_week(on_way_in)))
            continue
        found += [
            AtDoor(id_, hours_a_week(minutes), way)
            for way, minutes in ((Way.IN, on_way_in), (Way.OUT, on_way_out))
            if minutes
        ]
    return tuple(found)


def hours_a_week(minutes: Minutes) -> float:
    return round(minutes.bit_count() / 60 / WEEKS, 2)

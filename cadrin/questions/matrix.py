"""What groups open through one day, as a picture takes it."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from cadrin.access.queries import group_choices
from cadrin.core.access.plan import Membership
from cadrin.core.access.rights import spans_of_memberships
from cadrin.core.schedules import zone_named
from cadrin.core.validity import Span, bounds
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.questions.then import House
from cadrin.sites.queries import doors_within, home_site

Strip = tuple[tuple[int, int], ...]
"""Open time of a day, in minutes since it began."""


@dataclass(frozen=True, slots=True)
class Matrix:
    """Groups and doors, and in each of the ``cells`` (place of the group, of the door, of the strip)
    when the one opens the other; the day has ``minutes``. ``as_now`` is as in every answer.
    """

    groups: Rows
    doors: Rows
    strips: tuple[Strip, ...]
    cells: tuple[tuple[int, int, int], ...]
    minutes: int
    as_now: frozenset[str]


def matrix(actor: Actor, day: date | None, now: datetime) -> Matrix:
    """Return what every group within reach opens through a day of the site, today unless given."""
    zone = zone_named(home_site()["zone"])
    day = day or now.astimezone(zone).date()
    # counted in real time: a day on which clocks change is longer or shorter
    begins, ends = (datetime.combine(one, time(), zone) for one in (day, day + timedelta(days=1)))
    start, end = (instant.astimezone(now.tzinfo) for instant in (begins, ends))
    house = House.at_instant(start if day < now.astimezone(zone).date() else now, now)
    groups = [row for row in group_choices(actor) if row["id"] in house.plan.groups]
    doors = list(doors_within(actor).order_by("name", "id").values("id", "name", "area__name"))
    place_of_door = {row["id"]: place for place, row in enumerate(doors)}
    strips: dict[Strip, int] = {}
    cells = []
    for place, row in enumerate(groups):
        member = (Membership(row["id"]),)
        for door_id in house.plan.groups[row["id"]].schedules_of_door:
            if door_id not in place_of_door:
                continue
            spans = spans_of_memberships(member, door_id, house.plan, Span(start, end))
            strip = tuple(
                (_minutes(first - start), _minutes(last - start))
                for first, last in map(bounds, spans)
            )
            cells.append((place, place_of_door[door_id], strips.setdefault(strip, len(strips))))
    told = [{"id": r["id"], "name": r["name"], "area": r["area__name"]} for r in doors]
    minutes = _minutes(end - start)
    return Matrix(groups, told, tuple(strips), tuple(cells), minutes, frozenset(house.as_now))


def _minutes(length: timedelta) -> int:
    return round(length.total_seconds() / 60)

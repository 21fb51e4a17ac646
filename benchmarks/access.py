"""Who can open what, over the whole world: matrix, doors, people, questions and previews."""

import sqlite3
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta
from random import Random
from statistics import median

from benchmarks.measuring import Table, in_turn, milliseconds, seconds
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.hours_preview import preview_schedule
from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.access.plan import access_plan
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import Holder
from cadrin.core.access.reach import A_WEEK, reach
from cadrin.core.access.ways import Doorway
from cadrin.core.schedules import Hours
from cadrin.core.validity import Span
from cadrin.delivery.preview import preview_group
from cadrin.operators.actor import system_actor
from cadrin.outbox.commands import move_plan_version
from cadrin.questions.doors import at_a_door
from cadrin.questions.matrix import matrix
from cadrin.sites.commands.schedules import ScheduleDraft
from cadrin.sites.models import Door, Schedule

PEOPLE_OF_A_LARGE_GROUP = 20_000
ROUNDS = 3

DOORS_PEOPLE = """
    SELECT DISTINCT m.cardholder_id FROM access_membership m
    JOIN access_grant g ON g.group_id = m.group_id AND g.door_id = ?
    JOIN people_cardholder p ON p.id = m.cardholder_id AND p.standing = 'active'
    JOIN credentials_card c ON c.holder_id = p.id AND c.status = 'issued'
    """
PERSONS_DOORS = """
    SELECT DISTINCT g.door_id FROM access_membership m
    JOIN access_grant g ON g.group_id = m.group_id
    WHERE m.cardholder_id = ?
    """


def bench_access(table: Table, everybody: Sequence[Holder], database: str, now: datetime) -> None:
    plan, raw, random = access_plan(), sqlite3.connect(database), Random(11)
    doors = list(Door.objects.values_list("id", flat=True))
    roster = Roster(everybody)
    packed = roster.matrix(doors, plan, now)
    ours, limit, spread = in_turn(
        lambda: roster.matrix(doors, plan, now),
        packed.copy,
        ROUNDS,
    )
    table.add(
        "the whole matrix now: 100,000 people, 500 doors",
        milliseconds(ours),
        f"a copy of the packed result {milliseconds(limit)}",
        ours / limit,
        "<= 4",
        spread,
    )
    some = random.sample(doors, 20)
    _beside(
        table,
        "one door's people, from memory",
        lambda: [roster.who_may_open(door, plan, now) for door in some],
        "SQL join, hours left out",
        lambda: [raw.execute(DOORS_PEOPLE, (door,)).fetchall() for door in some],
        len(some),
        "<= 0.025",
    )
    people = random.sample(list(everybody), 20)
    _beside(
        table,
        "one person's doors now and through a week",
        lambda: [reach(one, doors, plan, now, Span(now, now + A_WEEK)) for one in people],
        "SQL join, hours left out",
        lambda: [raw.execute(PERSONS_DOORS, (one.id,)).fetchall() for one in people],
        len(people),
        "<= 0.025",
    )
    rows = Door.objects.values_list("id", "from_area_id", "area_id")
    doorways = [Doorway(id_, origin or 0, into) for id_, origin, into in rows]
    goal = doorways[-1].destination
    table.say(
        "everybody who could come into an area",
        milliseconds(seconds(lambda: roster.who_gets_into(goal, doorways, plan, now))),
    )
    actor = system_actor("Benchmark")
    for what, at in (("now", now), ("a day ago, by the journal", now - timedelta(days=1))):
        took = [seconds(lambda: at_a_door(actor, doors[0], at, now)) for _ in range(ROUNDS)]  # noqa: B023
        table.say(f"question: who may open a door {what}", milliseconds(median(took)))
    table.say("the picture of a day", milliseconds(seconds(lambda: matrix(actor, None, now))))
    _previews(table, now)
    raw.close()


def _beside(
    table: Table,
    what: str,
    ours: Callable[[], object],
    beside: str,
    limit: Callable[[], object],
    count: int,
    goal: str,
) -> None:
    took, least, spread = in_turn(ours, limit, ROUNDS)
    table.add(
        what,
        milliseconds(took / count),
        f"{beside} {milliseconds(least / count)}",
        took / least,
        goal,
        spread,
    )


def _previews(table: Table, now: datetime) -> None:
    """Time the consequences of a change to a group of 20,000, and to hours that touch everybody."""
    group = AccessGroup.objects.create(name="Everybody of the benchmark")
    door, schedule = Door.objects.order_by("id")[0], Schedule.objects.order_by("id")[0]
    Grant.objects.create(group=group, door=door, schedule=schedule)
    Membership.objects.bulk_create(
        Membership(group=group, cardholder_id=id_) for id_ in range(1, PEOPLE_OF_A_LARGE_GROUP + 1)
    )
    move_plan_version()
    grants = tuple(
        GrantDraft(id_, schedule.pk) for id_ in Door.objects.values_list("id", flat=True)[:5]
    )
    draft = GroupDraft(group.name, "", grants, group.version)
    took = [seconds(lambda: preview_group(group.pk, draft)) for _ in range(ROUNDS)]
    table.say("preview of a change to a group of 20,000", milliseconds(median(took)))
    hours = ScheduleDraft("Other", "Europe/London", (Hours(0, 0, 60),), schedule.version)
    took = [seconds(lambda: preview_schedule(schedule.pk, hours, now)) for _ in range(ROUNDS)]
    table.say("preview of hours that touch everybody", milliseconds(median(took)))

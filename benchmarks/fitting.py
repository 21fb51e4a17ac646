"""Finding groups by what they give: 200 groups, 500 doors, 30 schedules, a year of minutes."""

from datetime import UTC, datetime, timedelta
from random import Random

from benchmarks.measuring import Table, in_turn
from cadrin.core.access.fitting import Year, fits, nearly_alike, smallest_cover
from cadrin.core.access.plan import AccessGroup, Plan
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.validity import Span

GROUPS, DOORS, SCHEDULES, DOORS_OF_A_GROUP, WANTED = 200, 500, 30, 20, 8


def bench_fitting(table: Table) -> None:
    random = Random(5)
    plan = _a_plan(random)
    start = datetime(2026, 1, 5, tzinfo=UTC)
    span = Span(start, start + timedelta(days=364))
    years: list[Year] = []
    whole = bytes(SCHEDULES * 364 * 1440 // 8)
    made, copied, _ = in_turn(
        lambda: years.append(Year(plan, span)), lambda: bytearray(whole), rounds=3
    )
    table.add(
        "a year of every group",
        f"{made * 1000:.0f} ms",
        f"a copy of their minutes {copied * 1000:.1f} ms",
        made / copied,
        "none set",
    )
    year = years[-1]
    questions = []
    for _ in range(5):
        doors = random.sample(range(1, DOORS + 1), WANTED)
        questions.append(
            year.of_group(
                AccessGroup(0, "", {door: (random.randrange(1, SCHEDULES + 1),) for door in doors})
            )
        )
    minutes = sum(len(gives) for gives in year.groups.values()) * 364 * 1440 // 8
    everything = bytes(minutes)

    def finding() -> None:
        for wanted in questions:
            fits(wanted, year.groups)
            smallest_cover(wanted, year.groups)

    def copying() -> None:
        for _ in questions:
            bytearray(everything)

    ours, limit, _ = in_turn(finding, copying)
    table.add(
        f"finder, {WANTED} doors",
        f"{ours / len(questions) * 1000:.1f} ms",
        f"a copy of all minutes {limit / len(questions) * 1000:.1f} ms",
        ours / limit,
        "none set",
    )
    ours, limit, _ = in_turn(lambda: nearly_alike(year.groups, 0.8), lambda: bytearray(everything))
    table.add(
        "nearly alike, every pair",
        f"{ours * 1000:.0f} ms",
        f"a copy of all minutes {limit * 1000:.1f} ms",
        ours / limit,
        "none set",
    )


def _a_plan(random: Random) -> Plan:
    schedules = {}
    for id_ in range(1, SCHEDULES + 1):
        begin = random.randrange(300, 700)
        hours = tuple(Hours(day, begin, begin + 480) for day in range(random.randrange(4, 8)))
        schedules[id_] = Schedule("Europe/London", hours)
    groups = {
        id_: AccessGroup(
            id_,
            f"Group {id_}",
            {
                door: (random.randrange(1, SCHEDULES + 1),)
                for door in random.sample(range(1, DOORS + 1), DOORS_OF_A_GROUP)
            },
        )
        for id_ in range(1, GROUPS + 1)
    }
    return Plan(schedules=schedules, groups=groups)

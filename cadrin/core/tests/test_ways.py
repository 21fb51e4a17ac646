"""The way to an area is held against all ways there are, tried one by one."""

from collections.abc import Iterator
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import AccessGroup, Membership
from cadrin.core.access.ways import Doorway, way_to
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.rules import OUTSIDE, DoorRules
from cadrin.core.tests.builders import ALWAYS_OPEN, MONDAY_NOON, OFFICE, a_holder, a_plan

AREAS = range(5)
SITES = st.lists(
    st.tuples(st.sampled_from(AREAS), st.sampled_from(AREAS)).filter(lambda two: two[0] != two[1]),
    min_size=1,
    max_size=7,
)


def every_way(doors: list[Doorway], here: int, goal: int) -> Iterator[tuple[tuple[int, bool], ...]]:
    """Yield every way that comes to no area twice."""

    def on(area: int, seen: frozenset[int]) -> Iterator[tuple[tuple[int, bool], ...]]:
        if area == goal:
            yield ()
            return
        for door in doors:
            for is_out in (False, True):
                origin, into = (door.origin, door.destination)
                if is_out:
                    origin, into = into, origin
                if origin == area and into not in seen:
                    for rest in on(into, seen | {into}):
                        yield ((door.door_id, is_out), *rest)

    yield from on(here, frozenset({here}))


class Ways(TestCase):
    @given(SITES, st.sets(st.integers(0, 6)), st.sampled_from(AREAS))
    def test_has_the_fewest_shut_doors_and_is_the_shortest_of_those(
        self, pairs: list[tuple[int, int]], opened: set[int], goal: int
    ) -> None:
        doors = [Doorway(n, origin, into) for n, (origin, into) in enumerate(pairs)]
        group = AccessGroup(7, "Some", dict.fromkeys(opened, (ALWAYS_OPEN,)))
        plan = replace(
            a_plan(),
            groups={7: group},
            door_of_reader={100 + door.door_id: door.door_id for door in doors},
        )
        holder = a_holder(memberships=(Membership(7),))

        way = way_to(holder, doors, plan, MONDAY_NOON, goal)

        # a way out has no reader here: it is free
        costs = [
            (sum(not is_out and door not in opened for door, is_out in found), len(found))
            for found in every_way(doors, OUTSIDE, goal)
        ]
        if way is None:
            self.assertEqual(costs, [])
        else:
            shut = sum(passage.reason is not Reason.GRANTED for passage in way)
            self.assertEqual((shut, len(way)), min(costs))

    @given(SITES, st.lists(st.sets(st.integers(0, 6)), max_size=4), st.sampled_from(AREAS))
    def test_of_everybody_is_that_of_each(
        self, pairs: list[tuple[int, int]], opened: list[set[int]], goal: int
    ) -> None:
        doors = [Doorway(n, origin, into) for n, (origin, into) in enumerate(pairs)]
        groups = {
            id_: AccessGroup(id_, "Some", dict.fromkeys(some, (ALWAYS_OPEN,)))
            for id_, some in enumerate(opened)
        }
        readers = {100 + door.door_id: door.door_id for door in doors}
        # every other door is read on the way out too
        readers |= {200 + door.door_id: door.door_id for door in doors[::2]}
        plan = replace(
            a_plan(),
            groups=groups,
            door_of_reader=readers,
            readers_out=frozenset(id_ for id_ in readers if id_ >= 200),
            doors={1: DoorRules(unlocked=OFFICE)},
        )
        people = [a_holder(id_=id_, memberships=(Membership(id_),)) for id_ in groups]

        found = Roster(people).who_gets_into(goal, doors, plan, MONDAY_NOON)

        ways = {one.id: way_to(one, doors, plan, MONDAY_NOON, goal) for one in people}
        self.assertEqual(
            found,
            tuple(
                id_
                for id_, way in ways.items()
                if way is not None and all(step.reason is Reason.GRANTED for step in way)
            ),
        )

    def test_goes_through_a_door_that_is_unlocked_for_everybody(self) -> None:
        plan = replace(a_plan(), doors={10: DoorRules(unlocked=OFFICE)})
        stranger = a_holder(memberships=())
        way = way_to(stranger, [Doorway(10, OUTSIDE, 1)], plan, MONDAY_NOON, 1)
        assert way
        self.assertIs(way[0].reason, Reason.GRANTED)

"""Anti-passback, room and interlock against a small model, over every order of events."""

from dataclasses import replace
from datetime import datetime
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.access.plan import AccessGroup, Plan
from cadrin.core.doors.rules import AreaRules, DoorRules, Passback
from cadrin.core.doors.state import NOBODY_THERE, Snapshot
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    MONDAY_NOON,
    a_plan,
)
from cadrin.core.tests.ruled_house import House

OUTSIDE, YARD, VAULT = 0, 1, 2
GATE, HATCH, TUNNEL = 21, 22, 23
WAYS = {GATE: (OUTSIDE, YARD), HATCH: (YARD, VAULT), TUNNEL: (VAULT, OUTSIDE)}
IN, OUT = {201: GATE, 202: HATCH, 203: TUNNEL}, {301: GATE, 302: HATCH, 303: TUNNEL}
PEOPLE, OPEN_SECONDS, PAUSE = (1, 2, 3, 4), 5, 3


def the_yard() -> Plan:
    """Three doors in a ring, two of which are an interlock; the yard is hard, the vault soft."""
    rules = {
        door: DoorRules(
            OPEN_SECONDS,
            OPEN_SECONDS,
            interlock={GATE: (HATCH,), HATCH: (GATE,)}.get(door, ()),
            from_area=origin,
            to_area=destination,
        )
        for door, (origin, destination) in WAYS.items()
    }
    always = a_plan().schedules[ALWAYS_OPEN]
    every_door = dict.fromkeys(WAYS, (ALWAYS_OPEN,))
    return replace(
        a_plan(),
        schedules={ALWAYS_OPEN: always},
        groups={EVERYWHERE: AccessGroup(EVERYWHERE, "Everywhere", every_door)},
        door_of_reader=IN | OUT,
        readers_out=frozenset(OUT),
        doors=rules,
        areas={YARD: AreaRules(Passback.HARD, most=2), VAULT: AreaRules(Passback.SOFT)},
    )


Event = tuple[str, int, int]
READS = [("read", person, reader) for person in PEOPLE for reader in (*IN, *OUT)]
MOVES = [(what, 0, door) for what in ("open", "shut") for door in WAYS]


class SmallModel:
    """The same three doors told with nothing but lists: where everybody is, and until when each door
    can be opened.
    """

    def __init__(self) -> None:
        self.where: dict[int, int] = {}
        self.open: set[int] = set()
        self.until: dict[int, int] = {}
        self.clock = 0

    def step(self, event: Event) -> tuple[bool, bool] | None:
        what, person, place = event
        self.clock += PAUSE
        if what == "open":
            self.open.add(place)
            return None
        if what == "shut":
            if place in self.open:
                self.open.discard(place)
                self.until.pop(place, None)
            return None
        door = IN.get(place) or OUT[place]
        origin, destination = WAYS[door] if place in IN else WAYS[door][::-1]
        known = self.where.get(person)
        twice, elsewhere = known == destination, known is not None and known != origin
        hard = (twice and destination == YARD) or (elsewhere and origin == YARD)
        soft = (twice and destination == VAULT) or (elsewhere and origin == VAULT)
        is_full = destination == YARD and known != YARD and [*self.where.values()].count(YARD) >= 2
        other = {GATE: HATCH, HATCH: GATE}.get(door)
        is_locked_out = other in self.open or self.until.get(other or 0, 0) > self.clock
        if hard or is_full or is_locked_out:
            return False, hard or (soft and not is_full)
        self.where[person] = destination
        self.until[door] = self.clock + OPEN_SECONDS
        return True, soft

    def copy(self) -> "SmallModel":
        other = SmallModel()
        other.where, other.open = dict(self.where), set(self.open)
        other.until, other.clock = dict(self.until), self.clock
        return other


class EveryOrderOfEvents(TestCase):
    """Four people and three doors, in every order of three events and in long ones at random."""

    def play(self, house: House, event: Event) -> tuple[bool, bool] | None:
        what, person, place = event
        house.wait(PAUSE)
        if what == "read":
            verdict = house.read(person, place)
            return verdict.is_granted, verdict.is_passed_back
        (house.open if what == "open" else house.shut)(place)
        return None

    def test_anti_passback_room_and_interlock_are_those_of_a_small_model(self) -> None:
        house = House(the_yard())
        tried = 0

        def follow(model: SmallModel, now: Snapshot, at: datetime, left: int) -> None:
            nonlocal tried
            for event in (*READS, *MOVES):
                expected_model = model.copy()
                house.now, house.at = now, at
                found = self.play(house, event)
                self.assertEqual(found, expected_model.step(event), (event, model.__dict__))
                tried += 1
                if left > 1:
                    follow(expected_model, house.now, house.at, left - 1)

        follow(SmallModel(), NOBODY_THERE, MONDAY_NOON, 3)
        self.assertEqual(tried, 30 + 30**2 + 30**3)

    @settings(max_examples=60)
    @given(st.lists(st.sampled_from([*READS, *MOVES]), min_size=10, max_size=80))
    def test_and_so_in_long_orders(self, events: list[Event]) -> None:
        house, model = House(the_yard()), SmallModel()
        for event in events:
            self.assertEqual(self.play(house, event), model.step(event), event)

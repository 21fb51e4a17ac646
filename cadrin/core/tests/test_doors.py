"""What a door does beside rights: hours, orders, a second person, an operator's word, alarms."""

from dataclasses import replace
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.access.plan import AccessGroup, Membership, Plan
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedies import outlook
from cadrin.core.decision.situation import Presented, Situation
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.passing import (
    Happening,
    after_consent,
    after_opening,
    after_read,
    after_release,
    after_shutting,
    held_open,
)
from cadrin.core.doors.rules import AreaRules, DoorRules, Lock, Ordered, Passback
from cadrin.core.doors.state import NOBODY_THERE, DoorState, Snapshot, Whereabouts
from cadrin.core.records.doors import (
    decode_area,
    decode_door,
    decode_presence,
    encode_area,
    encode_door,
    encode_presence,
)
from cadrin.core.schedules import Schedule
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    FRONT,
    FRONT_READER,
    LAB_DOOR,
    LAB_READER,
    MONDAY_NOON,
    OFFICE,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
    instants,
    schedules_with_holidays,
)

SATURDAY = datetime.fromisoformat("2026-06-06T12:00:00+00:00")
OUT_READER = 110
LATER = timedelta(seconds=1)


def a_ruled_plan(rules: DoorRules, areas: dict[int, AreaRules] | None = None) -> Plan:
    """The front door with rules, and a reader on its way out."""
    plan = a_plan()
    return replace(
        plan,
        doors={FRONT: rules},
        door_of_reader={**plan.door_of_reader, OUT_READER: FRONT},
        readers_out=frozenset({OUT_READER}),
        areas=areas or {},
    )


class House:
    """A controller and what happens at it, one thing after the other."""

    def __init__(self, plan: Plan, people: int = 4) -> None:
        everywhere = (Membership(EVERYWHERE),)
        self.holders = {
            id_: a_holder(id_=id_, cards=(a_card(id_),), memberships=everywhere)
            for id_ in range(1, people + 1)
        }
        self.records = held(plan, *self.holders.values())
        self.now, self.at = NOBODY_THERE, MONDAY_NOON

    def read(self, person: int = 1, reader: int = FRONT_READER) -> Verdict:
        read = Evidence(a_read(a_card(person)))
        verdict = decide(read, reader, self.at, self.records, self.now)
        change = after_read(verdict, reader, self.records.plan, self.now, self.at)
        self.now = self.now.after(change)
        return verdict

    def reason(self, person: int = 1, reader: int = FRONT_READER) -> Reason:
        return self.read(person, reader).reason

    def open(self, door: int = FRONT) -> Happening | None:
        happened = after_opening(door, self.records.plan, self.now, self.at)
        self.now = self.now.after(happened.change)
        return happened.happening

    def shut(self, door: int = FRONT) -> Happening | None:
        happened = after_shutting(door, self.now)
        self.now = self.now.after(happened.change)
        return happened.happening

    def wait(self, seconds: float) -> None:
        self.at += timedelta(seconds=seconds)

    def lock(self, door: int = FRONT) -> Lock:
        return lock_of(self.records.plan.doors[door], self.now.door(door), self.at)


class Locks(TestCase):
    def test_is_unlocked_for_its_seconds_after_a_read_and_not_longer(self) -> None:
        house = House(a_ruled_plan(DoorRules(open_seconds=7)))
        self.assertIs(house.lock(), Lock.LOCKED)

        self.assertEqual(house.read().open_seconds, 7)

        house.wait(6.9)
        self.assertIs(house.lock(), Lock.RELEASED)
        house.wait(0.1)
        self.assertIs(house.lock(), Lock.LOCKED)

    def test_locks_again_as_soon_as_it_was_shut(self) -> None:
        house = House(a_ruled_plan(DoorRules(open_seconds=60)))
        house.read()
        house.open()
        house.shut()
        self.assertIs(house.lock(), Lock.LOCKED)

    def test_an_order_comes_before_hours_and_ends_by_itself(self) -> None:
        rules = DoorRules(unlocked=OFFICE)
        tomorrow = MONDAY_NOON + timedelta(days=1)
        cases = {
            "by hours": (rules, Lock.BY_HOURS),
            "kept shut": (replace(rules, ordered=Ordered.SHUT), Lock.KEPT_SHUT),
            "kept open in closed hours": (
                DoorRules(closed=OFFICE, ordered=Ordered.OPEN),
                Lock.KEPT_OPEN,
            ),
            "closed": (replace(rules, closed=OFFICE), Lock.CLOSED),
            "an order that is over": (
                replace(rules, ordered=Ordered.SHUT, ordered_until=MONDAY_NOON),
                Lock.BY_HOURS,
            ),
            "an order that holds": (
                replace(rules, ordered=Ordered.SHUT, ordered_until=tomorrow),
                Lock.KEPT_SHUT,
            ),
        }
        for name, (given_rules, expected) in cases.items():
            with self.subTest(name):
                self.assertIs(lock_of(given_rules, DoorState(), MONDAY_NOON), expected)

    def test_unlocked_hours_wait_for_the_first_person_each_time(self) -> None:
        rules = DoorRules(unlocked=OFFICE, first_person=True)
        house = House(a_ruled_plan(rules))
        self.assertIs(house.lock(), Lock.LOCKED)

        house.read()
        house.wait(3600)
        self.assertIs(house.lock(), Lock.BY_HOURS)

        house.wait(23 * 3600)  # the next day nobody came yet
        self.assertIs(house.lock(), Lock.LOCKED)

    @given(schedules_with_holidays(), instants(days=4), st.integers(0, 4 * 24 * 3600))
    def test_the_first_person_unlocks_until_the_hours_end(
        self, hours: Schedule, came: datetime, later: int
    ) -> None:
        rules = DoorRules(unlocked=hours, first_person=True)
        at = came + timedelta(seconds=later)

        lock = lock_of(rules, DoorState(granted_at=came), at)

        # minute by minute: the hours held all the time since
        minutes = [came + timedelta(minutes=n) for n in range(later // 60 + 1)]
        held_on = all(hours.is_open(one) for one in (*minutes, at))
        self.assertIs(lock, Lock.BY_HOURS if held_on else Lock.LOCKED)


class ClosedHours(TestCase):
    def test_let_in_nobody_but_a_group_that_overrides_them(self) -> None:
        plan = a_ruled_plan(DoorRules(closed=OFFICE))
        house = House(plan)
        self.assertIs(house.reason(), Reason.DOOR_CLOSED)
        overriding = AccessGroup(EVERYWHERE, "Everywhere", {FRONT: (ALWAYS_OPEN,)}, overrides=True)

        house = House(replace(plan, groups={**plan.groups, EVERYWHERE: overriding}))

        self.assertIs(house.reason(), Reason.GRANTED)

    def test_hold_as_well_while_an_operator_keeps_it_shut(self) -> None:
        house = House(a_ruled_plan(DoorRules(ordered=Ordered.SHUT)))
        self.assertIs(house.reason(), Reason.DOOR_KEPT_SHUT)


class TwoPeople(TestCase):
    RULES = DoorRules(second_seconds=10, from_area=0, to_area=5)

    def house(self) -> House:
        return House(a_ruled_plan(self.RULES, {5: AreaRules(most=3)}))

    def test_come_in_together_and_one_alone_does_not(self) -> None:
        house = self.house()

        self.assertIs(house.reason(1), Reason.SECOND_PERSON_AWAITED)
        self.assertIs(house.reason(1), Reason.SECOND_PERSON_AWAITED)
        self.assertIs(house.reason(2), Reason.GRANTED)

        self.assertEqual({id_: w.area_id for id_, w in house.now.people.items()}, {1: 5, 2: 5})
        self.assertIs(
            house.reason(3), Reason.AREA_FULL, "there is room for one, and two would come"
        )

    def test_must_come_in_time_and_on_the_same_side(self) -> None:
        house = self.house()
        house.read(1)
        self.assertIs(house.reason(2, OUT_READER), Reason.SECOND_PERSON_AWAITED)

        house = self.house()
        house.read(1)
        house.wait(10)
        self.assertIs(house.reason(2), Reason.SECOND_PERSON_AWAITED)


class Consent(TestCase):
    def test_lets_in_whoever_asked_in_time(self) -> None:
        house = House(a_ruled_plan(DoorRules(consent_seconds=30), {}))
        self.assertIs(house.reason(), Reason.CONSENT_AWAITED)
        self.assertIs(house.lock(), Lock.LOCKED)

        house.wait(29)
        change = after_consent(FRONT, house.records.plan, house.now, house.at)

        assert change
        house.now = house.now.after(change)
        self.assertIs(house.lock(), Lock.RELEASED)
        self.assertIsNone(after_consent(FRONT, house.records.plan, house.now, house.at), "once")

    def test_comes_too_late_after_its_time(self) -> None:
        house = House(a_ruled_plan(DoorRules(consent_seconds=30)))
        house.read()
        house.wait(30)
        self.assertIsNone(after_consent(FRONT, house.records.plan, house.now, house.at))


class Alarms(TestCase):
    RULES = DoorRules(open_seconds=5, held_seconds=20, tells_forced=True)

    def house(self, rules: DoorRules = RULES) -> House:
        return House(a_ruled_plan(rules))

    def told(self, house: House) -> tuple[int, ...]:
        found = held_open([FRONT], house.records.plan, house.now, house.at)
        for _, change in found:
            house.now = house.now.after(change)
        return tuple(door for door, _ in found)

    def test_a_door_that_opens_without_a_read_was_forced(self) -> None:
        house = self.house()
        self.assertIs(house.open(), Happening.FORCED)
        self.assertIsNone(house.open())
        self.assertIs(house.shut(), Happening.SHUT)
        house.read()
        self.assertIs(house.open(), Happening.OPENED)

    def test_the_button_on_the_way_out_forces_nothing(self) -> None:
        house = self.house()
        house.now = house.now.after(after_release(FRONT, 5, house.now, house.at))
        self.assertIs(house.open(), Happening.OPENED)

    def test_a_door_held_open_is_told_once_and_only_after_its_time(self) -> None:
        house = self.house()
        house.read()
        house.open()
        house.wait(24.9)
        self.assertEqual(self.told(house), ())
        house.wait(0.1)
        self.assertEqual(self.told(house), (FRONT,))
        self.assertEqual(self.told(house), ())

    def test_a_door_may_stand_open_in_its_unlocked_hours_and_for_its_time_after(self) -> None:
        house = self.house(replace(self.RULES, unlocked=OFFICE))
        self.assertIs(house.open(), Happening.OPENED)
        house.at = datetime.fromisoformat("2026-06-01T17:00:19+00:00")  # 18:00:19 on the wall
        self.assertEqual(self.told(house), ())
        house.wait(1)
        self.assertEqual(self.told(house), (FRONT,))


class Areas(TestCase):
    HARD = AreaRules(Passback.HARD, forgiven_after_seconds=3600)
    RULES = DoorRules(from_area=0, to_area=5)

    def test_whoever_is_inside_comes_not_in_again_before_they_went_out(self) -> None:
        house = House(a_ruled_plan(self.RULES, {5: self.HARD}))
        self.assertIs(house.reason(), Reason.GRANTED)
        self.assertIs(house.reason(), Reason.PASSED_BACK)
        self.assertIs(house.reason(1, OUT_READER), Reason.GRANTED)
        self.assertIs(house.reason(1, OUT_READER), Reason.PASSED_BACK, "they are outside already")
        self.assertIs(house.reason(), Reason.GRANTED)

    def test_time_forgives_and_so_does_an_operator(self) -> None:
        house = House(a_ruled_plan(self.RULES, {5: self.HARD}))
        house.read()
        house.wait(3600)
        self.assertIs(house.reason(), Reason.GRANTED)
        people = {1: Whereabouts(None, house.at)}
        house.now = replace(house.now, people=people)
        self.assertIs(house.reason(), Reason.GRANTED)

    def test_a_soft_rule_lets_in_and_says_so(self) -> None:
        house = House(a_ruled_plan(self.RULES, {5: AreaRules(Passback.SOFT)}))
        self.assertFalse(house.read().is_passed_back)
        again = house.read()
        self.assertEqual((again.reason, again.is_passed_back), (Reason.GRANTED, True))
        self.assertEqual(again.open_seconds, 5)

    def test_no_more_come_in_than_there_is_room_for(self) -> None:
        house = House(a_ruled_plan(self.RULES, {5: AreaRules(most=2)}))
        self.assertEqual([house.reason(id_) for id_ in (1, 2, 3)][-1], Reason.AREA_FULL)
        self.assertIs(house.reason(2), Reason.GRANTED, "they are inside already")
        house.read(1, OUT_READER)
        self.assertIs(house.reason(3), Reason.GRANTED)


class Remedies(TestCase):
    def test_each_reason_of_a_door_has_one_that_opens_it(self) -> None:
        inside = Snapshot(people={1: Whereabouts(5, MONDAY_NOON), 2: Whereabouts(5, MONDAY_NOON)})
        lab_open = Snapshot(doors={LAB_DOOR: DoorState(open_since=MONDAY_NOON)})
        way = DoorRules(from_area=0, to_area=5)
        outside = replace(inside, people={2: Whereabouts(5, MONDAY_NOON)})
        cases = {
            Act.CLOSED_HOURS: (DoorRules(closed=OFFICE), {}, NOBODY_THERE),
            Act.END_ORDER: (DoorRules(ordered=Ordered.SHUT), {}, NOBODY_THERE),
            Act.FORGIVE: (way, {5: AreaRules(Passback.HARD)}, inside),
            Act.MAKE_ROOM: (way, {5: AreaRules(most=1)}, outside),
            Act.SHUT_OTHER_DOORS: (DoorRules(interlock=(LAB_DOOR,)), {}, lab_open),
            Act.SECOND_PERSON: (DoorRules(second_seconds=10), {}, NOBODY_THERE),
            Act.LET_IN: (DoorRules(consent_seconds=10), {}, NOBODY_THERE),
        }
        holder = a_holder(memberships=(Membership(EVERYWHERE),))
        presented = Presented(FRONT_READER, a_read(a_card()))
        for act, (rules, areas, house) in cases.items():
            with self.subTest(act):
                plan = a_ruled_plan(rules, areas)
                found = outlook(Situation(presented, plan, holder, house=house), MONDAY_NOON)
                self.assertIn((act,), [tuple(step.act for step in way) for way in found.remedies])

    def test_an_overriding_group_is_offered_where_a_door_is_closed(self) -> None:
        plan = a_ruled_plan(DoorRules(closed=OFFICE))
        chief = AccessGroup(9, "Duty chief", {FRONT: (ALWAYS_OPEN,)}, overrides=True)
        plan = replace(plan, groups={**plan.groups, 9: chief})
        presented = Presented(FRONT_READER, a_read(a_card()))
        holder = a_holder(memberships=(Membership(EVERYWHERE),))

        found = outlook(Situation(presented, plan, holder), MONDAY_NOON)

        self.assertIn(
            (Act.ADD_TO_GROUP, 9), [(way[0].act, way[0].group_id) for way in found.remedies]
        )


def door_rules() -> st.SearchStrategy[DoorRules]:
    """Rules of every kind, together or alone."""
    hours = st.none() | schedules_with_holidays()
    seconds = st.none() | st.integers(1, 300)
    area = st.none() | st.integers(0, 3)
    return st.builds(
        DoorRules,
        st.integers(1, 60),
        st.integers(60, 255),
        seconds,
        st.booleans(),
        hours,
        hours,
        st.booleans(),
        seconds,
        st.lists(st.sampled_from([LAB_DOOR, 12]), unique=True).map(lambda ids: tuple(sorted(ids))),
        seconds,
        st.booleans(),
        area,
        area,
        st.none() | st.sampled_from(Ordered),
        st.none() | instants(),
    )


class Records(TestCase):
    @given(door_rules())
    def test_of_a_door_reads_back_as_it_was_written(self, rules: DoorRules) -> None:
        if rules.ordered is None:
            rules = replace(rules, ordered_until=None)
        self.assertEqual(decode_door(encode_door(rules)), rules)

    @given(
        st.builds(
            AreaRules,
            st.sampled_from(Passback),
            st.none() | st.integers(1, 10**6),
            st.none() | st.integers(1, 500),
        )
    )
    def test_of_an_area_reads_back_as_it_was_written(self, rules: AreaRules) -> None:
        self.assertEqual(decode_area(encode_area(rules)), rules)

    @given(st.builds(Whereabouts, st.none() | st.integers(0, 9), instants()))
    def test_of_a_presence_reads_back_as_it_was_written(self, where: Whereabouts) -> None:
        self.assertEqual(decode_presence(encode_presence(where)), where)


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


class LabIsPlain(TestCase):
    def test_a_door_without_rules_asks_for_nothing_more(self) -> None:
        house = House(a_ruled_plan(DoorRules(second_seconds=5)))
        house.records = held(
            a_ruled_plan(DoorRules(second_seconds=5)), a_holder(cards=(a_card(1),))
        )
        self.assertIs(house.reason(1, LAB_READER), Reason.GRANTED)
        self.assertEqual(house.now.people, {})

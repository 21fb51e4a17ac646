"""What a door does beside rights: hours, orders, a second person, an operator's word, alarms."""

from dataclasses import replace
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.plan import AccessGroup, Membership
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedies import outlook
from cadrin.core.decision.situation import Presented, Situation
from cadrin.core.doors.locks import lock_of
from cadrin.core.doors.passing import (
    Happening,
    after_consent,
    after_release,
    held_open,
)
from cadrin.core.doors.rules import AreaRules, DoorRules, Lock, Ordered, Passback
from cadrin.core.doors.state import NOBODY_THERE, DoorState, Snapshot, Whereabouts
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
    a_read,
    held,
    instants,
    schedules_with_holidays,
)
from cadrin.core.tests.ruled_house import OUT_READER, House, a_ruled_plan


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


class LabIsPlain(TestCase):
    def test_a_door_without_rules_asks_for_nothing_more(self) -> None:
        house = House(a_ruled_plan(DoorRules(second_seconds=5)))
        house.records = held(
            a_ruled_plan(DoorRules(second_seconds=5)), a_holder(cards=(a_card(1),))
        )
        self.assertIs(house.reason(1, LAB_READER), Reason.GRANTED)
        self.assertEqual(house.now.people, {})

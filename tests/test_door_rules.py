"""What doors do is saved with what goes against it, and operators act on doors within their reach."""

from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.test import TestCase

from cadrin.access.commands.presence import WentInto, forgive, forgive_all_in, note_went
from cadrin.access.plan import access_plan
from cadrin.access.presence import people_in, whereabouts
from cadrin.core.doors.rules import AreaRules, Lock, Ordered, Passback
from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.core.records.keys import RecordKind
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import plans_here, take_marks
from cadrin.journal.models import Entry
from cadrin.operators.permissions import Permission
from cadrin.operators.scope import Scope
from cadrin.outbox.models import Mark
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.orders import act_at_door, end_order, end_orders_over, order_door
from cadrin.sites.commands.places import AreaDraft, save_area
from cadrin.sites.commands.releases import (
    ReleaseGroupDraft,
    begin_release,
    end_release,
    save_release_group,
)
from cadrin.sites.commands.schedules import remove_schedule
from cadrin.sites.door_states import door_states
from cadrin.sites.models import Area, Door, DoorAct, DoorOrder
from tests.house import DAY, NOON, House
from tests.test_places import codes


class DoorRules(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.gate, self.lab = self.house.gate, self.house.lab

    def save(self, door: Door, **changes: object) -> None:
        draft = stored_door(door.pk)._replace(**changes)  # type: ignore[arg-type]
        save_door(self.actor, door.pk, draft, NOON)

    def locks(self) -> dict[int, str]:
        return {row["id"]: row["lock"] for row in door_states(self.actor, NOON)}

    def test_go_to_the_controller_of_the_door_and_no_other(self) -> None:
        self.save(self.gate, unlocked_schedule_id=self.house.office.pk, held_seconds=30)
        here = plans_here()[self.house.north.pk].doors[self.gate.pk]
        self.assertEqual((here.held_seconds, here.unlocked is not None), (30, True))
        self.assertNotIn(self.gate.pk, plans_here()[self.house.south.pk].doors)
        (entry,) = Entry.objects.filter(action="door.changed")
        self.assertEqual(entry.changes["unlocked_schedule"], [None, "Office hours"])

    def test_that_contradict_each_other_are_refused_beside_their_fields(self) -> None:
        self.save(self.lab, unlocked_schedule_id=self.house.office.pk)
        cases: dict[str, tuple[dict[str, Any], tuple[str, str]]] = {
            "itself": ({"interlock": (self.gate.pk,)}, ("door.interlock_with_itself", "interlock")),
            "elsewhere": (
                {"interlock": (self.house.slip.pk,)},
                ("door.interlock_elsewhere", "interlock"),
            ),
            "hours there": (
                {"interlock": (self.lab.pk,)},
                ("door.interlock_with_hours_there", "interlock"),
            ),
            "gone": ({"interlock": (999,)}, ("input.no_longer_there", "interlock")),
            "no hours": (
                {"first_person": True},
                ("door.first_person_without_hours", "first_person"),
            ),
            "too short": ({"second_seconds": 1}, ("input.out_of_range", "second_seconds")),
            "no schedule": (
                {"closed_schedule_id": 999},
                ("input.no_longer_there", "closed_schedule_id"),
            ),
        }
        for name, (changes, expected) in cases.items():
            with self.subTest(name), self.assertRaises(Invalid) as caught:
                self.save(self.gate, **changes)
            self.assertEqual(codes(caught.exception), {expected})
        self.gate.refresh_from_db()
        self.assertEqual(self.gate.version, 1)

    def test_an_interlock_holds_from_both_sides(self) -> None:
        self.save(self.gate, interlock=(self.lab.pk,))
        rules = access_plan().doors
        self.assertEqual(rules[self.gate.pk].interlock, (self.lab.pk,))
        self.assertEqual(rules[self.lab.pk].interlock, (self.gate.pk,))

    def test_a_schedule_that_a_door_goes_by_is_not_removed(self) -> None:
        self.save(self.gate, closed_schedule_id=self.house.office.pk)
        self.house.day_group.grants.filter(schedule=self.house.office).delete()
        with self.assertRaises(Invalid) as caught:
            remove_schedule(self.actor, self.house.office.pk, NOON)
        (problem,) = caught.exception.problems
        self.assertEqual(problem.params, {"names": "Gate"})


class Orders(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.gate = self.house.gate.pk

    def lock(self, at: timedelta = timedelta()) -> str:
        rows = door_states(self.actor, NOON + at)
        return next(str(row["lock"]) for row in rows if row["id"] == self.gate)

    def test_keep_a_door_until_they_end(self) -> None:
        order_door(self.actor, self.gate, Ordered.OPEN, NOON + DAY, "Delivery of hulls", NOON)
        self.assertEqual(self.lock(), Lock.KEPT_OPEN)
        self.assertEqual(self.lock(DAY), Lock.LOCKED)
        rules = access_plan().doors[self.gate]
        self.assertEqual((rules.ordered, rules.ordered_until), (Ordered.OPEN, NOON + DAY))

        order_door(self.actor, self.gate, Ordered.SHUT, None, "Leak", NOON)
        self.assertEqual(self.lock(), Lock.KEPT_SHUT)
        self.assertEqual(DoorOrder.objects.filter(ended_at=None).count(), 1)

        end_order(self.actor, self.gate, NOON)
        self.assertEqual(self.lock(), Lock.LOCKED)
        with self.assertRaises(Invalid):
            end_order(self.actor, self.gate, NOON)

    def test_that_are_over_are_written_off_and_the_record_says_so(self) -> None:
        order_door(self.actor, self.gate, Ordered.OPEN, NOON + DAY, "Delivery", NOON)
        self.assertEqual(end_orders_over(NOON), 0)
        self.assertEqual(end_orders_over(NOON + DAY), 1)
        self.assertNotIn(self.gate, access_plan().doors)

    def test_need_a_reason_a_time_to_come_the_permission_and_the_door_within_reach(self) -> None:
        cases = {"input.blank": (None, " "), "order.ends_before_it_begins": (NOON, "Leak")}
        for code, (until, reason) in cases.items():
            with self.subTest(code), self.assertRaises(Invalid) as caught:
                order_door(self.actor, self.gate, Ordered.SHUT, until, reason, NOON)
            self.assertEqual(caught.exception.problems[0].code, code)
        others = replace(self.actor, permissions=frozenset({Permission.SEE}))
        with self.assertRaises(NotPermitted):
            act_at_door(others, self.gate, DoorAct.Kind.RELEASE, NOON)
        away = replace(self.actor, scope=Scope(sites=frozenset({999})))
        for act in (order_door, end_order):
            with self.subTest(act.__name__), self.assertRaises(NotFound):
                if act is order_door:
                    order_door(away, self.gate, Ordered.SHUT, None, "Leak", NOON)
                else:
                    end_order(away, self.gate, NOON)
        self.assertFalse(DoorOrder.objects.exists() or DoorAct.objects.exists())

    def test_go_before_everything_else_that_waits(self) -> None:
        self.house.enrol_many(3)
        order_door(self.actor, self.gate, Ordered.SHUT, None, "Leak", NOON)
        first = Mark.objects.filter(is_withdrawal=True)
        self.assertEqual([mark.subject for mark in first], ["group"])


class Emergencies(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        doors = (self.house.gate.pk, self.house.slip.pk)
        self.group = save_release_group(self.actor, None, ReleaseGroupDraft("Way out", doors), NOON)

    def kept_open(self) -> set[int]:
        return {id_ for id_, rules in access_plan().doors.items() if rules.ordered is Ordered.OPEN}

    def test_unlock_all_doors_by_one_act_and_end_as_deliberately(self) -> None:
        order_door(self.actor, self.house.gate.pk, Ordered.SHUT, None, "Leak", NOON)
        begin_release(self.actor, self.group, "Fire alarm", NOON)
        self.assertEqual(self.kept_open(), {self.house.gate.pk, self.house.slip.pk})

        with self.assertRaises(Invalid) as caught:
            end_release(self.actor, self.group, "", NOON)
        self.assertEqual(codes(caught.exception), {("input.blank", "reason")})
        end_release(self.actor, self.group, "False alarm", NOON)

        self.assertEqual(self.kept_open(), set())
        gate = access_plan().doors[self.house.gate.pk]
        self.assertIs(gate.ordered, Ordered.SHUT, "what was ordered before holds again")

    def test_are_not_begun_twice_nor_changed_while_they_are_on(self) -> None:
        begin_release(self.actor, self.group, "Fire alarm", NOON)
        with self.assertRaises(Invalid) as caught:
            begin_release(self.actor, self.group, "Again", NOON)
        self.assertEqual(codes(caught.exception), {("release_group.is_released", None)})
        with self.assertRaises(Invalid):
            save_release_group(self.actor, self.group, ReleaseGroupDraft("Way out", (), 2), NOON)


class Presence(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.area = self.house.gate.area
        draft = AreaDraft(self.house.site.pk, self.area.name, Passback.HARD, 60, 5, version=1)
        save_area(self.actor, self.area.pk, draft, NOON)
        self.person = self.house.enrol()
        while take_marks(NOON):
            pass

    def told(self) -> set[int]:
        rows = Record.objects.filter(kind=RecordKind.PRESENCE).exclude(wanted="")
        return set(rows.values_list("controller_id", flat=True))

    def test_of_an_area_is_told_to_every_controller_with_a_door_there(self) -> None:
        here = plans_here()[self.house.north.pk]
        self.assertEqual(here.areas, {self.area.pk: AreaRules(Passback.HARD, 3600, 5)})
        self.assertEqual((here.doors[self.house.gate.pk].from_area), 0)

        note_went([WentInto(self.area.pk, (self.person,), NOON)])
        take_marks(NOON)

        self.assertEqual(self.told(), {self.house.north.pk, self.house.south.pk})
        self.assertEqual(
            [row["name"] for row in people_in(self.actor, self.area.pk)], ["Tomas Reve"]
        )

    def test_what_comes_late_does_not_count(self) -> None:
        note_went([WentInto(self.area.pk, (self.person,), NOON)])
        note_went([WentInto(0, (self.person,), NOON - DAY)])
        self.assertEqual(whereabouts()[self.person].area_id, self.area.pk)
        note_went([WentInto(0, (self.person,), NOON + DAY)])
        self.assertEqual(whereabouts()[self.person].area_id, 0)

    def test_is_forgiven_for_one_and_for_all(self) -> None:
        note_went([WentInto(self.area.pk, (self.person,), NOON)])
        forgive(self.actor, [self.person], NOON)
        self.assertIsNone(whereabouts()[self.person].area_id)
        note_went([WentInto(self.area.pk, (self.person,), NOON + DAY)])
        self.assertEqual(forgive_all_in(self.actor, self.area.pk, NOON + DAY), 1)
        with self.assertRaises(Invalid):
            forgive_all_in(self.actor, self.area.pk, NOON + DAY)
        self.assertEqual(Entry.objects.filter(action="presence.forgiven").count(), 2)

    def test_of_whoever_departs_is_nowhere(self) -> None:
        note_went([WentInto(self.area.pk, (self.person,), NOON)])
        take_marks(NOON)
        left = self.house.draft(standing="departed")
        self.house.save(self.person, replace(left, version=1, cards=(), memberships=()))

        while take_marks(NOON):
            pass

        self.assertEqual((self.told(), people_in(self.actor, self.area.pk)), (set(), []))

    def test_is_taken_away_from_controllers_when_nobody_is_counted_any_more(self) -> None:
        note_went([WentInto(self.area.pk, (self.person,), NOON)])
        take_marks(NOON)
        version = Area.objects.get(pk=self.area.pk).version
        plain = AreaDraft(self.house.site.pk, self.area.name, version=version)

        save_area(self.actor, self.area.pk, plain, NOON)
        take_marks(NOON)

        self.assertEqual(self.told(), set())

"""Two groups of one person that lead to the same door: told, or refused where a controller cannot."""

from dataclasses import replace
from datetime import timedelta

from django.test import TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import Grant, Membership
from cadrin.bulk.commands import begin_bulk_change
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.preview import preview_bulk_change
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.bulk import BulkAct, LeftAlone
from cadrin.core.errors import Invalid
from cadrin.delivery.devices import save_device
from cadrin.delivery.preview import preview_cardholder
from cadrin.enrolment.commands.memberships import add_people, join_groups
from cadrin.enrolment.queries import stored_cardholder
from cadrin.outbox.commands import move_plan_version
from cadrin.people.queries import get_cardholder, rules
from cadrin.register.selection import Selection
from cadrin.sites.commands.controllers import ControllerDraft, save_controller
from tests.house import NOON, House


class MeetingGroups(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        Grant.objects.create(
            group=self.house.boats, door=self.house.lab, schedule=self.house.always
        )
        move_plan_version()
        day, boats = (MembershipDraft(one.pk) for one in (self.house.day_group, self.house.boats))
        self.in_both = replace(self.house.draft(), memberships=(day, boats))

    def forbid(self) -> None:
        north = self.house.north
        draft = ControllerDraft(north.name, north.address, north.version, knows_one_group=True)
        save_controller(self.actor, north.pk, draft, NOON)

    def test_are_told_with_their_doors_as_long_as_both_are_in_force(self) -> None:
        (met,) = preview_cardholder(self.actor, None, self.in_both, NOON, NOON).meetings
        groups = self.house.day_group.pk, self.house.boats.pk
        self.assertEqual((met.one, met.other, met.door_ids), (*groups, (self.house.lab.pk,)))
        day, boats = self.in_both.memberships
        turn = NOON + timedelta(days=3)
        in_turn = (replace(day, expiry_at=turn), replace(boats, activation_at=turn))
        after = replace(self.in_both, memberships=in_turn)
        self.assertEqual(preview_cardholder(self.actor, None, after, NOON, NOON).meetings, ())

    def test_are_refused_with_both_names_where_a_controller_knows_one(self) -> None:
        self.house.enrol(self.in_both)
        self.forbid()
        with self.assertRaises(Invalid) as refused:
            self.house.enrol(replace(self.in_both, cards=(self.house.card(7),)))
        (problem,) = (p for p in refused.exception.problems if p.code == "membership.meets")
        self.assertEqual(problem.field, "memberships.1.group")
        self.assertEqual(dict(problem.params), {"one": "Day", "other": "Boats", "door": "Lab"})

    def test_a_group_is_not_given_a_door_at_which_it_would_meet_another(self) -> None:
        Grant.objects.filter(group=self.house.boats, door=self.house.lab).delete()
        move_plan_version()
        self.house.enrol(self.in_both)
        self.forbid()
        grants = tuple(
            GrantDraft(door.pk, self.house.always.pk) for door in (self.house.slip, self.house.gate)
        )
        boats = self.house.boats
        draft = GroupDraft(boats.name, "", grants, boats.version)
        with self.assertRaises(Invalid) as refused:
            save_group(self.actor, boats.pk, draft, NOON)
        (problem,) = refused.exception.problems
        self.assertEqual((problem.code, problem.field), ("group.meets", "grants.1.door"))
        told = {"one": "Boats", "other": "Day", "door": "Gate", "count": 1}
        self.assertEqual(dict(problem.params), told)

    def apart(self) -> tuple[int, int]:
        """Enrol somebody in each of the groups, which may meet no more; return who they are."""
        day, boats = self.in_both.memberships
        one = self.house.enrol(replace(self.in_both, memberships=(day,)))
        draft = replace(self.house.draft("S-2"), cards=(self.house.card(7),), memberships=(boats,))
        other = self.house.enrol(draft)
        self.forbid()
        return one, other

    def test_nobody_is_put_into_a_second_one_from_its_side(self) -> None:
        one, other = self.apart()
        with self.assertRaises(Invalid) as refused:
            add_people(self.actor, self.house.boats.pk, [other, one], NOON)
        (problem,) = refused.exception.problems
        self.assertEqual(
            (problem.code, dict(problem.params)),
            ("membership.meets", {"one": "Day", "other": "Boats", "door": "Lab"}),
        )
        with self.assertRaises(Invalid):
            join_groups(self.actor, other, [self.house.day_group.pk], NOON)
        self.assertEqual(Membership.objects.count(), 2)

    def test_an_act_on_many_leaves_them_alone_and_says_why(self) -> None:
        one, other = self.apart()
        draft = BulkDraft(BulkAct.ADD_GROUP, self.house.boats.pk)
        everybody = Selection(ids=(one, other))
        weighed = preview_bulk_change(self.actor, draft, everybody, NOON)
        self.assertEqual(weighed.left_alone, {LeftAlone.MEETS: 1, LeftAlone.SAME: 1})
        begin_bulk_change(self.actor, draft, everybody, NOON)
        while work_on_bulk_changes(NOON):
            pass
        self.assertEqual(Membership.objects.count(), 2)

    def test_a_controller_is_not_said_to_know_one_group_while_somebody_has_two(self) -> None:
        id_ = self.house.enrol(self.in_both)
        north = self.house.north
        draft = ControllerDraft(north.name, north.address, north.version, knows_one_group=True)
        with self.assertRaises(Invalid) as refused:
            save_device(self.actor, north.pk, draft, NOON)
        (problem,) = refused.exception.problems
        self.assertEqual(
            (problem.code, problem.field), ("controller.groups_meet", "knows_one_group")
        )
        self.assertEqual((problem.params["door"], problem.params["count"]), ("Lab", 1))
        file = stored_cardholder(get_cardholder(self.actor, id_), rules())
        self.house.save(id_, replace(file, memberships=file.memberships[:1]))
        save_device(self.actor, north.pk, draft, NOON)
        north.refresh_from_db()
        self.assertTrue(north.knows_one_group)

    def test_groups_that_follow_one_another_may_have_the_same_door(self) -> None:
        self.forbid()
        day, boats = self.in_both.memberships
        turn = NOON + timedelta(days=3)
        in_turn = (replace(day, expiry_at=turn), replace(boats, activation_at=turn))
        self.house.enrol(replace(self.in_both, memberships=in_turn))
        for group in (self.house.day_group, self.house.boats):  # saved anew with the same doors
            grants = tuple(
                GrantDraft(one.door_id, one.schedule_id)
                for one in Grant.objects.filter(group=group)
            )
            save_group(
                self.actor, group.pk, GroupDraft(group.name, "Anew", grants, group.version), NOON
            )

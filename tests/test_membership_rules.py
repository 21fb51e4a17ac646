"""People are in groups by what they are: kept true as they are enrolled, move, and rules change."""

import json
from dataclasses import replace

from django.test import Client, TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft, RuleDraft
from cadrin.access.models import AccessGroup, KeptOut, Membership
from cadrin.access.plan import holders
from cadrin.core.errors import Invalid
from cadrin.delivery.preview import preview_cardholder
from cadrin.enrolment.commands.memberships import remove_people
from cadrin.enrolment.commands.rules import keep_rules, no_longer_kept_out
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.outbox.models import Mark
from cadrin.people.commands.departments import DepartmentDraft, save_department
from cadrin.people.models import Cardholder, Department
from cadrin.people.queries import rules
from tests.house import NOON, House


class MembershipRules(TestCase):
    def setUp(self) -> None:
        self.house = house = House()
        self.array = Department.objects.create(number="40", name="Tidal Array")
        self.crew = Department.objects.create(number="41", name="Turbine Crew", parent=self.array)
        self.group = self.ruled(RuleDraft(department_id=self.array.pk))
        self.person = house.enrol(house.draft("T-1", department_id=self.crew.pk))

    def ruled(self, *rule: RuleDraft, group_id: int | None = None) -> int:
        grant = GrantDraft(self.house.slip.pk, self.house.always.pk)
        version = AccessGroup.objects.get(pk=group_id).version if group_id else 0
        draft = GroupDraft("Turbines", "", (grant,), version, rules=rule)
        return save_group(self.house.actor, group_id, draft, NOON)

    def people(self) -> dict[int, bool]:
        rows = Membership.objects.filter(group=self.group)
        return dict(rows.values_list("cardholder_id", "is_by_rule"))

    def move(self, to: Department | None) -> None:
        one = Cardholder.objects.get(pk=self.person)
        file = stored_cardholder(one, rules())
        details = replace(file.details, department_id=to.pk if to else None)
        self.house.save(self.person, replace(file, details=details))

    def test_put_a_newcomer_in_with_the_same_save_and_send_them_to_the_doors(self) -> None:
        self.assertEqual(self.people(), {self.person: True})
        self.assertTrue(Mark.objects.filter(subject_id=self.person).exists())
        added = Entry.objects.filter(action="membership.added", changes__is_by_rule__1=True)
        self.assertEqual(added.count(), 1)

    def test_let_go_of_whoever_moves_away_and_the_preview_says_so_before(self) -> None:
        one = Cardholder.objects.get(pk=self.person)
        file = stored_cardholder(one, rules())
        draft = replace(file, details=replace(file.details, department_id=self.house.department.pk))
        told = preview_cardholder(self.house.actor, self.person, draft, NOON, NOON)
        self.assertEqual(told.difference.lost, (self.house.slip.pk,))
        self.move(self.house.department)
        self.assertEqual(self.people(), {})
        self.assertEqual(
            {one.group_id for one in holders([self.person])[self.person].memberships},
            {self.house.day_group.pk},
        )

    def test_make_an_exception_of_whoever_is_taken_out_by_hand(self) -> None:
        remove_people(self.house.actor, self.group, [self.person], NOON)
        self.move(self.array)
        keep_rules(NOON)
        self.assertEqual((self.people(), KeptOut.objects.count()), ({}, 1))
        no_longer_kept_out(self.house.actor, self.group, self.person, NOON)
        self.assertEqual((self.people(), KeptOut.objects.count()), ({self.person: True}, 0))

    def test_are_kept_when_a_rule_comes_changes_or_goes(self) -> None:
        others = self.house.enrol_many(3, self.house.boats.pk)
        Cardholder.objects.filter(pk__in=others).update(department=self.house.department)
        self.ruled(RuleDraft(department_id=self.house.department.pk), group_id=self.group)
        self.assertEqual(keep_rules(NOON), 4)
        self.assertEqual(self.people(), dict.fromkeys(others, True))
        self.assertEqual(keep_rules(NOON), 0)
        self.ruled(group_id=self.group)
        keep_rules(NOON)
        self.assertEqual(self.people(), {})

    def test_are_kept_when_a_department_moves_in_the_tree(self) -> None:
        draft = DepartmentDraft("41", "Turbine Crew", None, version=self.crew.version)
        save_department(self.house.actor, self.crew.pk, draft, NOON)
        keep_rules(NOON)
        self.assertEqual(self.people(), {})

    def test_leave_what_was_given_by_hand(self) -> None:
        (by_hand,) = self.house.enrol_many(1, self.group)
        keep_rules(NOON)
        self.assertEqual(self.people(), {self.person: True, by_hand: False})

    def test_about_nothing_are_refused_beside_their_field(self) -> None:
        with self.assertRaises(Invalid) as refused:
            self.ruled(RuleDraft(), group_id=self.group)
        (problem,) = refused.exception.problems
        self.assertEqual(
            (problem.code, problem.field), ("rule.about_nothing", "rules.0.department")
        )

    def test_are_told_and_saved_by_the_screen_and_exceptions_taken_back(self) -> None:
        client = Client()
        client.force_login(self.house.operator)
        (group,) = (row for row in client.get("/api/groups/").json() if row["id"] == self.group)
        self.assertEqual(
            group["rules"], [{"department": self.array.pk, "kind": None, "company": None}]
        )
        remove_people(self.house.actor, self.group, [self.person], NOON)
        path = f"/api/groups/{self.group}/kept-out/"
        (kept_out,) = client.get(path).json()
        self.assertEqual(kept_out["cardholder_id"], self.person)
        body = json.dumps({"cardholder": self.person})
        self.assertEqual(client.post(path, body, content_type="application/json").status_code, 204)
        self.assertEqual(self.people(), {self.person: True})

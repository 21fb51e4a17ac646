"""A grant may open a door on one of its ways alone: in the plan, before saving, in questions and in
words.
"""

import json
from dataclasses import replace
from datetime import timedelta

from django.test import Client, TestCase

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.plan_then import plan_then
from cadrin.core.access.plan import Way
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid
from cadrin.delivery.preview import preview_group
from cadrin.journal.models import Entry
from cadrin.outbox.commands import move_plan_version
from cadrin.questions.export import as_csv
from cadrin.questions.reaches import compared, of_a_group, of_a_person
from cadrin.sites.models import Reader
from tests.house import NOON, House

LATER = NOON + timedelta(minutes=5)


class OneWay(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor, self.lab = self.house.actor, self.house.lab
        Reader.objects.create(
            name="Lab out", door=self.lab, controller=self.lab.controller, is_way_out=True
        )
        move_plan_version()
        self.draft = GroupDraft("Leaving", "", (self.grant(Way.OUT),))
        self.group = save_group(self.actor, None, self.draft, NOON)
        only = (MembershipDraft(self.group),)
        self.person = self.house.enrol(replace(self.house.draft("S-7"), memberships=only))

    def grant(self, way: Way) -> GrantDraft:
        return GrantDraft(self.lab.pk, self.house.always.pk, way=way)

    def test_a_question_tells_the_way_out_as_one_and_the_way_in_as_none(self) -> None:
        (of_group,) = of_a_group(self.actor, self.group, NOON, NOON).lines
        self.assertEqual(
            (of_group.door, of_group.is_way_out, of_group.reason), ("Lab", True, Reason.GRANTED)
        )
        of_person = of_a_person(self.actor, self.person, NOON, NOON).lines
        self.assertEqual(
            [(one.is_way_out, one.reason, one.hours) for one in of_person],
            [(True, Reason.GRANTED, 168.0), (False, Reason.NO_MEMBERSHIP, 0)],
        )
        _, first, second = "".join(as_csv(self.actor, of_person)).splitlines()
        self.assertIn(",out,", first)
        self.assertIn(",in,", second)

    def test_two_people_differ_by_the_way_out_alone(self) -> None:
        other = self.house.enrol(
            replace(self.house.draft("S-8"), cards=(self.house.card(4760),), memberships=())
        )
        (line,) = compared(self.actor, self.person, other, NOON, NOON).lines
        self.assertTrue(line.is_way_out)
        self.assertEqual((line.hours, line.other_hours), (168.0, 0))

    def test_turning_it_round_is_weighed_saved_and_told(self) -> None:
        turned = self.draft._replace(grants=(self.grant(Way.IN),), version=1)
        self.assertEqual(preview_group(self.group, turned).other_hours, (self.lab.pk,))

        save_group(self.actor, self.group, turned, LATER)

        changes = Entry.objects.order_by("-id")[0].changes
        self.assertEqual(changes["grants_in"], [[], ["Lab: Always"]])
        self.assertEqual(changes["grants_out"], [["Lab: Always"], []])
        (now,) = of_a_group(self.actor, self.group, LATER, LATER).lines
        self.assertFalse(now.is_way_out)
        then, _ = plan_then(NOON)
        place = (self.lab.pk, self.house.always.pk)
        self.assertEqual(then.groups[self.group].one_way, {place: Way.OUT})

    def test_one_that_was_removed_is_known_with_its_way(self) -> None:
        self.house.save(self.person, replace(self.house.draft("S-7"), version=1, memberships=()))
        remove_group(self.actor, self.group, LATER)

        then, _ = plan_then(NOON)
        self.assertEqual([*then.groups[self.group].one_way.values()], [Way.OUT])

    def test_the_same_door_and_schedule_stand_in_a_group_once(self) -> None:
        twice = self.draft._replace(grants=(self.grant(Way.IN), self.grant(Way.OUT)), version=1)
        with self.assertRaises(Invalid) as refused:
            save_group(self.actor, self.group, twice, LATER)
        self.assertEqual(refused.exception.problems[0].code, "grant.twice")

    def test_the_finder_tells_the_ways_apart(self) -> None:
        client = Client()
        client.force_login(self.house.operator)
        wanted = {"door": self.lab.pk, "schedule": self.house.always.pk, "way": "both"}
        asked = {"grants": [wanted]}
        found = client.post(
            "/api/preview/groups/", json.dumps(asked), content_type="application/json"
        ).json()
        (one,) = (row for row in found["groups"] if row["group_id"] == self.group)
        self.assertFalse(one["is_exact"])
        self.assertEqual([(row["way"], row["hours"]) for row in one["less"]], [("in", 168.0)])
        asked["grants"][0]["way"] = "out"
        found = client.post(
            "/api/preview/groups/", json.dumps(asked), content_type="application/json"
        ).json()
        self.assertEqual(
            [row["group_id"] for row in found["groups"] if row["is_exact"]], [self.group]
        )

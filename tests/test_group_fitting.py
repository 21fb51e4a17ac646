"""Groups are found by what they give, listed where they could be put in order, and made one."""

import json
from datetime import timedelta
from typing import Any

from django.test import Client, TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup, DefaultGroup, KeptOut, Membership
from cadrin.core.validity import Span
from cadrin.enrolment.commands.memberships import add_people
from cadrin.journal.models import Entry
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder
from tests.house import NOON, House


class Fitting(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client = Client()
        self.client.force_login(self.house.operator)

    def a_group(self, name: str, *grants: tuple[Any, Any]) -> int:
        drafts = tuple(GrantDraft(door.pk, schedule.pk) for door, schedule in grants)
        return save_group(self.house.actor, None, GroupDraft(name, "", drafts), NOON)

    def ask(self, method: str, path: str, **body: Any) -> tuple[int, Any]:
        if method == "GET":
            answer = self.client.get(path, body)
        else:
            answer = self.client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json()

    def find(self, **asked: Any) -> Any:
        status, found = self.ask("POST", "/api/preview/groups/", **asked)
        self.assertEqual(status, 200, found)
        return found


class Finder(Fitting):
    def test_names_exact_groups_before_others_and_what_they_give_more(self) -> None:
        house = self.house
        grants = [{"door": house.gate.pk, "schedule": house.always.pk}]
        only_gate = self.a_group("Gate", (house.gate, house.always))
        found = self.find(grants=grants)
        self.assertEqual(
            [one["group_id"] for one in found["groups"]], [only_gate, house.day_group.pk]
        )
        more = found["groups"][1]["more"]
        self.assertEqual(more, [{"door_id": house.lab.pk, "hours": 50.0, "way": "both"}])
        self.assertEqual(found["cover"], [only_gate])

    def test_puts_groups_together_and_says_what_none_of_them_gives(self) -> None:
        house = self.house
        found = self.find(
            grants=[
                {"door": house.lab.pk, "schedule": house.always.pk},
                {"door": house.slip.pk, "schedule": house.office.pk},
            ]
        )
        self.assertEqual(found["cover"], [house.day_group.pk, house.boats.pk])
        self.assertEqual(
            found["lacking"], [{"door_id": house.lab.pk, "hours": 168 - 50.0, "way": "both"}]
        )

    def test_goes_by_what_a_colleague_has_now(self) -> None:
        house = self.house
        colleague, newcomer = house.enrol_many(2, house.boats.pk)
        found = self.find(like=colleague, cardholder=newcomer)
        self.assertEqual(
            (found["cover"], found["has_already"]), ([house.boats.pk], [house.boats.pk])
        )

    def test_refuses_doors_that_are_not_there(self) -> None:
        status, _ = self.ask(
            "POST", "/api/preview/groups/", grants=[{"door": 999, "schedule": self.house.always.pk}]
        )
        self.assertEqual(status, 404)


class Tidying(Fitting):
    def test_lists_what_is_alike_empty_or_of_one_and_doors_that_nobody_opens(self) -> None:
        house = self.house
        again = self.a_group("Boats too", (house.slip, house.always))
        nothing = self.a_group("Nothing")
        house.enrol_many(1, house.boats.pk)
        _, told = self.ask("GET", "/api/groups/untidy/")
        self.assertEqual(
            [(one["one_id"], one["other_id"], one["likeness"]) for one in told["alike"]],
            [(house.boats.pk, again, 1.0)],
        )
        self.assertEqual(set(told["empty"]), {house.day_group.pk, again, nothing})
        self.assertEqual((told["of_one"], told["opening_nothing"]), ([house.boats.pk], [nothing]))
        self.assertEqual(told["doors"], [house.gate.pk, house.lab.pk])


class Merging(Fitting):
    def setUp(self) -> None:
        super().setUp()
        house = self.house
        self.again = self.a_group(
            "Boats too", (house.slip, house.always), (house.lab, house.office)
        )
        self.people = house.enrol_many(3, self.again)
        DefaultGroup.objects.create(department=house.department, group_id=self.again)
        Mark.objects.all().delete()

    def merge(self) -> tuple[int, Any]:
        return self.ask("POST", f"/api/groups/{self.again}/merge/", into=self.house.boats.pk)

    def test_says_what_people_get_more_and_less_and_then_does_it(self) -> None:
        boats = self.house.boats
        path = f"/api/groups/{self.again}/merge/"
        _, told = self.ask("GET", path, into=boats.pk)
        self.assertEqual((told["people"], told["in_both"], told["more"]), (3, 0, []))
        self.assertEqual(
            told["less"], [{"door_id": self.house.lab.pk, "hours": 50.0, "way": "both"}]
        )

        self.assertEqual(self.merge(), (200, {"moved": 3}))

        self.assertFalse(AccessGroup.objects.filter(pk=self.again).exists())
        members = Membership.objects.filter(group=boats).values_list("cardholder", flat=True)
        self.assertEqual(set(members), set(self.people))
        self.assertEqual(DefaultGroup.objects.get().group, boats)
        self.assertTrue(Entry.objects.filter(action="group.merged").exists())
        self.assertTrue(Mark.objects.exists(), "doors are told")

    def test_takes_the_rules_along(self) -> None:
        department = self.house.department
        group = AccessGroup.objects.get(pk=self.again)
        group.rules.create(department=department)
        Membership.objects.filter(group=group).update(is_by_rule=True)
        Cardholder.objects.filter(pk__in=self.people).update(department=department)
        self.assertEqual(self.merge()[0], 200)
        members = Membership.objects.filter(group=self.house.boats)
        self.assertEqual(set(members.values_list("is_by_rule", flat=True)), {True})
        self.assertEqual(self.house.boats.rules.get().department, department)
        self.assertFalse(KeptOut.objects.exists())

    def test_joins_the_times_of_whoever_is_in_both(self) -> None:
        week = timedelta(days=7)
        in_both = self.people[:1]
        add_people(self.house.actor, self.house.boats.pk, in_both, NOON, Span(NOON, NOON + week))
        self.assertEqual(self.merge()[0], 200)
        self.assertIsNone(Membership.objects.get(cardholder=in_both[0]).expiry_at)

    def test_is_refused_where_two_times_do_not_meet_and_nothing_is_half_done(self) -> None:
        day = timedelta(days=1)
        in_both = self.people[:1]
        Membership.objects.filter(cardholder=in_both[0]).update(expiry_at=NOON)
        add_people(self.house.actor, self.house.boats.pk, in_both, NOON, Span(NOON + day, None))
        _, told = self.ask("GET", f"/api/groups/{self.again}/merge/", into=self.house.boats.pk)
        self.assertEqual(told["apart"], in_both)

        status, told = self.merge()

        self.assertEqual((status, told["problems"][0]["code"]), (422, "group.times_apart"))
        self.assertEqual(Membership.objects.filter(group_id=self.again).count(), 3)

    def test_with_itself_is_refused(self) -> None:
        status, told = self.ask("POST", f"/api/groups/{self.again}/merge/", into=self.again)
        self.assertEqual((status, told["problems"][0]["field"]), (422, "into"))

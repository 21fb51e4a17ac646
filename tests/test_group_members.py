"""People are put into a group and taken out of it from the group's side."""

import json
from typing import Any

from django.test import Client, TestCase

from cadrin.access.models import Membership
from cadrin.journal.models import Entry
from cadrin.operators.permissions import Permission
from tests.house import House, an_operator


class GroupMembers(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.people = self.house.enrol_many(3)
        self.client = Client()
        self.client.force_login(self.house.operator)
        self.path = f"/api/groups/{self.house.boats.pk}/members/"

    def post(self, path: str, **body: Any) -> tuple[int, dict[str, Any]]:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json()

    def members(self) -> set[int]:
        return set(
            Membership.objects.filter(group=self.house.boats).values_list("cardholder", flat=True)
        )

    def test_are_put_in_by_pasted_numbers_for_a_time_and_unknown_numbers_are_told(self) -> None:
        status, told = self.post(
            self.path, numbers=["m-0", "M-1", "M-9"], expiry_at="2030-06-01T12:00:00Z"
        )
        self.assertEqual((status, told), (200, {"added": 2, "there_before": 0, "unknown": ["M-9"]}))
        self.assertEqual(self.members(), set(self.people[:2]))
        ends = Membership.objects.filter(group=self.house.boats).values_list("expiry_at", flat=True)
        self.assertEqual({end.year for end in ends if end}, {2030})
        status, told = self.post(self.path, cardholders=self.people)
        self.assertEqual((told["added"], told["there_before"]), (1, 2))

    def test_are_taken_out_again(self) -> None:
        self.post(self.path, cardholders=self.people)
        status, told = self.post(f"{self.path}leaving/", cardholders=self.people[:2])
        self.assertEqual((status, told), (200, {"removed": 2}))
        self.assertEqual(self.members(), {self.people[2]})
        self.assertTrue(Entry.objects.filter(action="membership.removed").exists())

    def test_a_span_that_ends_before_it_begins_is_refused_beside_its_field(self) -> None:
        status, told = self.post(
            self.path,
            cardholders=self.people,
            activation_at="2030-06-02T12:00:00Z",
            expiry_at="2030-06-01T12:00:00Z",
        )
        self.assertEqual((status, told["problems"][0]["field"]), (422, "expiry_at"))
        self.assertEqual(self.members(), set())

    def test_need_the_permission_to_give_access(self) -> None:
        self.client.force_login(an_operator("looker", Permission.SEE))
        self.assertEqual(self.post(self.path, cardholders=self.people)[0], 403)

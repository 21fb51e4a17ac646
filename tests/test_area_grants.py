"""A group may open a whole area: every door into it, also those that come to it later."""

import json

from django.test import Client, TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.plan import access_plan
from cadrin.core.errors import Invalid
from cadrin.delivery.preview import preview_group
from cadrin.delivery.wanted import take_marks
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.places import remove_area
from cadrin.sites.models import Area, Door
from tests.house import NOON, House, wanted_anew


class AreaGrants(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.yard = Area.objects.create(site=self.house.site, name="Yard")
        grant = GrantDraft(None, self.house.always.pk, self.yard.pk)
        self.draft = GroupDraft("Yard people", "", (grant,))
        self.group = save_group(self.house.actor, None, self.draft, NOON)
        (self.person,) = self.house.enrol_many(1, self.group)

    def opened(self) -> set[int]:
        return set(access_plan().groups[self.group].schedules_of_door)

    def move(self, door: Door) -> None:
        draft = stored_door(door.pk)._replace(area_id=self.yard.pk)
        save_door(self.house.actor, door.pk, draft, NOON)

    def test_open_doors_as_they_come_to_the_area_and_send_their_people_there(self) -> None:
        self.assertEqual(self.opened(), set())
        south = self.house.south.pk
        self.assertNotIn(f"cardholder:{self.person}", wanted_anew(south))

        self.move(self.house.slip)
        while take_marks(NOON):
            pass

        self.assertEqual(self.opened(), {self.house.slip.pk})
        self.assertIn(f"cardholder:{self.person}", wanted_anew(south))

    def test_are_weighed_before_they_are_saved(self) -> None:
        self.move(self.house.slip)
        told = preview_group(None, self.draft._replace(name="More of them"))
        self.assertEqual((told.gained, told.problems), ((self.house.slip.pk,), ()))

    def test_are_of_a_door_or_an_area_and_not_of_both_or_none(self) -> None:
        always, slip = self.house.always.pk, self.house.slip.pk
        for grant in (GrantDraft(None, always), GrantDraft(slip, always, self.yard.pk)):
            with self.subTest(grant), self.assertRaises(Invalid) as refused:
                save_group(self.house.actor, None, GroupDraft("Odd", "", (grant,)), NOON)
            self.assertEqual(refused.exception.problems[0].code, "grant.of_door_or_area")

    def test_keep_their_area_from_being_removed(self) -> None:
        with self.assertRaises(Invalid) as refused:
            remove_area(self.house.actor, self.yard.pk, NOON)
        self.assertEqual(refused.exception.problems[0].code, "area.is_granted")

    def test_are_told_and_taken_by_the_screen_and_by_scripts(self) -> None:
        self.move(self.house.slip)
        client = Client()
        client.force_login(self.house.operator)
        groups = client.get("/api/groups/").json()
        (one,) = (row for row in groups if row["id"] == self.group)
        self.assertEqual(
            one["grants"],
            [{"door": None, "area": self.yard.pk, "schedule": self.house.always.pk, "way": "both"}],
        )
        self.assertEqual(
            one["opens"],
            [{"door": self.house.slip.pk, "schedule": self.house.always.pk, "way": "both"}],
        )
        again = client.put(
            f"/api/groups/{self.group}/", json.dumps(one), content_type="application/json"
        )
        self.assertEqual(again.status_code, 200, again.content)

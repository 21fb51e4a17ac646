"""The people of an access group are looked through: kept or taken out, each with a reason."""

import json
from dataclasses import replace
from datetime import timedelta
from typing import Any
from unittest import TestCase as PlainTestCase

from django.test import Client, TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup, Membership
from cadrin.core.access.reviewing import ReviewState, due_at, review_state
from cadrin.core.errors import Invalid, NotFound
from cadrin.desk.queries import reviews_overdue
from cadrin.enrolment.commands.memberships import add_people
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.operators.scope import Scope
from cadrin.reviews.commands import decide, end_review
from cadrin.reviews.looked import Kind
from cadrin.reviews.models import Decision, Review
from cadrin.reviews.queries import people_to_review, reviews
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.models import Area, Door, Site
from tests.house import DAY, NOON, House, an_operator


class DueReviews(PlainTestCase):
    def test_are_due_so_many_days_after_the_last_and_the_first_at_once(self) -> None:
        days = 90
        cases = {
            None: ReviewState.OVERDUE,
            NOON - timedelta(days=90): ReviewState.OVERDUE,
            NOON - timedelta(days=90) + timedelta(seconds=1): ReviewState.SOON,
            NOON - timedelta(days=76): ReviewState.SOON,
            NOON - timedelta(days=75): ReviewState.DONE,
        }
        for last, state in cases.items():
            with self.subTest(last):
                self.assertIs(review_state(last, days, NOON), state)
        self.assertIs(review_state(None, None, NOON), ReviewState.NONE)
        self.assertEqual(due_at(NOON, days), NOON + timedelta(days=days))


class Reviews(TestCase):
    def setUp(self) -> None:
        self.house = house = House()
        self.people = house.enrol_many(3, house.boats.pk)
        self.actor = house.actor
        self.client = Client()
        self.client.force_login(house.operator)
        self.group = house.boats.pk
        AccessGroup.objects.filter(pk=self.group).update(owner=house.operator, review_days=90)

    def post(self, path: str, **body: Any) -> tuple[int, Any]:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, json.loads(answer.content or b"null")

    def decide(self, *people: int, is_kept: bool = True, reason: str = "still sails") -> int:
        return decide(
            self.actor, Kind.GROUP, self.group, people, is_kept=is_kept, reason=reason, at=NOON
        )

    def test_keep_some_and_take_others_out_of_the_group_and_its_doors(self) -> None:
        self.decide(*self.people[:2])
        self.assertEqual(self.decide(self.people[2], is_kept=False, reason="left the crew"), 1)

        members = Membership.objects.filter(group=self.group).values_list("cardholder", flat=True)
        self.assertEqual(set(members), set(self.people[:2]))
        (one,) = reviews(self.actor, NOON)
        self.assertEqual((one.left, one.is_under_way, one.state), (0, True, ReviewState.OVERDUE))
        end_review(self.actor, Kind.GROUP, self.group, NOON)
        (one,) = reviews(self.actor, NOON + DAY)
        self.assertEqual((one.state, one.due_at), (ReviewState.DONE, NOON + 90 * DAY))
        told = Entry.objects.filter(action="group.reviewed").get().changes
        self.assertEqual((told["kept"], told["withdrawn"]), ([None, 2], [None, 1]))
        confirmed = Entry.objects.filter(action="membership.confirmed")
        self.assertEqual(confirmed.count(), 2)

    def test_do_not_end_while_somebody_is_left(self) -> None:
        self.decide(self.people[0])
        with self.assertRaises(Invalid) as refused:
            end_review(self.actor, Kind.GROUP, self.group, NOON)
        self.assertEqual(refused.exception.problems[0].params, {"count": 2})
        self.assertIsNone(Review.objects.get().ended_at)

    def test_need_a_reason_and_nothing_is_half_done(self) -> None:
        path = f"/api/groups/{self.group}/review/"
        status, told = self.post(path, cardholders=self.people, is_kept=False, reason=" ")
        self.assertEqual((status, told["problems"][0]["field"]), (422, "reason"))
        self.assertFalse(Decision.objects.exists() or Review.objects.exists())
        self.assertEqual(Membership.objects.filter(group=self.group).count(), 3)

    def test_stand_on_the_desk_of_the_owner_while_they_are_overdue(self) -> None:
        other = an_operator("keeper", Permission.SEE)
        self.assertEqual(reviews_overdue(self.actor, NOON).total, 1)
        self.assertEqual(reviews_overdue(actor_of(other), NOON).total, 1)
        save_group(self.actor, None, GroupDraft("Kept", "", (), 0, False, other.pk, 30), NOON)
        self.assertEqual(
            [row["name"] for row in reviews_overdue(actor_of(other), NOON).rows], ["Kept"]
        )
        self.decide(*self.people)
        end_review(self.actor, Kind.GROUP, self.group, NOON)
        self.assertEqual([row["name"] for row in reviews_overdue(self.actor, NOON).rows], ["Kept"])

    def test_are_recorded_for_auditors_also_after_the_group_is_gone(self) -> None:
        self.decide(*self.people, is_kept=False, reason="the boat is sold")
        end_review(self.actor, Kind.GROUP, self.group, NOON)
        record = self.client.get(f"/api/groups/{self.group}/review/record/")
        text = b"".join(record.streaming_content).decode("utf-8-sig")  # type: ignore[attr-defined]
        self.assertEqual(text.count("the boat is sold"), 3)
        self.assertIn("taken out", text)
        self.house.boats.delete()
        self.assertEqual(Decision.objects.filter(review__name="Boats").count(), 3)

    def test_of_a_door_go_through_everybody_whom_a_group_lets_in_there(self) -> None:
        house, slip = self.house, self.house.slip
        both = save_group(
            self.actor, None, GroupDraft("Everything", "", self.grants(slip, house.gate)), NOON
        )
        first, second, third = self.people
        add_people(self.actor, both, [second], NOON)
        draft = stored_door(slip.pk)._replace(owner_id=house.operator.pk, review_days=30)
        save_door(self.actor, slip.pk, draft, NOON)
        path = f"/api/doors/{slip.pk}/review/"

        due = {(one.kind, one.name): one for one in reviews(self.actor, NOON)}
        self.assertEqual(due[Kind.DOOR, "Slip"].people, 3)
        told = {row["cardholder_id"]: row for row in self.client.get(path).json()}
        self.assertEqual(told[second]["groups"], ["Boats", "Everything"])
        self.assertEqual((told[first]["loses"], told[second]["loses"]), (0, 1))
        self.assertEqual(
            self.post(path, cardholders=[first, third], is_kept=True, reason="sails")[1],
            {"decided": 2},
        )
        self.assertEqual(self.post(f"{path}end/")[0], 422)
        self.post(path, cardholders=[second], is_kept=False, reason="left the crew")
        self.assertFalse(Membership.objects.filter(cardholder=second).exists())
        self.assertEqual(self.post(f"{path}end/")[0], 204)

        due = {(one.kind, one.name): one for one in reviews(self.actor, NOON + DAY)}
        self.assertEqual(due[Kind.DOOR, "Slip"].state, ReviewState.DONE)
        self.assertIs(due[Kind.GROUP, "Boats"].state, ReviewState.OVERDUE)
        entry = Entry.objects.get(action="door.withdrawn")
        self.assertEqual(entry.changes["reason"], [None, "left the crew"])
        self.assertEqual(Entry.objects.get(action="door.reviewed").changes["kept"], [None, 2])

    def test_of_a_door_take_nobody_out_of_a_group_that_is_out_of_reach(self) -> None:
        house = self.house
        far = Area.objects.create(site=Site.objects.create(name="Far", zone="UTC"), name="Away")
        house.gate.area = far
        house.gate.save()
        both = save_group(
            self.actor, None, GroupDraft("Both", "", self.grants(house.slip, house.gate)), NOON
        )
        add_people(self.actor, both, self.people[:1], NOON)
        kept = replace(self.actor, scope=Scope(sites=frozenset({house.site.pk})))
        told = people_to_review(kept, Kind.DOOR, house.slip.pk)
        self.assertEqual([row["groups"] for row in told], [["Boats"]] * 3)
        with self.assertRaises(Invalid) as refused:
            decide(kept, Kind.DOOR, house.slip.pk, self.people, is_kept=False, reason="no", at=NOON)
        self.assertEqual(refused.exception.problems[0].code, "review.hidden_groups")
        self.assertFalse(Decision.objects.exists())
        with self.assertRaises(NotFound):
            people_to_review(kept, Kind.DOOR, house.gate.pk)

    def grants(self, *doors: Door) -> tuple[GrantDraft, ...]:
        return tuple(GrantDraft(door.pk, self.house.always.pk) for door in doors)

    def test_ask_for_an_owner(self) -> None:
        with self.assertRaises(Invalid) as refused:
            draft = GroupDraft("Nobody's", "", (), review_days=30)
            save_group(self.actor, None, draft, NOON)
        self.assertEqual(refused.exception.problems[0].field, "owner_id")

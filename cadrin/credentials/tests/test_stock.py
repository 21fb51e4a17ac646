"""Boxes of cards: entered, counted, and found by any part of a number."""

from dataclasses import replace
from typing import Any

from django.test import TestCase

from cadrin.core.credentials.card.detective import Clue
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.signs import Sign
from cadrin.core.credentials.card.stock import CardRange
from cadrin.core.errors import Invalid, NotPermitted
from cadrin.credentials.models import Box, Card
from cadrin.credentials.queries import investigated
from cadrin.credentials.stock import (
    BoxDraft,
    boxes,
    enter_box,
    free_cards,
    problems_with_box,
    there_already,
)
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from tests.house import NOON, House, an_operator


class Stock(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def draft(self, first: int = 5000, last: int = 5099, **more: Any) -> BoxDraft:
        return BoxDraft(self.house.format.pk, CardRange(12, first, last), **more)

    def enter(self, draft: BoxDraft) -> int:
        return enter_box(self.house.actor, draft, NOON)

    def codes(self, draft: BoxDraft) -> set[tuple[str | None, str]]:
        return {(problem.field, problem.code) for problem in problems_with_box(draft)}

    def test_a_box_makes_its_cards_and_says_so(self) -> None:
        self.enter(self.draft(kept_where="Safe"))

        (box,) = boxes()
        self.assertEqual((box["size"], box["free"], box["held"], box["missing"]), (100, 100, 0, 0))
        self.assertEqual(set(Card.objects.values_list("status", flat=True)), {CardStatus.IN_STOCK})
        entry = Entry.objects.latest("id")
        self.assertEqual(
            (entry.action, entry.changes["numbers"]), ("box.entered", [None, "5000-5099"])
        )

    def test_cards_that_there_are_already_are_shown_before_and_left_as_they_are(self) -> None:
        id_ = self.house.enrol()  # card 4751
        overlapping = self.draft(4700, 4799)

        cards, count = there_already(overlapping)
        self.assertEqual(([card.card_number for card in cards], count), ([4751], 1))
        self.assertEqual(self.codes(overlapping), {("first", "box.overlaps")})
        with self.assertRaises(Invalid):
            self.enter(overlapping)
        self.assertFalse(Box.objects.exists())

        self.enter(overlapping._replace(leaves_out=True))

        (box,) = boxes()
        self.assertEqual((box["held"], box["free"], box["missing"]), (1, 99, 0))
        self.assertEqual(Card.objects.get(card_number=4751).holder_id, id_)
        self.assertEqual(
            self.codes(overlapping._replace(leaves_out=True)), {("first", "box.all_there")}
        )

    def test_a_card_of_a_box_is_issued_counted_and_returned(self) -> None:
        self.enter(self.draft(5000, 5009))
        id_ = self.house.enrol(replace(self.house.draft(), cards=(self.house.card(5003),)))
        held = boxes()[0]["held"], boxes()[0]["free"]

        self.house.save(id_, replace(self.house.draft(), cards=(), version=1))

        self.assertEqual(held, (1, 9))
        self.assertEqual((boxes()[0]["held"], boxes()[0]["free"]), (0, 10))

    def test_cards_are_found_by_any_part_of_their_number(self) -> None:
        self.enter(self.draft(5000, 5099))
        self.house.enrol(replace(self.house.draft(), cards=(self.house.card(5042),)))
        cases = {
            "42": [],
            "043": [5043],
            "12 5007": [5007],
            "12-05007": [5007],
            "5099": [5099],
            "x": [],
        }

        for text, expected in cases.items():
            with self.subTest(text):
                self.assertEqual([row["card_number"] for row in free_cards(text)], expected)
        self.assertEqual(len(free_cards("")), 20)

    def test_the_detective_knows_the_boxes(self) -> None:
        self.enter(self.draft(5000, 5099))

        (first, *_) = investigated([Clue(text="12-5050")])

        self.assertIn(Sign.IN_STOCK, first.signs)

    def test_many_boxes_are_counted_with_one_question(self) -> None:
        for first in range(5000, 5500, 100):
            self.enter(self.draft(first, first + 9))

        with self.assertNumQueries(1):
            self.assertEqual([box["free"] for box in boxes()], [10] * 5)

    def test_boxes_are_for_whoever_may_issue_cards(self) -> None:
        with self.assertRaises(NotPermitted):
            enter_box(actor_of(an_operator("guard", Permission.SEE)), self.draft(), NOON)

    def test_a_full_box_is_made_in_one_act(self) -> None:
        self.enter(self.draft(0, 65_535))

        self.assertEqual(Card.objects.count(), 65_536)

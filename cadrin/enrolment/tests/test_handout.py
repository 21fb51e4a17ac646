"""Cards for a row of people, all or none."""

from dataclasses import replace

from django.test import TestCase

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid
from cadrin.credentials.models import Card
from cadrin.enrolment.commands.handout import (
    Pair,
    issue_row,
    notes_on_row,
    people_in_a_row,
    problems_with_row,
    run_of,
)
from cadrin.enrolment.tests.test_credentials import WithAHouse
from tests.house import ANYBODY, NOON, House


class RowsOfPeople(WithAHouse):
    def setUp(self) -> None:
        super().setUp()
        self.ids = [
            self.house.enrol(replace(self.house.draft(f"R-{n}"), cards=())) for n in range(3)
        ]

    def pairs(self, *numbers: int) -> list[Pair]:
        return [
            Pair(id_, self.house.card(number))
            for id_, number in zip(self.ids, numbers, strict=True)
        ]

    def test_are_of_those_without_a_card_in_the_order_of_the_choice(self) -> None:
        with_card = self.house.enrol(self.house.draft("R-9"))
        asked = [self.ids[2], with_card, self.ids[0]]

        found = people_in_a_row(ANYBODY, asked, None, None)
        by_number = people_in_a_row(ANYBODY, None, None, ("r-1", "R-2"))

        self.assertEqual([row["id"] for row in found], [self.ids[2], self.ids[0]])
        self.assertEqual([row["number"] for row in by_number], ["R-1", "R-2"])

    def test_everybody_gets_theirs(self) -> None:
        self.assertEqual(issue_row(self.house.actor, self.pairs(1, 2, 3), NOON), 3)

        self.assertEqual(
            list(Card.objects.order_by("id").values_list("holder_id", flat=True)), self.ids
        )

    def test_or_nobody_does(self) -> None:
        self.house.enrol(self.house.draft("R-9"))  # has 4751

        with self.assertRaises(Invalid) as caught:
            issue_row(self.house.actor, self.pairs(1, 4751, 1), NOON)

        self.assertEqual(
            [(problem.code, problem.field) for problem in caught.exception.problems],
            [("card.already_issued", "pairs.1.card_number"), ("card.twice", "pairs.2.card_number")],
        )
        self.assertEqual(Card.objects.count(), 1)


class ARun(TestCase):
    def test_follows_on_for_everybody_and_says_what_stands_against_it(self) -> None:
        house = House()
        holder = house.enrol()  # has 4751
        people = [
            house.enrol(replace(house.draft(f"S-{n}", last_name=f"R{n}"), cards=()))
            for n in (2, 3, 4)
        ]

        run, problems = run_of(house.actor, house.card(10), people, [], NOON)
        _, taken = run_of(house.actor, house.card(4750), people, [], NOON)
        _, twice = run_of(
            house.actor, house.card(9), people[1:], [Pair(people[0], house.card(10))], NOON
        )

        self.assertEqual([pair.card.card_number for pair in run], [10, 11, 12])
        self.assertEqual(([pair.cardholder_id for pair in run], problems), (people, ()))
        self.assertEqual(
            [(p.code, p.field, p.params["holder_id"]) for p in taken],
            [("card.already_issued", "pairs.1.card_number", holder)],
        )
        self.assertEqual(
            [(p.code, p.field) for p in twice], [("card.twice", "pairs.2.card_number")]
        )


class ARowOfPeopleWithCards(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.first = self.house.enrol()  # has 4751
        self.without = self.house.enrol(replace(self.house.draft("S-2", last_name="R2"), cards=()))

    def row(self, number: int) -> list[Pair]:
        return [Pair(self.first, self.house.card(number))]

    def cards(self) -> list[tuple[int, str, str]]:
        found = Card.objects.filter(holder=self.first).order_by("card_number")
        return list(found.values_list("card_number", "status", "label"))

    def test_is_of_those_who_have_one_and_says_which(self) -> None:
        (row,) = people_in_a_row(ANYBODY, None, None, None, CardStatus.RETURNED)

        self.assertEqual(row["id"], self.first)
        self.assertEqual([card[2] for card in row["old"]], [4751])
        self.assertEqual(
            [row["id"] for row in people_in_a_row(ANYBODY, None, None, None)], [self.without]
        )

    def test_the_old_card_goes_and_the_new_one_takes_over_what_was_said_of_it(self) -> None:
        Card.objects.update(label="front gate")

        issue_row(self.house.actor, self.row(9), NOON, CardStatus.RETURNED)
        self.assertEqual(self.cards(), [(9, "issued", "front gate")])
        issue_row(self.house.actor, self.row(10), NOON, CardStatus.LOST)

        self.assertEqual(self.cards(), [(9, "lost", "front gate"), (10, "issued", "front gate")])

    def test_without_a_word_of_the_old_card_it_stays(self) -> None:
        issue_row(self.house.actor, self.row(9), NOON)

        self.assertEqual([status for _, status, _ in self.cards()], ["issued", "issued"])

    def test_a_foreign_facility_code_is_told_and_stands_against_nothing(self) -> None:
        foreign = [Pair(self.first, replace(self.house.card(9), facility_code=13))]

        self.assertEqual(problems_with_row(self.house.actor, foreign, NOON), ())
        (note,) = notes_on_row([*self.row(8), *foreign])

        self.assertEqual(
            (note.code, note.field), ("card.foreign_facility", "pairs.1.facility_code")
        )

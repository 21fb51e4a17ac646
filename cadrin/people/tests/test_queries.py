from dataclasses import replace

from django.test import TestCase

from cadrin.core.people.details import NumberRule
from cadrin.people.lists import departments, departments_below
from cadrin.people.models import Cardholder, Department, Term
from cadrin.people.queries import find_ids, free_number, free_numbers
from tests.house import ANYBODY, House


class Departments(TestCase):
    def setUp(self) -> None:
        self.top = Department.objects.create(number="20", name="Tidal Array")
        self.crew = Department.objects.create(number="22", name="Turbine Crew", parent=self.top)
        self.watch = Department.objects.create(number="21", name="Control Watch", parent=self.top)
        self.night = Department.objects.create(number="19", name="Night Watch", parent=self.watch)
        Department.objects.create(number="10", name="Station Office")

    def test_are_read_as_a_tree_each_below_its_own(self) -> None:
        found = [(one["name"], one["depth"]) for one in departments(ANYBODY)]

        self.assertEqual(
            found,
            [
                ("Station Office", 0),
                ("Tidal Array", 0),
                ("Control Watch", 1),
                ("Night Watch", 2),
                ("Turbine Crew", 1),
            ],
        )

    def test_one_with_all_below_it(self) -> None:
        self.assertEqual(departments_below(self.watch.pk), {self.watch.pk, self.night.pk})
        self.assertEqual(
            departments_below(self.top.pk),
            {self.top.pk, self.crew.pk, self.watch.pk, self.night.pk},
        )

    def test_a_circle_that_should_not_be_there_ends_all_the_same(self) -> None:
        Department.objects.filter(pk=self.top.pk).update(parent=self.night)

        self.assertIn(self.crew.pk, departments_below(self.top.pk))


class Numbers(TestCase):
    def test_the_next_free_one_is_offered_whatever_else_is_in_use(self) -> None:
        house = House()
        self.assertEqual(free_number(NumberRule()), "S-00001")

        for place, number in enumerate(
            ("S-00009", "S-00003", "VISITOR-7", "s-00011", "S-12", "S-00abc")
        ):
            house.enrol(replace(house.draft(number), cards=(house.card(place),)))

        self.assertEqual(free_number(NumberRule()), "S-00012")

    def test_one_that_is_taken_is_not_offered_where_another_is_written_with_more_zeros(
        self,
    ) -> None:
        house = House()
        for place, number in enumerate(("S-000012", "S-00013", "S-00015")):
            house.enrol(replace(house.draft(number), cards=(house.card(place),)))

        self.assertEqual(free_numbers(NumberRule(), 3), ["S-00014", "S-00016", "S-00017"])


class Finding(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def enrol(self, number: str, first: str, last: str) -> int:
        draft = self.house.draft(number, first_name=first, last_name=last)
        return self.house.enrol(replace(draft, cards=()))

    def test_a_whole_word_comes_before_the_beginning_of_one(self) -> None:
        longer, whole = self.enrol("S-1", "Mara", "Lindqvist"), self.enrol("S-2", "Mara", "Lind")

        self.assertEqual(find_ids(ANYBODY, "lind"), [whole, longer])

    def test_every_word_must_be_found(self) -> None:
        mara, maren = self.enrol("S-1", "Mara", "Reve"), self.enrol("S-2", "Maren", "Skerritt")

        self.assertEqual(find_ids(ANYBODY, "mar sker"), [maren])
        self.assertEqual(find_ids(ANYBODY, "mar rev"), [mara])
        self.assertEqual(find_ids(ANYBODY, "  "), [])

    def test_a_card_leads_to_its_holder_as_it_is_printed(self) -> None:
        holder = self.house.enrol()
        self.enrol("S-4751", "Somebody", "Else")

        for typed in ("12-04751", "012-4751", "04751", "4751", "reve 047"):
            with self.subTest(typed):
                self.assertIn(holder, find_ids(ANYBODY, typed))
        self.assertEqual(find_ids(ANYBODY, "88-04751"), [])

    def test_no_more_than_asked_for_are_given(self) -> None:
        for place in range(25):
            self.enrol(f"S-{place}", "Mara", f"Reve{place}")

        self.assertEqual(len(find_ids(ANYBODY, "mara")), 20)
        self.assertEqual(len(find_ids(ANYBODY, "mara", most=3)), 3)

    def test_words_are_those_of_the_present_name(self) -> None:
        id_ = self.enrol("S-1", "Mara", "Reve")
        cardholder = Cardholder.objects.get(pk=id_)
        cardholder.last_name = "Skerritt"

        self.assertEqual(
            set(Term.objects.values_list("text", flat=True)), {"mara", "reve", "s-1", "s", "1"}
        )

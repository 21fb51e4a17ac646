from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from rapidfuzz import fuzz

from cadrin.core.people.duplicates import PersonFacts, Sign, name_likeness, signs
from cadrin.core.people.names import fold

BORN = date(1980, 5, 17)
MARA = PersonFacts("S-1", "Mara", "Lindqvist", "mara@skerrow.example", BORN, 7)
PEOPLE = st.builds(
    PersonFacts,
    number=st.sampled_from(["", "S-1", "s 1", "S-2"]),
    first_name=st.sampled_from(["", "Mara", "Måra", "Zoë"]),
    last_name=st.sampled_from(["", "Lindqvist", "Lindquist"]),
    email=st.sampled_from(["", "m@skerrow.example", "M@skerrow.example"]),
    born_on=st.sampled_from([None, BORN, date(1981, 1, 1)]),
    department_id=st.none() | st.integers(1, 2),
)


class Doubles(TestCase):
    @given(PEOPLE, PEOPLE)
    def test_names_are_as_alike_as_the_library_of_fuzzy_matching_has_it(
        self, person: PersonFacts, other: PersonFacts
    ) -> None:
        # rapidfuzz, token_sort_ratio: the words in order, whichever order they came in
        names = [
            fold(f"{one.first_name} {one.last_name}").replace("-", " ") for one in (person, other)
        ]
        likeness = fuzz.token_sort_ratio(*names) if all(names) else 0
        self.assertAlmostEqual(name_likeness(person, other), likeness)

    def test_what_speaks_for_one_person(self) -> None:
        # the slips a desk makes: a letter, a swap, an accent, the names the other way round (common
        # practice)
        for name, other, expected in (
            (
                "a slip",
                PersonFacts(first_name="Mara", last_name="Lindquist", born_on=BORN),
                {Sign.NAME_AND_BIRTH_DATE},
            ),
            (
                "two letters swapped",
                PersonFacts("", "Mraa", "Lindqvist", "", BORN),
                {Sign.NAME_AND_BIRTH_DATE},
            ),
            (
                "an accent",
                PersonFacts("", "Måra", "Lindqvist", "", BORN),
                {Sign.NAME_AND_BIRTH_DATE},
            ),
            (
                "the other way round",
                PersonFacts("", "Lindqvist", "Mara", "", None, 7),
                {Sign.NAME_AND_DEPARTMENT},
            ),
            ("the same address", PersonFacts(email="MARA@skerrow.example"), {Sign.EMAIL}),
            ("the same number", PersonFacts(number=" s-1"), {Sign.NUMBER}),
            ("a name alone", PersonFacts("S-2", "Mara", "Lindqvist"), set()),
            (
                "born on another day",
                PersonFacts("", "Mara", "Lindqvist", "", date(1979, 1, 1), 7),
                set(),
            ),
            ("another name", PersonFacts("", "Zoë", "Reve", "", BORN, 7), set()),
        ):
            with self.subTest(name):
                self.assertEqual(set(signs(MARA, other)), expected)

    @given(one=PEOPLE, other=PEOPLE)
    def test_are_doubles_of_each_other(self, one: PersonFacts, other: PersonFacts) -> None:
        self.assertEqual(signs(one, other), signs(other, one))

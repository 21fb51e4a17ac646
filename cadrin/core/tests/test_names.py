import doctest
import unicodedata
from unittest import TestCase, TestLoader, TestSuite

from hypothesis import given
from hypothesis import strategies as st

import cadrin.core.cards.formats
import cadrin.core.names
from cadrin.core.names import DisplayRule, display_name, fold, number_key, terms_of


def load_tests(loader: TestLoader, tests: TestSuite, pattern: str | None) -> TestSuite:
    for module in (cadrin.core.names, cadrin.core.cards.formats):
        tests.addTests(doctest.DocTestSuite(module))
    return tests


class Names(TestCase):
    @given(st.text(max_size=40))
    def test_a_text_is_found_however_its_accents_are_composed(self, text: str) -> None:
        """UAX #15: composed and decomposed forms are the same text."""
        self.assertEqual(fold(unicodedata.normalize("NFC", text)), fold(unicodedata.normalize("NFD", text)))

    def test_every_rule_makes_a_name(self) -> None:
        made = {display_name("Mara", "Lindqvist", rule) for rule in DisplayRule}

        self.assertEqual(made, {"M. Lindqvist", "Mara Lindqvist", "Lindqvist, Mara"})

    @given(st.text(max_size=12), st.text(max_size=12))
    def test_no_term_is_empty_or_holds_a_space(self, first: str, last: str) -> None:
        self.assertTrue(all(term and not term.isspace() for term in terms_of(first, last)))

    def test_a_number_is_the_same_whatever_its_case_and_spaces_but_zeros_count(self) -> None:
        self.assertEqual(number_key("s 0012"), number_key("S0012"))
        self.assertNotEqual(number_key("0012"), number_key("12"))

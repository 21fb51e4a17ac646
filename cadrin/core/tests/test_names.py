import unicodedata
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.people.names import (
    DisplayRule,
    NameRule,
    cut,
    display_name,
    fold,
    number_key,
    terms_of,
    terms_of_cards,
    words_meant,
)


class Names(TestCase):
    @given(st.text(max_size=40))
    def test_a_text_is_found_however_its_accents_are_composed(self, text: str) -> None:
        """UAX #15: composed and decomposed forms are the same text."""
        self.assertEqual(
            fold(unicodedata.normalize("NFC", text)), fold(unicodedata.normalize("NFD", text))
        )

    def test_the_examples_of_the_standard_are_found_as_their_plain_forms(self) -> None:
        # UAX #15, figures 3 to 6: singletons, canonical composites, compatibility composites
        for written, plain in (
            ("\u212b", "a"),  # ANGSTROM SIGN
            ("\u2126", "\u03c9"),  # OHM SIGN is omega
            ("\u1e69", "s"),  # s with dot below and dot above
            ("\u1e0b\u0323", "d"),
            ("\ufb01", "fi"),  # ligature
            ("2\u2075", "25"),  # superscript
            ("\u1e9b\u0323", "s"),  # long s
        ):
            with self.subTest(written):
                self.assertEqual(fold(written), plain)

    @given(st.text(max_size=30), st.integers(0, 20))
    def test_a_name_is_cut_to_what_can_be_shown_and_no_character_is_broken(
        self, text: str, longest: int
    ) -> None:
        short = cut(text, longest)

        self.assertLessEqual(len(short), longest)
        self.assertTrue(text.startswith(short))
        rest = text[len(short) :].lstrip()
        self.assertFalse(short and rest and unicodedata.combining(rest[0]))

    def test_what_was_set_for_a_person_comes_before_the_rule(self) -> None:
        rule = NameRule(DisplayRule.LAST_FIRST, 12)

        self.assertEqual(rule.shown("Mara", "Lindqvist"), "Lindqvist, M")
        self.assertEqual(rule.shown("Mara", "Lindqvist", " Skipper "), "Skipper")

    def test_every_rule_makes_a_name(self) -> None:
        made = {display_name("Mara", "Lindqvist", rule) for rule in DisplayRule}

        self.assertEqual(made, {"M. Lindqvist", "Mara Lindqvist", "Lindqvist, Mara"})

    @given(st.text(max_size=12), st.text(max_size=12))
    def test_no_term_is_empty_or_holds_a_space(self, first: str, last: str) -> None:
        self.assertTrue(all(term and not term.isspace() for term in terms_of(first, last)))

    def test_a_name_is_found_however_an_apostrophe_or_an_umlaut_is_typed(self) -> None:
        for name, typed in (
            ("O'Carroll", ("O'Carroll", "O\u2019Carroll", "OCarroll", "ocar", "carroll")),
            ("d\u2019Aubrac", ("d'Aub", "daub", "aubrac", "D\u2018AUBRAC")),
            ("Jörgensdottir", ("Joergens", "jorgens", "Jörg")),
            ("Bjørnstad", ("bjoern", "bjorn")),
            ("Straße", ("strasse",)),  # The Unicode Standard, CaseFolding.txt
        ):
            terms = terms_of(name)
            for text in typed:
                with self.subTest(text):
                    (meant,) = words_meant(text)
                    self.assertTrue(any(t.startswith(tuple(meant)) for t in terms), terms)

    @given(st.integers(0, 255), st.integers(0, 10**9), st.integers(0, 8), st.booleans())
    def test_a_card_is_found_by_what_is_printed_on_it(
        self, code: int, number: int, zeros: int, has_code: bool
    ) -> None:
        typed = f"{number:0{zeros}}"
        (meant,) = words_meant(f"{code:03}-{typed}" if has_code else typed)

        self.assertTrue(meant & terms_of_cards([(code, number)]))

    def test_a_number_is_the_same_whatever_its_case_and_spaces_but_zeros_count(self) -> None:
        self.assertEqual(number_key("s 0012"), number_key("S0012"))
        self.assertNotEqual(number_key("0012"), number_key("12"))

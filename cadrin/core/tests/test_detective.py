"""The number detective: whatever is written of a card finds it, and only what is written so is
found.
"""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.detective import Clue, Explanation, investigate
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.card.signs import WEIGHTS, Box, KnownHere, Sign
from cadrin.core.credentials.card.writings import Writing, written

FORMATS = {number: one.layout for number, one in enumerate(READY_MADE, start=1)}
ID = {one.name: number for number, one in enumerate(READY_MADE, start=1)}
STANDARD = ID["26-bit"]
NOTHING = KnownHere()


@st.composite
def cards(draw: st.DrawFn) -> tuple[int, CardNumbers]:
    format_id = draw(
        st.sampled_from([id_ for id_, layout in FORMATS.items() if layout.length_bits < 100])
    )
    layout = FORMATS[format_id]
    facility = draw(st.integers(1, layout.facility_code.highest)) if layout.facility_code else 0
    return format_id, CardNumbers(facility, draw(st.integers(0, layout.card_number.highest)))


def found(explanations: tuple[Explanation, ...]) -> list[tuple[int, CardNumbers]]:
    return [(one.format_id, one.numbers) for one in explanations]


class Investigating(TestCase):
    @given(cards(), st.sampled_from(Writing))
    def test_a_card_is_found_by_each_way_of_writing_it(
        self, card: tuple[int, CardNumbers], way: Writing
    ) -> None:
        format_id, numbers = card
        text = written(FORMATS[format_id], numbers, way)
        if not text:
            return
        known = KnownHere(facility_codes={format_id: frozenset({numbers.facility_code})})

        self.assertIn(card, found(investigate([Clue(text=text)], FORMATS, known, most=1000)))

    @given(st.text(st.sampled_from("0123456789ABCDEF-: "), max_size=20))
    def test_what_is_found_can_be_written_as_it_was_said(self, text: str) -> None:
        said = "".join(text.split()).replace(":", "-").upper()

        for one in investigate([Clue(text=text)], FORMATS, NOTHING, most=1000):
            shown = written(FORMATS[one.format_id], one.numbers, one.writings[0])
            # leading zeros and separators mean nothing
            self.assertEqual(
                [part.lstrip("0") for part in shown.split("-")],
                [
                    part.lstrip("0")
                    for part in text.upper().replace(":", "-").replace(" ", "-").split("-")
                    if part
                ],
                said,
            )

    @given(cards(), cards())
    def test_a_read_and_a_print_together_leave_only_what_explains_both(
        self, card: tuple[int, CardNumbers], other: tuple[int, CardNumbers]
    ) -> None:
        format_id, numbers = card
        raw = FORMATS[format_id].encode(numbers)
        printed = str(numbers.card_number)

        both = found(investigate([Clue(raw=raw), Clue(text=printed)], FORMATS, NOTHING, most=1000))
        alone = found(investigate([Clue(raw=raw)], FORMATS, NOTHING, most=1000))

        self.assertIn(card, both)
        self.assertLessEqual(set(both), set(alone))

    def test_the_likeliest_comes_first_and_says_why(self) -> None:
        # a 26-bit card of a facility code that is known here, beside a 32-bit UID that a reader cut
        raw = FORMATS[STANDARD].encode(CardNumbers(87, 4751))
        known = KnownHere(
            cards={(STANDARD, 87, 4750)},
            facility_codes={STANDARD: frozenset({87})},
            boxes=(Box(STANDARD, 87, 4000, 5999),),
        )

        (first, *_) = investigate([Clue(raw=raw), Clue(text="087 04751")], FORMATS, known)

        self.assertEqual((first.format_id, first.numbers), (STANDARD, CardNumbers(87, 4751)))
        self.assertEqual(
            set(first.signs), {Sign.NEIGHBOUR, Sign.IN_STOCK, Sign.FACILITY_KNOWN, Sign.CHECKED}
        )
        self.assertEqual(first.writings, (Writing.PARTED,))

    def test_a_card_that_was_just_shown_comes_before_all_others(self) -> None:
        """Its facility code is known nowhere else, and another format's reading of the number is a
        card of the house.
        """
        wide = ID["34-bit"]
        text = written(FORMATS[wide], CardNumbers(65, 4628), Writing.NUMBER)
        known = KnownHere(
            cards={(wide, 65, 4628)},
            facility_codes={wide: frozenset({65})},
            boxes=(Box(wide, 65, 4000, 5999),),
            shown={(STANDARD, 201, 4628)},
        )

        (first, *others) = investigate([Clue(text=text)], FORMATS, known)

        self.assertEqual((first.format_id, first.numbers), (STANDARD, CardNumbers(201, 4628)))
        self.assertIn(Sign.SHOWN_LATELY, first.speaks_for)
        self.assertIn((wide, CardNumbers(65, 4628)), found(tuple(others)))

    def test_the_same_uid_in_either_order_is_told_apart_by_what_is_printed(self) -> None:
        raw = RawRead(32, 0x04A1B2C3)  # common practice: 77705923 one way, 3283263748 the other
        for printed, name in (
            ("77705923", "UID, 4 bytes"),
            ("3283263748", "UID, 4 bytes, reversed"),
        ):
            with self.subTest(printed):
                uids = {
                    ID[one]: FORMATS[ID[one]] for one in ("UID, 4 bytes", "UID, 4 bytes, reversed")
                }
                (first, *_) = investigate([Clue(raw=raw), Clue(text=printed)], uids, NOTHING)
                self.assertEqual((first.format_id, first.writings), (ID[name], (Writing.NUMBER,)))

    def test_a_read_that_only_fits_turned_around_says_so_and_comes_later(self) -> None:
        sent = FORMATS[STANDARD].encode(CardNumbers(87, 4751))

        (explained,) = investigate(
            [Clue(raw=sent.reversed()), Clue(text="87-4751")],
            {STANDARD: FORMATS[STANDARD]},
            NOTHING,
        )

        self.assertEqual(explained.turned, "reversed")
        self.assertIn(Sign.TURNED, explained.signs)

    def test_a_random_uid_is_warned_of(self) -> None:
        explained = investigate(
            [Clue(raw=RawRead(32, 0x08A1B2C3))],
            {ID["UID, 4 bytes"]: FORMATS[ID["UID, 4 bytes"]]},
            NOTHING,
        )

        self.assertIn(Sign.RANDOM_UID, explained[0].signs)

    def test_the_first_part_of_a_longer_uid_is_warned_of(self) -> None:
        """ISO/IEC 14443-3: four bytes that begin with the cascade tag go on in the next part."""
        formats = {ID["UID, 4 bytes"]: FORMATS[ID["UID, 4 bytes"]]}

        (found,) = investigate([Clue(raw=RawRead(32, 0x8804A1B2))], formats, NOTHING)

        self.assertIn(Sign.CUT_UID, found.speaks_against)

    def test_nothing_said_explains_nothing_and_nonsense_neither(self) -> None:
        for text in ("", "   ", "no number", "9" * 200, "--", "12-34-56"):
            with self.subTest(text):
                self.assertEqual(investigate([Clue(text=text)], FORMATS, NOTHING), ())

    def test_every_sign_has_its_weight(self) -> None:
        self.assertEqual(set(WEIGHTS), set(Sign))

    def test_a_box_holds_its_own_numbers_from_the_first_to_the_last(self) -> None:
        box = Box(1, 12, 100, 199)

        for number, is_in in ((99, False), (100, True), (199, True), (200, False)):
            self.assertEqual(box.holds(1, CardNumbers(12, number)), is_in, number)
        self.assertFalse(box.holds(2, CardNumbers(12, 150)) or box.holds(1, CardNumbers(13, 150)))

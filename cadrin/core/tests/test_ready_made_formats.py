"""The formats that come with Cadrin, against what is published of them and against a second way of
reading bits.
"""

from unittest import TestCase

from bitstring import BitArray
from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.bit_fields import BITS_OF_A_DIGIT, BitField, Coding, ParityKind
from cadrin.core.credentials.card.explain import FIXED, PARITY, explain
from cadrin.core.credentials.card.formats import CardFormat, problems_with_names
from cadrin.core.credentials.card.raw_reads import CardNumbers, DecodeFault, RawRead
from cadrin.core.credentials.card.ready_made import READY_MADE, uid_format
from cadrin.core.credentials.card.uids import LENGTHS_BYTES
from cadrin.core.errors import Invalid
from cadrin.core.records.card_formats import decode_format, encode_format

BY_NAME = {one.name: one.layout for one in READY_MADE}
FASC_N = BY_NAME["FASC-N, 200-bit"]


@st.composite
def cards(draw: st.DrawFn) -> tuple[CardFormat, CardNumbers]:
    """Return one of the formats, sent straight or turned around, and numbers that it can carry."""
    layout = draw(st.sampled_from([one.layout for one in READY_MADE]))
    turned = CardFormat(
        layout.length_bits, layout.facility_code, layout.card_number, layout.parity,
        layout.issue_level,
        layout.others, layout.fixed, draw(st.booleans()), draw(st.booleans()),
    )  # fmt: skip
    facility = draw(st.integers(0, layout.facility_code.highest)) if layout.facility_code else 0
    return turned, CardNumbers(facility, draw(st.integers(0, layout.card_number.highest)))


def second_reading(where: BitField, bits: BitArray) -> int:
    """Read a field with a general-purpose bit library (bitstring)."""
    value = 0
    for first, last in where.pieces:
        piece = bits[first - 1 : last]
        if where.coding is Coding.DECIMAL_LEAST_FIRST:
            piece.reverse()
            value = value * 10 + piece[1:].uint
        elif where.coding in BITS_OF_A_DIGIT:
            value = value * 10 + piece.uint
        else:
            value = value << len(piece) | piece.uint
    return value


class Formats(TestCase):
    @given(cards())
    def test_decoding_gives_back_what_was_encoded(
        self, card: tuple[CardFormat, CardNumbers]
    ) -> None:
        layout, numbers = card

        self.assertEqual(layout.decode(layout.encode(numbers)), numbers)

    @given(cards())
    def test_are_read_the_same_by_another_library(
        self, card: tuple[CardFormat, CardNumbers]
    ) -> None:
        layout, numbers = card
        read = layout.encode(numbers)
        bits = BitArray(uint=read.bits, length=read.length_bits)
        if layout.is_reversed:
            bits.reverse()
        if layout.is_inverted:
            bits.invert()

        self.assertEqual(second_reading(layout.card_number, bits), numbers.card_number)
        if layout.facility_code:
            self.assertEqual(second_reading(layout.facility_code, bits), numbers.facility_code)
        for rule in layout.parity:
            ones = sum(bits[bit - 1] for bit in (rule.bit, *rule.over))
            self.assertEqual(ones % 2, int(rule.kind is ParityKind.ODD))

    @given(cards(), st.data())
    def test_that_have_a_check_notice_a_wrong_bit_under_it(
        self, card: tuple[CardFormat, CardNumbers], data: st.DataObject
    ) -> None:
        layout, numbers = card
        if not layout.parity:
            return
        rule = data.draw(st.sampled_from(layout.parity))
        bit = data.draw(st.sampled_from((rule.bit, *rule.over)))
        place = layout.length_bits - bit if not layout.is_reversed else bit - 1
        sent = layout.encode(numbers)

        self.assertIsInstance(
            layout.decode(RawRead(sent.length_bits, sent.bits ^ 1 << place)), DecodeFault
        )

    def test_go_through_a_record_unchanged(self) -> None:
        for one in READY_MADE:
            with self.subTest(one.name):
                self.assertEqual(decode_format(encode_format(one.layout)), one.layout)
                self.assertTrue(one.source)

    def test_that_are_described_wrongly_are_refused_with_every_fault(self) -> None:
        with self.assertRaises(Invalid) as refused:
            CardFormat(
                30,
                BitField(2, 9, ((9, 12),)),
                BitField(13, 31, coding=Coding.DECIMAL),
                fixed=((2, 1), (40, 0)),
            )

        found = {(problem.field, problem.code) for problem in refused.exception.problems}
        self.assertEqual(
            found,
            {
                ("facility_code", "format.field_outside"),
                ("card_number", "format.field_outside"),
                ("card_number", "format.no_digit"),
                ("fixed", "format.fixed_bits"),
            },
        )

    def test_need_a_card_number_and_each_name_once(self) -> None:
        found = {
            (one.field, one.code)
            for one in problems_with_names(["series", "issue_level", "series"])
        }

        self.assertEqual(
            found,
            {
                ("fields_of_it.2.name", "format.field_twice"),
                ("fields_of_it", "format.no_card_number"),
            },
        )


class FascN(TestCase):
    """Technical Implementation Guidance for physical access control systems (SCEPACS 2.x), its
    worked example.
    """

    WORKED = 0xD0439458210C2C19A0846D83685A1082108CE73984108CA3FC
    OTHERS = {
        "series": 0, "issue_level": 1, "person": 1112223333, "category": 1, "organisation": 1223, "association": 2,
    }  # fmt: skip

    def test_the_worked_example_encodes_and_decodes(self) -> None:
        # agency 0032, system 0001, credential 092446
        numbers = CardNumbers(320001, 92446)

        self.assertEqual(FASC_N.encode(numbers, self.OTHERS), RawRead(200, self.WORKED))
        self.assertEqual(
            FASC_N.read_fields(RawRead(200, self.WORKED)), self.OTHERS | numbers._asdict()
        )

    def test_a_wrong_separator_digit_or_check_is_noticed(self) -> None:
        for bit, fault in (
            (1, DecodeFault.WRONG_FIXED_BITS),
            (26, DecodeFault.WRONG_FIXED_BITS),
            (62, DecodeFault.WRONG_PARITY),
            (196, DecodeFault.WRONG_PARITY),
        ):
            with self.subTest(bit):
                self.assertIs(FASC_N.decode(RawRead(200, self.WORKED ^ 1 << (200 - bit))), fault)


class Uids(TestCase):
    """ISO/IEC 14443-3: 4, 7 or 10 bytes; readers send them in either order (common practice)."""

    def test_one_uid_is_two_numbers_by_the_order_of_its_bytes(self) -> None:
        read = RawRead(32, 0x04A1B2C3)

        self.assertEqual(uid_format(4).decode(read), CardNumbers(0, 77705923))
        self.assertEqual(uid_format(4, is_reversed=True).decode(read), CardNumbers(0, 3283263748))

    @given(st.sampled_from(LENGTHS_BYTES), st.data())
    def test_bytes_in_the_other_order_are_what_a_computer_calls_the_other_endianness(
        self, length: int, data: st.DataObject
    ) -> None:
        uid = data.draw(st.binary(min_size=length, max_size=length))
        read = RawRead(8 * length, int.from_bytes(uid, "big"))

        found = uid_format(length, is_reversed=True).decode(read)

        assert isinstance(found, CardNumbers)
        self.assertEqual(
            found.facility_code << 56 | found.card_number, int.from_bytes(uid, "little")
        )


class Explaining(TestCase):
    @given(cards())
    def test_names_every_bit_and_finds_nothing_wrong_with_a_good_read(
        self, card: tuple[CardFormat, CardNumbers]
    ) -> None:
        layout, numbers = card

        found = explain(layout, layout.encode(numbers))

        self.assertEqual([one.bit for one in found.bits], list(range(1, layout.length_bits + 1)))
        self.assertFalse(any(one.is_wrong for one in found.bits))
        self.assertEqual(found.fields["card_number"], numbers.card_number)

    def test_points_at_the_parity_that_does_not_hold(self) -> None:
        layout = BY_NAME["26-bit"]
        sent = layout.encode(CardNumbers(1, 1))

        found = explain(layout, RawRead(26, sent.bits ^ 1 << (26 - 5)))

        self.assertEqual([one.bit for one in found.bits if one.is_wrong], [1])
        self.assertEqual((found.fault, found.fields), (DecodeFault.WRONG_PARITY, {}))
        self.assertEqual([one.bit for one in found.bits if one.part == PARITY], [1, 26])
        self.assertEqual(
            sum(1 for one in explain(FASC_N, RawRead(200, FascN.WORKED)).bits if one.part == FIXED),
            35,
        )

import os
from itertools import repeat
from unittest import TestCase

import numpy as np
import numpy.typing as npt
from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.bit_fields import BitField, ParityKind, ParityRule
from cadrin.core.credentials.card.formats import STANDARD_26_BIT, CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers, DecodeFault, RawRead
from cadrin.core.errors import Invalid

Column = npt.NDArray[np.uint32]
numbers_26 = st.builds(CardNumbers, st.integers(0, 255), st.integers(0, 65535))


class Standard26Bit(TestCase):
    """SIA AC-01-1996.10: even parity in bit 1 over bits 2-13, odd in bit 26 over bits 14-25."""

    def test_cards_worked_by_hand_encode_to_their_bits(self) -> None:
        cases = {
            (1, 1): 0x2020002,
            (123, 45678): 0x2F764DD,
            (0, 0): 0x0000001,
            (255, 65535): 0x1FFFFFF,
        }

        for numbers, bits in cases.items():
            with self.subTest(numbers=numbers):
                self.assertEqual(STANDARD_26_BIT.encode(CardNumbers(*numbers)), RawRead(26, bits))

    def test_the_first_card_is_sent_bit_by_bit_as_the_standard_draws_it(self) -> None:
        bits = f"{STANDARD_26_BIT.encode(CardNumbers(1, 1)).bits:026b}"

        self.assertEqual(bits, "10000000100000000000000010")

    @given(numbers_26)
    def test_decoding_gives_back_what_was_encoded(self, numbers: CardNumbers) -> None:
        self.assertEqual(STANDARD_26_BIT.decode(STANDARD_26_BIT.encode(numbers)), numbers)

    def test_every_card_there_can_be_is_read_as_a_second_method_writes_it(self) -> None:
        """Their checks set by folding halves onto each other in columns of numbers; all 2^24 with
        `make fuzz`.
        """

        def is_odd(bits: Column) -> Column:
            for shift in (8, 4, 2, 1):
                bits = bits ^ bits >> np.uint32(shift)
            return bits & np.uint32(1)

        numbers = np.arange(65536, dtype=np.uint32)
        for facility in range(0, 256, 1 if os.environ.get("CADRIN_EVERY_CARD") else 17):
            data = np.uint32(facility << 16) | numbers
            first_half, second_half = data >> np.uint32(12), data & np.uint32(0xFFF)
            sent = (
                is_odd(first_half) << np.uint32(25)
                | data << np.uint32(1)
                | (is_odd(second_half) ^ np.uint32(1))
            )
            read = [STANDARD_26_BIT.decode(RawRead(26, bits)) for bits in sent.tolist()]
            self.assertEqual(read, list(zip(repeat(facility), range(65536), strict=False)))

    @given(numbers_26)
    def test_every_single_wrong_bit_is_noticed(self, numbers: CardNumbers) -> None:
        sent = STANDARD_26_BIT.encode(numbers).bits

        for bit in range(26):
            self.assertIs(
                STANDARD_26_BIT.decode(RawRead(26, sent ^ 1 << bit)), DecodeFault.WRONG_PARITY
            )

    def test_another_length_is_no_26_bit_card(self) -> None:
        for length in (25, 27, 34):
            with self.subTest(length=length):
                self.assertIs(STANDARD_26_BIT.decode(RawRead(length, 1)), DecodeFault.WRONG_LENGTH)

    def test_numbers_out_of_range_are_refused_by_field(self) -> None:
        cases = {
            (256, 1): ["facility_code"],
            (-1, 1): ["facility_code"],
            (1, 65536): ["card_number"],
            (256, 65536): ["facility_code", "card_number"],
        }

        for numbers, fields in cases.items():
            with self.subTest(numbers=numbers), self.assertRaises(Invalid) as refused:
                STANDARD_26_BIT.encode(CardNumbers(*numbers))
            self.assertEqual([problem.field for problem in refused.exception.problems], fields)


class DescribingAFormat(TestCase):
    def test_a_layout_that_cannot_be_is_refused_with_all_its_faults(self) -> None:
        with self.assertRaises(Invalid) as refused:
            CardFormat(
                26, BitField(2, 9), BitField(9, 27), (ParityRule(5, ParityKind.EVEN, (2, 3)),)
            )

        codes = {problem.code for problem in refused.exception.problems}
        self.assertEqual(
            codes, {"format.field_outside", "format.fields_overlap", "format.parity_bit_in_field"}
        )

    def test_parity_may_count_an_earlier_parity_bit_but_not_a_later_one(self) -> None:
        fields = BitField(2, 9), BitField(10, 25)
        inner = ParityRule(1, ParityKind.EVEN, tuple(range(2, 14)))
        outer = ParityRule(26, ParityKind.ODD, tuple(range(1, 26)))

        nested = CardFormat(26, *fields, (inner, outer))

        read = nested.encode(CardNumbers(12, 4751))
        self.assertEqual(nested.decode(read), CardNumbers(12, 4751))
        self.assertEqual(read.bits.bit_count() % 2, 1)
        with self.assertRaises(Invalid):
            CardFormat(26, *fields, (outer, inner))


class RawReads(TestCase):
    @given(st.integers(1, 256).flatmap(lambda n: st.tuples(st.just(n), st.integers(0, 2**n - 1))))
    def test_the_written_form_gives_the_read_back(self, read: tuple[int, int]) -> None:
        self.assertEqual(RawRead.parse(str(RawRead(*read))), read)

    def test_what_is_no_read_is_refused(self) -> None:
        for text in ("", "26", "26:", ":1", "26:XYZ", "26:FFFFFFF", "0:0", "257:0", "26:-1", "x:1"):
            with self.subTest(text=text), self.assertRaises(Invalid):
                RawRead.parse(text)

from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.errors import Problem
from cadrin.core.people.custom_fields import (
    LONGEST_NUMBER,
    CustomField,
    FieldType,
    canonical,
    problems_with_own,
    read_value,
    sort_key,
)

COLOUR = CustomField(4, "Colour", FieldType.CHOICE, choices=("red", "blue"))
DEPTH = CustomField(3, "Depth", FieldType.NUMBER)
NUMBERS = st.decimals(-(10**8), 10**8, places=4, allow_nan=False).map(lambda number: f"{number:f}")


def a_field(type_: FieldType) -> CustomField:
    return COLOUR if type_ is FieldType.CHOICE else CustomField(1, "Field", type_)


class Values(TestCase):
    def test_every_type_reads_what_fits_and_tells_what_does_not(self) -> None:
        cases: dict[FieldType, tuple[tuple[str, str], tuple[str, str]]] = {
            FieldType.TEXT: ((" a  b ", "a  b"), ("x" * 201, "input.too_long")),
            FieldType.LONG_TEXT: (("a\nb", "a\nb"), ("x" * 4001, "input.too_long")),
            FieldType.NUMBER: (("1 250,50", "1250.5"), ("1e999", "own.not_a_number")),
            FieldType.DATE: (("2028-02-29", "2028-02-29"), ("2027-02-29", "own.not_a_date")),
            FieldType.CHOICE: (("red", "red"), ("Red", "own.no_such_choice")),
            FieldType.YES_NO: (("yes", "yes"), ("true", "own.not_yes_or_no")),
        }
        self.assertEqual(set(cases), set(FieldType))
        for type_, ((fits, kept), (wrong, code)) in cases.items():
            with self.subTest(type_):
                field = a_field(type_)
                refused = read_value(field, wrong)
                self.assertEqual(read_value(field, fits), kept)
                assert isinstance(refused, Problem)
                self.assertEqual((refused.field, refused.code), (field.path, code))
                self.assertEqual(read_value(field, "  "), "")

    def test_numbers_that_are_none(self) -> None:
        for written in ("forty", "NaN", "Infinity", "1.2.3", "--1", "9" * (LONGEST_NUMBER + 1)):
            with self.subTest(written):
                self.assertIsInstance(read_value(DEPTH, written), Problem)

    def test_what_is_asked_for_and_what_is_not_there(self) -> None:
        needed = CustomField(1, "Locker", FieldType.TEXT, is_required=True)

        problems = problems_with_own((needed, COLOUR), {4: "green", 9: "?"})

        self.assertEqual(
            {(one.field, one.code) for one in problems},
            {
                ("own.1", "own.missing"),
                ("own.4", "own.no_such_choice"),
                ("own.9", "own.no_such_field"),
            },
        )
        self.assertEqual(problems_with_own((needed, COLOUR), {1: "A7"}), ())
        self.assertEqual(canonical((needed, COLOUR), {1: " A7 ", 4: "green"}), {1: "A7"})


class Laws(TestCase):
    @given(NUMBERS)
    def test_reading_twice_is_reading_once(self, written: str) -> None:
        once = read_value(DEPTH, written)

        assert isinstance(once, str)
        self.assertEqual(read_value(DEPTH, once), once)
        self.assertEqual(Decimal(once), Decimal(written))

    @given(NUMBERS, NUMBERS)
    def test_keys_stand_in_the_order_of_the_numbers(self, one: str, other: str) -> None:
        first, second = (str(read_value(DEPTH, written)) for written in (one, other))

        self.assertEqual(
            sort_key(DEPTH, first) < sort_key(DEPTH, second), Decimal(first) < Decimal(second)
        )

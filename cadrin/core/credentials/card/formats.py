"""Card formats: a layout of bits, described and not programmed.

Bits are counted from 1 at the first bit a reader sends, as the interface standards do. A raw
read is held as an integer whose most significant bit is bit 1.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from cadrin.core.credentials.card.bit_fields import (
    BITS_OF_A_DIGIT,
    BitField,
    Coding,
    ParityKind,
    ParityRule,
)
from cadrin.core.credentials.card.raw_reads import (
    LONGEST_BITS,
    SHORTEST_BITS,
    CardNumbers,
    DecodeFault,
    RawRead,
)
from cadrin.core.errors import Invalid, Problem

# every read at every door comes by here, and asks each format: looked up once
_WRONG_LENGTH, _WRONG_PARITY = DecodeFault.WRONG_LENGTH, DecodeFault.WRONG_PARITY
_new = tuple.__new__


def mask_of(length_bits: int, bits: Iterable[int]) -> int:
    return sum(1 << (length_bits - bit) for bit in set(bits))


@dataclass(frozen=True, slots=True)
class CardFormat:
    """A layout of bits: length, where the numbers lie, bits that never differ, and the parity
    rules.

    ``others`` are further numbers on the card, by name; they are read and explained, and are 0 when
    a card is made from its two numbers. ``fixed`` has the value of each bit that never differs.
    ``is_reversed`` and ``is_inverted`` say how the reader sends what is described here.

    Raises Invalid with every fault of the description at once.
    """

    length_bits: int
    facility_code: BitField | None
    card_number: BitField
    parity: tuple[ParityRule, ...] = ()
    issue_level: BitField | None = None
    others: tuple[tuple[str, BitField], ...] = ()
    fixed: tuple[tuple[int, int], ...] = ()
    is_reversed: bool = False
    is_inverted: bool = False
    # what decode needs, worked out once: (shift, mask) of each number where both are plain, fixed
    # bits and their
    # values, (mask, expected ones modulo 2) of each rule
    _plain: tuple[int, int, int, int] | None = field(init=False, repr=False, compare=False)
    _fixed: tuple[int, int] = field(init=False, repr=False, compare=False)
    _parity: tuple[tuple[int, int], ...] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        if problems := tuple(_problems_with_layout(self)):
            raise Invalid(problems)
        put, length = object.__setattr__, self.length_bits
        put(self, "_plain", self._shifts_and_masks())
        put(
            self,
            "_fixed",
            (
                mask_of(length, (b for b, _ in self.fixed)),
                mask_of(length, (b for b, v in self.fixed if v)),
            ),
        )
        rules = tuple(
            (mask_of(length, (r.bit, *r.over)), int(r.kind is ParityKind.ODD)) for r in self.parity
        )
        put(self, "_parity", rules)

    def _shifts_and_masks(self) -> tuple[int, int, int, int] | None:
        facility, number = self.facility_code, self.card_number
        is_plain = number.is_plain() and (facility is None or facility.is_plain())
        if not is_plain or self.is_reversed or self.is_inverted or self.fixed:
            return None
        shift, mask = (self.length_bits - facility.last, facility.highest) if facility else (0, 0)
        return shift, mask, self.length_bits - number.last, number.highest

    @property
    def fields(self) -> dict[str, BitField]:
        """Every number on the card, by name."""
        usual = {
            "facility_code": self.facility_code,
            "card_number": self.card_number,
            "issue_level": self.issue_level,
        }
        return {name: where for name, where in usual.items() if where} | dict(self.others)

    def problems_with(self, numbers: CardNumbers) -> tuple[Problem, ...]:
        """Return every reason why these numbers cannot be on a card of this format."""
        highest_facility = self.facility_code.highest if self.facility_code else 0
        return tuple(
            Problem(
                "card.out_of_range",
                name,
                {"lowest_number": 0, "highest_number": highest, "given": value},
            )
            for name, highest, value in (
                ("facility_code", highest_facility, numbers.facility_code),
                ("card_number", self.card_number.highest, numbers.card_number),
            )
            if not 0 <= value <= highest
        )

    def encode(self, numbers: CardNumbers, others: Mapping[str, int] | None = None) -> RawRead:
        """Return the bits of a card that carries these numbers, and others by name.

        Raises Invalid when one is out of range.
        """
        if problems := self.problems_with(numbers):
            raise Invalid(problems)
        values = {
            "facility_code": numbers.facility_code,
            "card_number": numbers.card_number,
        } | dict(others or {})
        bits = self._fixed[1]
        for name, where in self.fields.items():
            value = values.get(name, 0)
            if not 0 <= value <= where.highest:
                raise Invalid.of(
                    "card.out_of_range",
                    name,
                    lowest_number=0,
                    highest_number=where.highest,
                    given=value,
                )
            bits |= self._placed(where, value)
        for rule, (mask, odd) in zip(self.parity, self._parity, strict=True):
            if (bits & mask).bit_count() & 1 != odd:
                bits |= 1 << (self.length_bits - rule.bit)
        return self._turned(RawRead(self.length_bits, bits))

    def decode(self, read: RawRead) -> CardNumbers | DecodeFault:
        """Return the numbers a raw read carries in this format, or why it carries none."""
        length_bits, bits = read
        if length_bits != self.length_bits:
            return _WRONG_LENGTH
        plain = self._plain
        if plain is not None:
            for mask, odd in self._parity:
                if (bits & mask).bit_count() & 1 != odd:
                    return _WRONG_PARITY
            return _new(CardNumbers, (bits >> plain[0] & plain[1], bits >> plain[2] & plain[3]))
        found = self.read_fields(read)
        if isinstance(found, DecodeFault):
            return found
        return CardNumbers(found.get("facility_code", 0), found["card_number"])

    def read_fields(self, read: RawRead) -> dict[str, int] | DecodeFault:
        """Return every number that a raw read carries, by name, or why it carries none."""
        if read.length_bits != self.length_bits:
            return DecodeFault.WRONG_LENGTH
        bits = self._turned(read).bits
        if bits & self._fixed[0] != self._fixed[1]:
            return DecodeFault.WRONG_FIXED_BITS
        for mask, odd in self._parity:
            if (bits & mask).bit_count() & 1 != odd:
                return DecodeFault.WRONG_PARITY
        values = {}
        for name, where in self.fields.items():
            value = self._value(where, bits)
            if value is None:
                return DecodeFault.NO_DIGIT
            values[name] = value
        return values

    def _turned(self, read: RawRead) -> RawRead:
        """Turn what a reader sends into what is described here, and the other way: both are the
        same.
        """
        if self.is_reversed:
            read = read.reversed()
        return read.inverted() if self.is_inverted else read

    def _value(self, where: BitField, bits: int) -> int | None:
        """Read a field; None when a piece of it is no decimal digit."""
        width = BITS_OF_A_DIGIT.get(where.coding)
        value = 0
        for first, last in where.pieces:
            length = last - first + 1
            piece = bits >> (self.length_bits - last) & (1 << length) - 1
            if where.coding in (Coding.BINARY_LEAST_FIRST, Coding.DECIMAL_LEAST_FIRST):
                piece = int(f"{piece:0{length}b}"[::-1], 2)
            if width is None:
                value = value << length | piece
            else:
                digit = piece & 0b1111
                is_odd = piece.bit_count() & 1
                if digit > 9 or (where.coding is Coding.DECIMAL_LEAST_FIRST and not is_odd):
                    return None
                value = value * 10 + digit
        return value

    def _placed(self, where: BitField, value: int) -> int:
        """Return the bits of a field that carries a value."""
        bits = 0
        width = BITS_OF_A_DIGIT.get(where.coding)
        for first, last in reversed(where.pieces):
            length = last - first + 1
            if width is None:
                piece, value = value & (1 << length) - 1, value >> length
            else:
                value, piece = divmod(value, 10)
            if where.coding is Coding.DECIMAL_LEAST_FIRST:
                piece |= (piece.bit_count() + 1 & 1) << 4
            if where.coding in (Coding.BINARY_LEAST_FIRST, Coding.DECIMAL_LEAST_FIRST):
                piece = int(f"{piece:0{length}b}"[::-1], 2)
            bits |= piece << (self.length_bits - last)
        return bits


def problems_with_names(names: Sequence[str]) -> tuple[Problem, ...]:
    """Return what is wrong with what the numbers of a card are called: each once, and one is the
    card number.
    """
    twice = [place for place, name in enumerate(names) if name in names[:place]]
    problems = [Problem("format.field_twice", f"fields_of_it.{place}.name") for place in twice]
    if "card_number" not in names:
        problems.append(Problem("format.no_card_number", "fields_of_it"))
    return tuple(problems)


def _problems_with_layout(card_format: CardFormat) -> Iterable[Problem]:
    length = card_format.length_bits
    if not SHORTEST_BITS <= length <= LONGEST_BITS:
        yield Problem(
            "format.length", "length_bits", {"lowest": SHORTEST_BITS, "highest": LONGEST_BITS}
        )
    taken: set[int] = set()
    for name, where in card_format.fields.items():
        bits = set(where.bits)
        if not bits or len(bits) < where.length_bits or min(bits) < 1 or max(bits) > length:
            yield Problem("format.field_outside", name, {"length_bits": length})
        width = BITS_OF_A_DIGIT.get(where.coding)
        if width and any(last - first + 1 != width for first, last in where.pieces):
            yield Problem("format.no_digit", name, {"width": width})
        if bits & taken:
            yield Problem("format.fields_overlap", name)
        taken |= bits
    fixed = {bit for bit, _ in card_format.fixed}
    if fixed & taken or not all(
        1 <= bit <= length and value in (0, 1) for bit, value in card_format.fixed
    ):
        yield Problem("format.fixed_bits", "fixed")
    taken |= fixed
    settled = set(taken)
    for place, rule in enumerate(card_format.parity):
        name = f"parity.{place}"
        if rule.bit in taken:
            yield Problem("format.parity_bit_in_field", name, {"bit": rule.bit})
        # a rule may count an earlier rule's bit, never a later one's: encode sets them in order
        if not set(rule.over) <= settled or not all(
            1 <= bit <= length for bit in (rule.bit, *rule.over)
        ):
            yield Problem("format.parity_over", name, {"bit": rule.bit})
        settled.add(rule.bit)


STANDARD_26_BIT = CardFormat(
    length_bits=26,
    facility_code=BitField(2, 9),
    card_number=BitField(10, 25),
    parity=(
        ParityRule(1, ParityKind.EVEN, tuple(range(2, 14))),
        ParityRule(26, ParityKind.ODD, tuple(range(14, 26))),
    ),
)
"""The 26-bit format of SIA AC-01-1996.10, the interface standard for 26-bit Wiegand readers."""

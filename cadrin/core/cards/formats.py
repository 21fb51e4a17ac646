"""Card formats: a layout of bits, described and not programmed.

Bits are counted from 1 at the first bit a reader sends, as the interface standards do. A raw
read is held as an integer whose most significant bit is bit 1.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.errors import Invalid, Problem

SHORTEST_BITS, LONGEST_BITS = 26, 256


class RawRead(NamedTuple):
    """The bits exactly as a reader saw them; written as length and hexadecimal, ``26:2F764DD``."""

    length_bits: int
    bits: int

    def __str__(self) -> str:
        return f"{self.length_bits}:{self.bits:0{-(-self.length_bits // 4)}X}"

    @classmethod
    def parse(cls, text: str) -> "RawRead":
        """Read the written form.

        >>> RawRead.parse("26:2F764DD").bits == 0x2F764DD
        True

        Raises Invalid when it is no such text, or the value needs more bits than the length says.
        """
        length, _, digits = text.partition(":")
        try:
            read = cls(int(length), int(digits, 16))
        except ValueError:
            raise Invalid.of("read.not_readable", "raw", text=text[:80]) from None
        if not 1 <= read.length_bits <= LONGEST_BITS or read.bits < 0 or read.bits >> read.length_bits:
            raise Invalid.of("read.not_readable", "raw", text=text[:80])
        return read


class CardNumbers(NamedTuple):
    """The two numbers a card carries."""

    facility_code: int
    card_number: int


@dataclass(frozen=True, slots=True)
class BitField:
    """An unsigned number, most significant bit first, in bits ``first`` to ``last``, both included."""

    first: int
    last: int

    @property
    def length_bits(self) -> int:
        return self.last - self.first + 1

    @property
    def highest(self) -> int:
        return (1 << self.length_bits) - 1


class ParityKind(StrEnum):
    EVEN = "even"
    ODD = "odd"


@dataclass(frozen=True, slots=True)
class ParityRule:
    """Bit ``bit`` makes the number of ones, in itself and the bits it is ``over``, even or odd."""

    bit: int
    kind: ParityKind
    over: tuple[int, ...]


class DecodeFault(StrEnum):
    """Why a raw read is not a card of a format."""

    WRONG_LENGTH = "wrong_length"
    WRONG_PARITY = "wrong_parity"


def _mask(length_bits: int, bits: Iterable[int]) -> int:
    return sum(1 << (length_bits - bit) for bit in set(bits))


@dataclass(frozen=True, slots=True)
class CardFormat:
    """A layout of bits: length, where facility code and card number lie, and the parity rules.

    Raises Invalid with every fault of the description at once.
    """

    length_bits: int
    facility_code: BitField
    card_number: BitField
    parity: tuple[ParityRule, ...] = ()
    # what decode needs, worked out once: (shift, mask) of each number, (mask, expected ones modulo 2)
    _facility: tuple[int, int] = field(init=False, repr=False, compare=False)
    _number: tuple[int, int] = field(init=False, repr=False, compare=False)
    _parity: tuple[tuple[int, int], ...] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        if problems := tuple(_problems_with_layout(self)):
            raise Invalid(problems)
        put = object.__setattr__
        put(self, "_facility", (self.length_bits - self.facility_code.last, self.facility_code.highest))
        put(self, "_number", (self.length_bits - self.card_number.last, self.card_number.highest))
        put(
            self,
            "_parity",
            tuple((_mask(self.length_bits, (r.bit, *r.over)), int(r.kind is ParityKind.ODD)) for r in self.parity),
        )

    def problems_with(self, numbers: CardNumbers) -> tuple[Problem, ...]:
        """Give every reason why these numbers cannot be on a card of this format."""
        return tuple(
            Problem("card.out_of_range", name, {"lowest": 0, "highest": where.highest, "given": value})
            for name, where, value in (
                ("facility_code", self.facility_code, numbers.facility_code),
                ("card_number", self.card_number, numbers.card_number),
            )
            if not 0 <= value <= where.highest
        )

    def encode(self, numbers: CardNumbers) -> RawRead:
        """Give the bits of a card that carries these numbers. Raises Invalid when one is out of range."""
        if problems := self.problems_with(numbers):
            raise Invalid(problems)
        bits = numbers.facility_code << self._facility[0] | numbers.card_number << self._number[0]
        for rule, (mask, odd) in zip(self.parity, self._parity, strict=True):
            if (bits & mask).bit_count() & 1 != odd:
                bits |= 1 << (self.length_bits - rule.bit)
        return RawRead(self.length_bits, bits)

    def decode(self, read: RawRead) -> CardNumbers | DecodeFault:
        """Give the numbers a raw read carries in this format, or why it carries none."""
        length_bits, bits = read
        if length_bits != self.length_bits:
            return DecodeFault.WRONG_LENGTH
        for mask, odd in self._parity:
            if (bits & mask).bit_count() & 1 != odd:
                return DecodeFault.WRONG_PARITY
        facility_shift, facility_mask = self._facility
        number_shift, number_mask = self._number
        return CardNumbers(bits >> facility_shift & facility_mask, bits >> number_shift & number_mask)


def _problems_with_layout(card_format: CardFormat) -> Iterable[Problem]:
    length = card_format.length_bits
    if not SHORTEST_BITS <= length <= LONGEST_BITS:
        yield Problem("format.length", "length_bits", {"lowest": SHORTEST_BITS, "highest": LONGEST_BITS})
    taken: set[int] = set()
    for name in ("facility_code", "card_number"):
        where: BitField = getattr(card_format, name)
        bits = set(range(where.first, where.last + 1))
        if not bits or min(bits) < 1 or max(bits) > length:
            yield Problem("format.field_outside", name, {"length_bits": length})
        if bits & taken:
            yield Problem("format.fields_overlap", name)
        taken |= bits
    settled = set(taken)
    for place, rule in enumerate(card_format.parity):
        name = f"parity.{place}"
        if rule.bit in taken:
            yield Problem("format.parity_bit_in_field", name, {"bit": rule.bit})
        # a rule may count an earlier rule's bit, never a later one's: encode sets them in order
        if not set(rule.over) <= settled or not all(1 <= bit <= length for bit in (rule.bit, *rule.over)):
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

"""Where the bits of a card's numbers lie, and the checks over them."""

from dataclasses import dataclass
from enum import StrEnum


class Coding(StrEnum):
    """How the bits of a field make a number.

    ``DECIMAL`` has a digit in each piece of four bits. ``DECIMAL_LEAST_FIRST`` has one in each
    piece of five: four bits, the least significant first, and odd parity, as the FASC-N has them.
    """

    BINARY = "binary"
    BINARY_LEAST_FIRST = "binary_least_first"
    DECIMAL = "decimal"
    DECIMAL_LEAST_FIRST = "decimal_least_first"


BITS_OF_A_DIGIT = {Coding.DECIMAL: 4, Coding.DECIMAL_LEAST_FIRST: 5}


@dataclass(frozen=True, slots=True)
class BitField:
    """An unsigned number in bits ``first`` to ``last``, both included, and in ``more`` such pieces
    after it.

    The first piece is the most significant, wherever it lies: so bytes in the other order are a
    field, too.
    """

    first: int
    last: int
    more: tuple[tuple[int, int], ...] = ()
    coding: Coding = Coding.BINARY

    @property
    def pieces(self) -> tuple[tuple[int, int], ...]:
        return ((self.first, self.last), *self.more)

    @property
    def bits(self) -> tuple[int, ...]:
        """Every bit of the field, the first sent first within each piece."""
        return tuple(bit for first, last in self.pieces for bit in range(first, last + 1))

    @property
    def length_bits(self) -> int:
        return sum(last - first + 1 for first, last in self.pieces)

    @property
    def highest(self) -> int:
        if self.coding in BITS_OF_A_DIGIT:
            return int(10 ** len(self.pieces)) - 1
        return (1 << self.length_bits) - 1

    def is_plain(self) -> bool:
        """Say whether it is one piece that is read as it stands."""
        return not self.more and self.coding is Coding.BINARY


class ParityKind(StrEnum):
    EVEN = "even"
    ODD = "odd"


@dataclass(frozen=True, slots=True)
class ParityRule:
    """Bit ``bit`` makes the number of ones, in itself and the bits it is ``over``, even or odd."""

    bit: int
    kind: ParityKind
    over: tuple[int, ...]

"""The bits exactly as a reader saw them, and the numbers that they may stand for."""

from enum import StrEnum
from typing import NamedTuple

from cadrin.core.errors import Invalid

SHORTEST_BITS, LONGEST_BITS = 24, 256
"""24 bits are a UID cut to three bytes; cards made for access control begin at 26."""


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
        if (
            not 1 <= read.length_bits <= LONGEST_BITS
            or read.bits < 0
            or read.bits >> read.length_bits
        ):
            raise Invalid.of("read.not_readable", "raw", text=text[:80])
        return read

    @property
    def as_one(self) -> int:
        """The bits as one number that tells how many they are: with a 1 before them."""
        return self.bits | 1 << self.length_bits

    def reversed(self) -> "RawRead":
        """Return the same bits from the last to the first."""
        return RawRead(self.length_bits, int(f"{self.bits:0{self.length_bits}b}"[::-1], 2))

    def inverted(self) -> "RawRead":
        return RawRead(self.length_bits, self.bits ^ (1 << self.length_bits) - 1)


class CardNumbers(NamedTuple):
    """The two numbers a card carries; a format without a facility code has 0 there."""

    facility_code: int
    card_number: int


class DecodeFault(StrEnum):
    """Why a raw read is not a card of a format."""

    WRONG_LENGTH = "wrong_length"
    WRONG_PARITY = "wrong_parity"
    WRONG_FIXED_BITS = "wrong_fixed_bits"
    NO_DIGIT = "no_digit"

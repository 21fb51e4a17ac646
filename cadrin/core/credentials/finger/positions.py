"""Which finger: the codes of ANSI/NIST-ITL 1 (table of friction ridge positions)."""

from enum import IntEnum


class Finger(IntEnum):
    """A finger of a hand, as ANSI/NIST-ITL 1 numbers it; ISO/IEC 19794-2 uses the same codes."""

    RIGHT_THUMB = 1
    RIGHT_INDEX = 2
    RIGHT_MIDDLE = 3
    RIGHT_RING = 4
    RIGHT_LITTLE = 5
    LEFT_THUMB = 6
    LEFT_INDEX = 7
    LEFT_MIDDLE = 8
    LEFT_RING = 9
    LEFT_LITTLE = 10

    @property
    def is_right(self) -> bool:
        return self <= Finger.RIGHT_LITTLE

"""Formats that come with Cadrin, each with where it is published; "common practice" has no source
but memory.
"""

from typing import NamedTuple

from cadrin.core.credentials.card.bit_fields import BitField, Coding, ParityKind, ParityRule
from cadrin.core.credentials.card.formats import STANDARD_26_BIT, CardFormat

COMMON_PRACTICE = "common practice, from memory"


class ReadyMade(NamedTuple):
    """A format with its name and its source."""

    name: str
    layout: CardFormat
    source: str


def _with_outer_parity(
    length: int, facility: BitField | None, number: BitField, last_even: int
) -> CardFormat:
    """Return a format with even parity in its first bit over those up to ``last_even``, odd in its
    last over the rest.
    """
    # where the length is odd, both rules count the bit in the middle
    first_odd = last_even + 1 if length % 2 == 0 else last_even
    return CardFormat(
        length,
        facility,
        number,
        (
            ParityRule(1, ParityKind.EVEN, tuple(range(2, last_even + 1))),
            ParityRule(length, ParityKind.ODD, tuple(range(first_odd, length))),
        ),
    )


def _fasc_n() -> CardFormat:
    """The 200 bits of a FASC-N: forty characters of five bits, separators among them, and a check
    over all.
    """
    fixed = tuple(
        (5 * character - 4 + place, bits >> (4 - place) & 1)
        for character, bits in _MARKS_OF_A_FASC_N.items()
        for place in range(5)
    )
    check = tuple(
        ParityRule(
            196 + place,
            ParityKind.EVEN,
            tuple(5 * character - 4 + place for character in range(1, 40)),
        )
        for place in range(4)
    )
    others = ("series", "person", "category", "organisation", "association")
    return CardFormat(
        200,
        _of_a_fasc_n("agency", "system"),
        _of_a_fasc_n("credential"),
        (*check, ParityRule(200, ParityKind.ODD, (196, 197, 198, 199))),
        issue_level=_of_a_fasc_n("issue"),
        others=tuple((name, _of_a_fasc_n(name)) for name in others),
        fixed=fixed,
    )


_DIGITS_OF_A_FASC_N = {
    "agency": (2, 4), "system": (7, 4), "credential": (12, 6), "series": (19, 1), "issue": (21, 1),
    "person": (23, 10), "category": (33, 1), "organisation": (34, 4), "association": (38, 1),
}  # fmt: skip
"""Field to its first character, and how many it has."""
_MARKS_OF_A_FASC_N = {
    1: 0b11010,
    6: 0b10110,
    11: 0b10110,
    18: 0b10110,
    20: 0b10110,
    22: 0b10110,
    39: 0b11111,
}
"""Start, field separators and end, as they are sent."""


def _of_a_fasc_n(*names: str) -> BitField:
    pieces = [
        (5 * character - 4, 5 * character)
        for first, count in (_DIGITS_OF_A_FASC_N[name] for name in names)
        for character in range(first, first + count)
    ]
    return BitField(*pieces[0], tuple(pieces[1:]), Coding.DECIMAL_LEAST_FIRST)


def uid_format(length_bytes: int, is_reversed: bool = False) -> CardFormat:
    """Return the format of a UID, its bytes as they are sent or in the other order.

    Of ten bytes the first three stand as the facility code, as a number of eighty bits is kept
    nowhere.
    """
    bytes_in_order = [(8 * n + 1, 8 * n + 8) for n in range(length_bytes)]
    if is_reversed:
        bytes_in_order.reverse()
    longest = 7
    head, tail = bytes_in_order[:-longest], bytes_in_order[-longest:]
    facility = BitField(*head[0], tuple(head[1:])) if head else None
    number = (
        BitField(*tail[0], tuple(tail[1:])) if is_reversed else BitField(tail[0][0], tail[-1][1])
    )
    return CardFormat(8 * length_bytes, facility, number)


UID = "UID of ISO/IEC 14443-3"
READY_MADE = (
    ReadyMade("26-bit", STANDARD_26_BIT, "SIA AC-01-1996.10"),
    ReadyMade(
        "32-bit, no parity", CardFormat(32, BitField(1, 16), BitField(17, 32)), COMMON_PRACTICE
    ),
    ReadyMade(
        "34-bit", _with_outer_parity(34, BitField(2, 17), BitField(18, 33), 17), COMMON_PRACTICE
    ),
    ReadyMade(
        "34-bit, no facility code",
        _with_outer_parity(34, None, BitField(2, 33), 17),
        COMMON_PRACTICE,
    ),
    ReadyMade(
        "37-bit", _with_outer_parity(37, BitField(2, 17), BitField(18, 36), 19), COMMON_PRACTICE
    ),
    ReadyMade(
        "37-bit, no facility code",
        _with_outer_parity(37, None, BitField(2, 36), 19),
        COMMON_PRACTICE,
    ),
    ReadyMade("FASC-N, 200-bit", _fasc_n(), "Technical Implementation Guidance SCEPACS 2.x"),
    *(
        ReadyMade(
            f"UID, {length} bytes{', reversed' if is_reversed else ''}",
            uid_format(length, is_reversed),
            UID,
        )
        for length in (4, 7, 10)
        for is_reversed in (False, True)
    ),
    *(
        ReadyMade(
            f"UID cut to 3 bytes{', reversed' if is_reversed else ''}",
            uid_format(3, is_reversed),
            COMMON_PRACTICE,
        )
        for is_reversed in (False, True)
    ),
)

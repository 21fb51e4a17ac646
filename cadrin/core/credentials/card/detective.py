"""The number detective: every card that explains a number somebody has in hand, best first, and
why.

A number may be printed on a card, stand on a box, be shown by another system, or be a raw read.
Whatever a text is read as is written again in the same way: only what comes out the same explains
it.
"""

import re
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.credentials.card.formats import CardFormat, CardNumbers, DecodeFault, RawRead
from cadrin.core.credentials.card.uids import is_cut_from_a_longer_one, is_random


class Writing(StrEnum):
    """How a card's numbers are written, as is common practice."""

    NUMBER = "number"
    NUMBER_HEX = "number_hex"
    PARTED = "parted"
    JOINED_DIGITS = "joined_digits"
    JOINED_BITS = "joined_bits"
    JOINED_BITS_HEX = "joined_bits_hex"
    RAW = "raw"
    RAW_HEX = "raw_hex"


class Sign(StrEnum):
    """What speaks for an explanation, and what against it."""

    KNOWN_CARD = "known_card"
    IN_STOCK = "in_stock"
    FACILITY_KNOWN = "facility_known"
    NEIGHBOUR = "neighbour"
    CHECKED = "checked"
    UNCHECKED = "unchecked"
    TURNED = "turned"
    RANDOM_UID = "random_uid"
    CUT_UID = "cut_uid"
    FACILITY_NOT_SAID = "facility_not_said"
    FACILITY_ZERO = "facility_zero"


WEIGHTS = {
    Sign.KNOWN_CARD: 8,
    Sign.IN_STOCK: 6,
    Sign.FACILITY_KNOWN: 4,
    Sign.NEIGHBOUR: 3,
    Sign.CHECKED: 2,
    Sign.UNCHECKED: -1,
    Sign.TURNED: -4,
    Sign.RANDOM_UID: -6,
    Sign.CUT_UID: -6,
    Sign.FACILITY_NOT_SAID: -2,
    Sign.FACILITY_ZERO: -3,
}
_COMMONEST_FIRST = list(Writing)
NEAR = 50
"""Cards bought together lie so near each other."""


class Box(NamedTuple):
    """A range of numbers that the site owns in a format."""

    format_id: int
    facility_code: int
    first: int
    last: int

    def holds(self, format_id: int, numbers: CardNumbers) -> bool:
        facility, number = numbers
        return (self.format_id, self.facility_code) == (
            format_id,
            facility,
        ) and self.first <= number <= self.last


@dataclass(frozen=True, slots=True)
class KnownHere:
    """What the site knows: (format, facility code, number) of its cards, its facility codes by
    format, its boxes.
    """

    cards: Collection[tuple[int, int, int]] = ()
    facility_codes: Mapping[int, frozenset[int]] | None = None
    boxes: tuple[Box, ...] = ()


class Clue(NamedTuple):
    """A raw read, or a text as somebody reads it out."""

    raw: RawRead | None = None
    text: str = ""


class Explanation(NamedTuple):
    """A card that explains every clue: how each was written, whether the read had to be turned, and
    the signs.
    """

    format_id: int
    numbers: CardNumbers
    writings: tuple[Writing, ...]
    turned: str
    signs: tuple[Sign, ...]

    @property
    def weight(self) -> int:
        return sum(WEIGHTS[sign] for sign in self.signs)

    @property
    def speaks_for(self) -> tuple[Sign, ...]:
        return tuple(sign for sign in self.signs if WEIGHTS[sign] > 0)

    @property
    def speaks_against(self) -> tuple[Sign, ...]:
        return tuple(sign for sign in self.signs if WEIGHTS[sign] < 0)


def written(card_format: CardFormat, numbers: CardNumbers, way: Writing) -> str:
    """Write a card's numbers in one of the usual ways, without leading zeros where they mean
    nothing.
    """
    facility, number = numbers
    number_bits = card_format.card_number.length_bits
    joined = facility << number_bits | number
    match way:
        case Writing.NUMBER:
            return str(number)
        case Writing.NUMBER_HEX:
            return f"{number:X}"
        case Writing.PARTED:
            return f"{facility}-{number}"
        case Writing.JOINED_DIGITS:
            return f"{facility}{number:0{_digits(card_format)}}" if facility else ""
        case Writing.JOINED_BITS:
            return str(joined)
        case Writing.JOINED_BITS_HEX:
            return f"{joined:X}"
        case Writing.RAW:
            return str(card_format.encode(numbers).bits)
        case Writing.RAW_HEX:
            return f"{card_format.encode(numbers).bits:X}"


def _digits(card_format: CardFormat) -> int:
    return len(str(card_format.card_number.highest))


def _plain(text: str) -> str:
    """Return a text as it is compared: parts without leading zeros, one kind of separator, large
    letters.
    """
    parts = [
        part.lstrip("0") or "0" for part in re.split(r"[\s,:;./-]+", text.strip().upper()) if part
    ]
    return "-".join(parts)


def readings_of(
    text: str, card_format: CardFormat, facilities: Iterable[int]
) -> dict[CardNumbers, Writing]:
    """Return every card of a format that could be written as a text, each with the first way that
    does.

    Where only the number is said, ``facilities`` are tried for the facility code.
    """
    plain = _plain(text)
    if not plain or len(plain) > 80:
        return {}
    found: dict[CardNumbers, Writing] = {}
    for numbers in _candidates(plain, card_format, tuple(facilities)):
        if card_format.problems_with(numbers):
            continue
        for way in Writing:
            if _plain(written(card_format, numbers, way)) == plain:
                found.setdefault(numbers, way)
                break
    return found


def _candidates(
    plain: str, card_format: CardFormat, facilities: tuple[int, ...]
) -> Iterable[CardNumbers]:
    parts = plain.split("-")
    number_bits = card_format.card_number.length_bits
    if len(parts) == 2 and all(part.isdecimal() for part in parts):
        yield CardNumbers(int(parts[0]), int(parts[1]))
    if len(parts) != 1:
        return
    values = [int(plain)] if plain.isdecimal() else []
    if re.fullmatch(r"[0-9A-F]+", plain):
        values.append(int(plain, 16))
    for value in values:
        for facility in facilities:
            yield CardNumbers(facility, value)
        yield CardNumbers(value >> number_bits, value & (1 << number_bits) - 1)
        if value.bit_length() <= card_format.length_bits:
            decoded = card_format.decode(RawRead(card_format.length_bits, value))
            if isinstance(decoded, CardNumbers):
                yield decoded
    digits = _digits(card_format)
    if plain.isdecimal() and len(plain) > digits:
        yield CardNumbers(int(plain[:-digits]), int(plain[-digits:]))


def investigate(
    clues: Iterable[Clue], formats: Mapping[int, CardFormat], known: KnownHere, most: int = 12
) -> tuple[Explanation, ...]:
    """Return the cards that explain every clue at once, the likeliest first; none when nothing
    does.
    """
    asked = [clue for clue in clues if clue.raw or clue.text.strip()]
    if not asked:
        return ()
    found = [
        explanation
        for format_id, card_format in formats.items()
        for explanation in _of_format(asked, format_id, card_format, known)
    ]
    # what is printed on a card is far more often its number than all of its bits
    found.sort(
        key=lambda one: (
            -one.weight,
            sum(map(_COMMONEST_FIRST.index, one.writings)),
            one.format_id,
            one.numbers,
        )
    )
    return tuple(found[:most])


def _of_format(
    clues: list[Clue], format_id: int, card_format: CardFormat, known: KnownHere
) -> Iterable[Explanation]:
    codes = (known.facility_codes or {}).get(format_id, frozenset())
    facilities = sorted(codes) if card_format.facility_code else [0]
    # where no facility code is known here, a number alone still explains a card of each format
    tried = facilities or [0]
    together: dict[CardNumbers, list[Writing | str]] | None = None
    for clue in clues:
        here: dict[CardNumbers, Writing | str] = {}
        if clue.raw:
            here |= _decoded(clue.raw, card_format)
            tried = sorted({*tried, *(numbers.facility_code for numbers in here)})
        else:
            if together:
                tried = sorted({*tried, *(numbers.facility_code for numbers in together)})
            here |= readings_of(clue.text, card_format, tried)
        if together is None:
            together = {numbers: [way] for numbers, way in here.items()}
        else:
            together = {
                numbers: [*ways, here[numbers]]
                for numbers, ways in together.items()
                if numbers in here
            }
    for numbers, ways in (together or {}).items():
        turned = next((way for way in ways if way in ("reversed", "inverted")), "")
        writings = tuple(way for way in ways if isinstance(way, Writing))
        signs = tuple(
            _signs(
                format_id,
                card_format,
                numbers,
                known,
                turned,
                writings,
                has_raw=any(c.raw for c in clues),
            )
        )
        yield Explanation(format_id, numbers, writings, turned, signs)


def _decoded(raw: RawRead, card_format: CardFormat) -> dict[CardNumbers, str]:
    """Return the card a raw read is in a format: as it was sent, or else with its bits turned
    around.
    """
    for turned, read in (("", raw), ("reversed", raw.reversed()), ("inverted", raw.inverted())):
        found = card_format.decode(read)
        # without a check every read can be turned into some card, and that explains nothing
        if not isinstance(found, DecodeFault) and (not turned or card_format.parity):
            return {found: turned}
    return {}


def _signs(
    format_id: int,
    card_format: CardFormat,
    numbers: CardNumbers,
    known: KnownHere,
    turned: str,
    writings: tuple[Writing, ...],
    *,
    has_raw: bool,
) -> Iterable[Sign]:
    facility, number = numbers
    if (format_id, facility, number) in known.cards:
        yield Sign.KNOWN_CARD
    elif any(
        (format_id, facility, near) in known.cards
        for near in range(number - NEAR, number + NEAR + 1)
    ):
        yield Sign.NEIGHBOUR
    if any(box.holds(format_id, numbers) for box in known.boxes):
        yield Sign.IN_STOCK
    if card_format.facility_code and facility in (known.facility_codes or {}).get(
        format_id, frozenset()
    ):
        yield Sign.FACILITY_KNOWN
    if has_raw:
        yield Sign.CHECKED if card_format.parity else Sign.UNCHECKED
    elif card_format.facility_code and set(writings) <= {Writing.NUMBER, Writing.NUMBER_HEX}:
        yield Sign.FACILITY_NOT_SAID
    if card_format.facility_code and not facility:
        yield Sign.FACILITY_ZERO
    if turned:
        yield Sign.TURNED
    if card_format.length_bits == 32 and not card_format.parity:
        uid = _bytes_of(card_format, numbers)
        if is_random(uid):
            yield Sign.RANDOM_UID
        if is_cut_from_a_longer_one(uid):
            yield Sign.CUT_UID


def _bytes_of(card_format: CardFormat, numbers: CardNumbers) -> bytes:
    return card_format.encode(numbers).bits.to_bytes(card_format.length_bits // 8, "big")

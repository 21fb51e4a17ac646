"""How a card's numbers are written, as is common practice, and what a text may be read as."""

import re
from collections.abc import Iterable
from enum import StrEnum

from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead


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


COMMONEST_FIRST = list(Writing)


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
            return f"{facility}{number:0{digits_of(card_format)}}" if facility else ""
        case Writing.JOINED_BITS:
            return str(joined)
        case Writing.JOINED_BITS_HEX:
            return f"{joined:X}"
        case Writing.RAW:
            return str(card_format.encode(numbers).bits)
        case Writing.RAW_HEX:
            return f"{card_format.encode(numbers).bits:X}"


def digits_of(card_format: CardFormat) -> int:
    return len(str(card_format.card_number.highest))


def plain(text: str) -> str:
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
    bare = plain(text)
    if not bare or len(bare) > 80:
        return {}
    found: dict[CardNumbers, Writing] = {}
    for numbers in candidates(bare, card_format, tuple(facilities)):
        if card_format.problems_with(numbers):
            continue
        for way in Writing:
            if plain(written(card_format, numbers, way)) == bare:
                found.setdefault(numbers, way)
                break
    return found


def candidates(
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
    digits = digits_of(card_format)
    if plain.isdecimal() and len(plain) > digits:
        yield CardNumbers(int(plain[:-digits]), int(plain[-digits:]))

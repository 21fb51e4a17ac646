"""What speaks for a card that explains a number, and what against it."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.card.uids import is_cut_from_a_longer_one, is_random
from cadrin.core.credentials.card.writings import Writing


class Sign(StrEnum):
    """What speaks for an explanation, and what against it."""

    SHOWN_LATELY = "shown_lately"
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
    # more than all else together: what was just read is what is in hand
    Sign.SHOWN_LATELY: 21,
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
    format, its boxes, and the cards that were shown at its readers lately.
    """

    cards: Collection[tuple[int, int, int]] = ()
    facility_codes: Mapping[int, frozenset[int]] | None = None
    boxes: tuple[Box, ...] = ()
    shown: Collection[tuple[int, int, int]] = frozenset()

    def facility_codes_of(self, format_id: int) -> frozenset[int]:
        """Return the facility codes that cards of a format have here, those just shown among them."""
        known = (self.facility_codes or {}).get(format_id, frozenset())
        return known | {code for format_, code, _ in self.shown if format_ == format_id}


def signs_of(
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
    if (format_id, facility, number) in known.shown:
        yield Sign.SHOWN_LATELY
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
        uid = bytes_of(card_format, numbers)
        if is_random(uid):
            yield Sign.RANDOM_UID
        if is_cut_from_a_longer_one(uid):
            yield Sign.CUT_UID


def bytes_of(card_format: CardFormat, numbers: CardNumbers) -> bytes:
    return card_format.encode(numbers).bits.to_bytes(card_format.length_bits // 8, "big")

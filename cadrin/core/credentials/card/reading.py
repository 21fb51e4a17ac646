"""From a card to its bits and back: what a card sends, and which cards a raw read may stand for."""

from collections.abc import Mapping

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers, DecodeFault, RawRead
from cadrin.core.errors import Invalid


def bits_of(
    key: CardKey, formats: Mapping[int, CardFormat], issue_level: int | None = None
) -> RawRead:
    """Return the bits a card with these numbers sends; of which issue it is, where its format has
    that.

    Raises Invalid for an unknown format, or numbers it cannot carry.
    """
    layout = formats.get(key.format_id)
    if layout is None:
        raise Invalid.of("input.no_longer_there", "format")
    others = (
        {} if issue_level is None or layout.issue_level is None else {"issue_level": issue_level}
    )
    return layout.encode(CardNumbers(key.facility_code, key.card_number), others)


def read_card(
    read: RawRead, formats: Mapping[int, CardFormat]
) -> tuple[CardKey, ...] | DecodeFault:
    """Return every card a raw read may stand for, in the order of the formats, or why it stands for
    none.
    """
    fault = DecodeFault.WRONG_LENGTH
    keys = []
    length_bits = read.length_bits
    for format_id, card_format in formats.items():
        if card_format.length_bits != length_bits:
            continue
        found = card_format.decode(read)
        if isinstance(found, tuple):
            facility_code, card_number = found
            keys.append(CardKey(format_id, facility_code, card_number))
        else:
            # whatever does not add up, an operator is told the same of it: a bad read, or another
            # format
            fault = DecodeFault.WRONG_PARITY
    return tuple(keys) or fault


def level_in(read: RawRead, card_format: CardFormat) -> int | None:
    """Return the issue level that a raw read tells, or None where its format has none."""
    fields = card_format.read_fields(read)
    return None if isinstance(fields, DecodeFault) else fields.get("issue_level")

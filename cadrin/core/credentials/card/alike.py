"""Cards that no reader can tell apart: the same bits, read by two formats of one length."""

from collections.abc import Mapping

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import DecodeFault
from cadrin.core.credentials.card.reading import bits_of, read_card
from cadrin.core.errors import Invalid


def also_read_as(
    key: CardKey, formats: Mapping[int, CardFormat], issue_level: int | None = None
) -> tuple[CardKey, ...]:
    """Return every other card that the bits of this one may stand for, in the order in which
    formats are tried.

    None for a card that its format cannot carry: it has no bits.
    """
    own = formats.get(key.format_id)
    if own and sum(other.length_bits == own.length_bits for other in formats.values()) == 1:
        return ()
    try:
        read = bits_of(key, formats, issue_level)
    except Invalid:
        return ()
    found = read_card(read, formats)
    return () if isinstance(found, DecodeFault) else tuple(other for other in found if other != key)

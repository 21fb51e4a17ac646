"""Explain a raw read bit by bit, as a format reads it."""

from typing import NamedTuple

from cadrin.core.credentials.card.bit_fields import ParityKind
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import DecodeFault, RawRead

PARITY, FIXED, UNUSED = "parity", "fixed", "unused"


class BitMeaning(NamedTuple):
    """One bit as it was sent: what it belongs to, by the name of a field or one of the above; wrong
    or not.
    """

    bit: int
    value: int
    part: str
    is_wrong: bool


class Explained(NamedTuple):
    """Every bit, every number by its name, and what is against the read; empty fields when the
    length is another.
    """

    bits: tuple[BitMeaning, ...]
    fields: dict[str, int]
    fault: DecodeFault | None


def explain(card_format: CardFormat, read: RawRead) -> Explained:
    """Say what each bit of a read is to a format. Bits are numbered as the format has them, not as
    they were sent.
    """
    found = card_format.read_fields(read)
    fault = found if isinstance(found, DecodeFault) else None
    if fault is DecodeFault.WRONG_LENGTH:
        return Explained((), {}, fault)
    bits = read.reversed().bits if card_format.is_reversed else read.bits
    if card_format.is_inverted:
        bits = RawRead(read.length_bits, bits).inverted().bits
    value = {bit: bits >> (read.length_bits - bit) & 1 for bit in range(1, read.length_bits + 1)}
    part = {bit: name for name, where in card_format.fields.items() for bit in where.bits}
    part |= {bit: FIXED for bit, _ in card_format.fixed} | {
        rule.bit: PARITY for rule in card_format.parity
    }
    wrong = {bit for bit, fixed in card_format.fixed if value[bit] != fixed}
    for rule in card_format.parity:
        ones = sum(value[bit] for bit in {rule.bit, *rule.over})
        if ones % 2 != int(rule.kind is ParityKind.ODD):
            wrong.add(rule.bit)
    meanings = (BitMeaning(bit, value[bit], part.get(bit, UNUSED), bit in wrong) for bit in value)
    return Explained(tuple(meanings), {} if isinstance(found, DecodeFault) else found, fault)

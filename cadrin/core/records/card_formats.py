"""The record of a card format; the database keeps layouts in the same form."""

from collections.abc import Sequence
from typing import Any

from cadrin.core.credentials.card.bit_fields import BitField, Coding, ParityKind, ParityRule
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.records.fields import only, without_defaults
from cadrin.core.records.keys import Body

FIELDS = (
    "length", "facility_code", "card_number", "parity", "issue_level", "others", "fixed",
    "reversed", "inverted",
)  # fmt: skip


def encode_format(card_format: CardFormat) -> Body:
    """Write a card format; what it has not is not written."""
    more = {
        "issue_level": card_format.issue_level and _encode_field(card_format.issue_level),
        "others": [[name, _encode_field(where)] for name, where in card_format.others],
        "fixed": [list(bit) for bit in card_format.fixed],
        "reversed": card_format.is_reversed,
        "inverted": card_format.is_inverted,
    }
    return {
        "length": card_format.length_bits,
        "facility_code": card_format.facility_code and _encode_field(card_format.facility_code),
        "card_number": _encode_field(card_format.card_number),
        "parity": [[rule.bit, rule.kind.value, list(rule.over)] for rule in card_format.parity],
    } | without_defaults(more)


def decode_format(body: Body) -> CardFormat:
    """Read a card format. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, FIELDS)
    return CardFormat(
        body["length"],
        _decode_field(body["facility_code"]) if body["facility_code"] else None,
        _decode_field(body["card_number"]),
        tuple(ParityRule(bit, ParityKind(kind), tuple(over)) for bit, kind, over in body["parity"]),
        _decode_field(body["issue_level"]) if body.get("issue_level") else None,
        tuple((name, _decode_field(where)) for name, where in body.get("others", ())),
        tuple((bit, value) for bit, value in body.get("fixed", ())),
        bool(body.get("reversed")),
        bool(body.get("inverted")),
    )


def _encode_field(where: BitField) -> list[Any]:
    """Write a field: first and last bit, and what a plain one has not, further pieces
    and a coding.
    """
    if where.is_plain():
        return [where.first, where.last]
    return [where.first, where.last, [list(piece) for piece in where.more], where.coding.value]


def _decode_field(body: Sequence[Any]) -> BitField:
    first, last, *more = body
    if not more:
        return BitField(first, last)
    pieces, coding = more
    return BitField(first, last, tuple((a, b) for a, b in pieces), Coding(coding))

"""What comes in and goes out about card formats."""

from typing import Any

from rest_framework import serializers

from cadrin.core.credentials.card.bit_fields import Coding, ParityKind
from cadrin.core.credentials.card.formats import CardFormat as Layout
from cadrin.core.credentials.card.formats import problems_with_names
from cadrin.core.credentials.card.raw_reads import DecodeFault
from cadrin.core.errors import Invalid, Problem
from cadrin.credentials.commands.formats import (
    FormatDraft,
)
from cadrin.operators.rest.base import ProblemShape, Shape, WholeField, rows_of

MOST_BITS = 256


class BitNumber(WholeField):
    def __init__(self, **more: Any) -> None:
        super().__init__(**{"min_value": -MOST_BITS, "max_value": 2 * MOST_BITS, **more})


class PieceShape(Shape):
    """Bits from the first to the last, both included, counted from 1."""

    first = BitNumber()
    last = BitNumber()


class FieldShape(Shape):
    """A number on the card: its pieces, the most significant first, and how their bits make it."""

    name = serializers.CharField(max_length=30)
    pieces = rows_of(PieceShape, MOST_BITS, allow_empty=False)
    coding = serializers.ChoiceField(choices=[c.value for c in Coding], default=Coding.BINARY.value)


class ParityShape(Shape):
    bit = BitNumber()
    kind = serializers.ChoiceField(choices=[k.value for k in ParityKind])
    over = serializers.ListField(child=BitNumber(), max_length=MOST_BITS)


class FixedShape(Shape):
    bit = BitNumber()
    value = serializers.IntegerField(min_value=0, max_value=1)


class LayoutShape(Shape):
    """A layout of bits. ``fields`` has the card number, and may have a facility code, an issue
    level and others.
    """

    length_bits = BitNumber()
    fields_of_it = rows_of(FieldShape, MOST_BITS)
    parity = rows_of(ParityShape, MOST_BITS, default=list)
    fixed = rows_of(FixedShape, MOST_BITS, default=list)
    is_reversed = serializers.BooleanField(default=False)
    is_inverted = serializers.BooleanField(default=False)


class FormatShape(Shape):
    name = serializers.CharField(allow_blank=True)
    about = serializers.CharField(allow_blank=True, default="")
    layout = LayoutShape()
    version = WholeField(default=0)


class FormatRow(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    about = serializers.CharField()
    layout = LayoutShape()
    version = serializers.IntegerField()
    card_count = serializers.IntegerField()


class ReadyMadeShape(Shape):
    name = serializers.CharField()
    about = serializers.CharField()
    layout = LayoutShape()


class FormatsShape(Shape):
    """The formats in use here, and those that come with Cadrin, each with where it is published."""

    formats = FormatRow(many=True)
    ready_made = ReadyMadeShape(many=True)


class FormatToPreview(FormatShape):
    """A draft of a format, and a read to try it on."""

    id = WholeField(allow_null=True, default=None)
    raw = serializers.CharField(allow_blank=True, default="", max_length=80)


class BitShape(Shape):
    """One bit: its value in the sample read (null without one), what it belongs to, and whether it
    is wrong.
    """

    bit = serializers.IntegerField()
    value = serializers.IntegerField(allow_null=True)
    part = serializers.CharField()
    is_wrong = serializers.BooleanField()


class NumberShape(Shape):
    name = serializers.CharField()
    value = serializers.CharField()  # a UID has more digits than a number of JSON keeps


class FormatPreviewShape(Shape):
    problems = ProblemShape(many=True)
    bits = BitShape(many=True)
    numbers = NumberShape(many=True)
    fault = serializers.ChoiceField(choices=[f.value for f in DecodeFault], allow_null=True)


USUAL = ("facility_code", "card_number", "issue_level")


def layout_body(layout: dict[str, Any]) -> dict[str, Any]:
    """Write what came in as the core keeps it. Raises Invalid where the core has something against
    the names.
    """
    names = [item["name"] for item in layout["fields_of_it"]]
    if problems := problems_with_names(names):
        raise Invalid(problem.under("layout") for problem in problems)
    fields: dict[str, list[Any]] = {}
    for item in layout["fields_of_it"]:
        first, *more = ([piece["first"], piece["last"]] for piece in item["pieces"])
        fields[item["name"]] = [*first, more, item["coding"]]
    return {
        "length": layout["length_bits"],
        "facility_code": fields.get("facility_code"),
        "card_number": fields["card_number"],
        "issue_level": fields.get("issue_level"),
        "others": [[name, where] for name, where in fields.items() if name not in USUAL],
        "parity": [[item["bit"], item["kind"], item["over"]] for item in layout["parity"]],
        "fixed": [[item["bit"], item["value"]] for item in layout["fixed"]],
        "reversed": layout["is_reversed"],
        "inverted": layout["is_inverted"],
    }


def shown_layout(layout: Layout) -> dict[str, Any]:
    """Write a layout as it goes out: the other way of `_body`."""
    return {
        "length_bits": layout.length_bits,
        "fields_of_it": [
            {
                "name": name,
                "pieces": [{"first": first, "last": last} for first, last in where.pieces],
                "coding": where.coding,
            }
            for name, where in layout.fields.items()
        ],
        "parity": [
            {"bit": rule.bit, "kind": rule.kind, "over": list(rule.over)} for rule in layout.parity
        ],
        "fixed": [{"bit": bit, "value": value} for bit, value in layout.fixed],
        "is_reversed": layout.is_reversed,
        "is_inverted": layout.is_inverted,
    }


def format_draft(given: dict[str, Any]) -> FormatDraft:
    return FormatDraft(
        given["name"], given["about"], layout_body(given["layout"]), given["version"]
    )


def told_problems(problems: list[Problem]) -> list[dict[str, Any]]:
    return [
        {"code": problem.code, "field": problem.field, "params": dict(problem.params)}
        for problem in problems
    ]

"""Card formats and the number detective, over HTTP."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.card.detective import Clue, Sign, Writing
from cadrin.core.credentials.card.explain import explain
from cadrin.core.credentials.card.formats import CardFormat as Layout
from cadrin.core.credentials.card.formats import (
    CardNumbers,
    Coding,
    DecodeFault,
    ParityKind,
    RawRead,
    problems_with_names,
)
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.errors import Invalid, Problem
from cadrin.core.records.card_formats import decode_format
from cadrin.credentials.commands.formats import (
    FormatDraft,
    problems_with_format,
    read_layout,
    remove_format,
    save_format,
)
from cadrin.credentials.queries import formats, formats_in_full, holders_of, investigated
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, ProblemShape, Saved, Shape, WholeField, rows_of
from cadrin.people.scoping import only_seen

SEE, SET_UP = Permission.SEE, Permission.SET_UP
MOST_BITS = 256
SIGNS = [s.value for s in Sign]


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


class FormatToWeigh(FormatShape):
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


class WeighedFormat(Shape):
    problems = ProblemShape(many=True)
    bits = BitShape(many=True)
    numbers = NumberShape(many=True)
    fault = serializers.ChoiceField(choices=[f.value for f in DecodeFault], allow_null=True)


class CluesShape(Shape):
    """What is in hand: a raw read, what is printed on the card, on its box, and what another system
    shows.
    """

    raw = serializers.CharField(allow_blank=True, default="", max_length=80)
    printed = serializers.CharField(allow_blank=True, default="", max_length=80)
    box = serializers.CharField(allow_blank=True, default="", max_length=80)
    other = serializers.CharField(allow_blank=True, default="", max_length=80)


class ExplanationOfNumber(Shape):
    """A card that explains it all; ``holder`` is whose it is, if the operator may see them."""

    format = serializers.IntegerField()
    format_name = serializers.CharField()
    has_facility_code = serializers.BooleanField()
    facility_code = serializers.CharField()
    card_number = serializers.CharField()
    writings = serializers.ListField(
        child=serializers.ChoiceField(choices=[w.value for w in Writing])
    )
    turned = serializers.CharField()
    speaks_for = serializers.ListField(child=serializers.ChoiceField(choices=SIGNS))
    speaks_against = serializers.ListField(child=serializers.ChoiceField(choices=SIGNS))
    status = serializers.CharField()
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()


USUAL = ("facility_code", "card_number", "issue_level")


def _body(layout: dict[str, Any]) -> dict[str, Any]:
    """Write what came in as the core keeps it. Raises Invalid where the core has something against
    the names.
    """
    names = [one["name"] for one in layout["fields_of_it"]]
    if problems := problems_with_names(names):
        raise Invalid(problem.under("layout") for problem in problems)
    fields: dict[str, list[Any]] = {}
    for one in layout["fields_of_it"]:
        first, *more = ([piece["first"], piece["last"]] for piece in one["pieces"])
        fields[one["name"]] = [*first, more, one["coding"]]
    return {
        "length": layout["length_bits"],
        "facility_code": fields.get("facility_code"),
        "card_number": fields["card_number"],
        "issue_level": fields.get("issue_level"),
        "others": [[name, where] for name, where in fields.items() if name not in USUAL],
        "parity": [[one["bit"], one["kind"], one["over"]] for one in layout["parity"]],
        "fixed": [[one["bit"], one["value"]] for one in layout["fixed"]],
        "reversed": layout["is_reversed"],
        "inverted": layout["is_inverted"],
    }


def _shown(layout: Layout) -> dict[str, Any]:
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


def _draft(given: dict[str, Any]) -> FormatDraft:
    return FormatDraft(given["name"], given["about"], _body(given["layout"]), given["version"])


class Formats(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": SET_UP}

    @extend_schema(responses=FormatsShape)
    def get(self, request: Request) -> Response:
        return Response(
            {
                "formats": [
                    dict(row)
                    | {"about": row["source"], "layout": _shown(decode_format(row["layout"]))}
                    for row in formats_in_full()
                ],
                "ready_made": [
                    {"name": one.name, "about": one.source, "layout": _shown(one.layout)}
                    for one in READY_MADE
                ],
            }
        )

    @extend_schema(request=FormatShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = _draft(self.given(FormatShape, request))
        return Response(
            {"id": save_format(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED
        )


class OneFormat(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=FormatShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = _draft(self.given(FormatShape, request))
        return Response({"id": save_format(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_format(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class PreviewFormat(HouseView):
    """What is wrong with a draft of a format, and what each bit is, tried on a read. Nothing is
    saved.
    """

    needs: ClassVar = {"POST": SEE}

    @extend_schema(request=FormatToWeigh, responses=WeighedFormat)
    def post(self, request: Request) -> Response:
        given = self.given(FormatToWeigh, request)
        draft = _draft(given)
        layout = read_layout(draft)
        problems = list(problems_with_format(draft, given["id"]))
        if isinstance(layout, tuple):
            return Response({"problems": _told(problems), "bits": [], "numbers": [], "fault": None})
        read = layout.encode(CardNumbers(0, 0))
        if given["raw"].strip():
            try:
                read = RawRead.parse(given["raw"].strip())
            except Invalid as error:
                problems += error.problems
        found = explain(layout, read)
        has_sample = bool(given["raw"].strip())
        return Response(
            {
                "problems": _told(problems),
                "bits": [
                    one._asdict() | ({} if has_sample else {"value": None, "is_wrong": False})
                    for one in found.bits
                ],
                "numbers": [{"name": n, "value": str(v)} for n, v in found.fields.items()]
                if has_sample
                else [],
                "fault": found.fault if has_sample else None,
            }
        )


class NumberDetective(HouseView):
    """The cards that explain every number in hand, the likeliest first. Nothing is saved."""

    needs: ClassVar = {"POST": SEE}

    @extend_schema(request=CluesShape, responses=ExplanationOfNumber(many=True))
    def post(self, request: Request) -> Response:
        given = self.given(CluesShape, request)
        clues = [Clue(raw=RawRead.parse(given["raw"].strip()))] if given["raw"].strip() else []
        clues += [
            Clue(text=given[name]) for name in ("printed", "box", "other") if given[name].strip()
        ]
        found, layouts = investigated(clues), formats()
        names = {row["id"]: row["name"] for row in formats_in_full()}
        cards = holders_of((one.format_id, one.numbers) for one in found)
        seen = only_seen(
            self.actor(), (card.holder_id for card in cards.values() if card.holder_id)
        )
        rows = []
        for one in found:
            card = cards.get((one.format_id, one.numbers))
            holder = card.holder if card and card.holder_id in seen else None
            rows.append(
                {
                    "format": one.format_id,
                    "format_name": names.get(one.format_id, ""),
                    "has_facility_code": layouts[one.format_id].facility_code is not None,
                    "facility_code": str(one.numbers.facility_code),
                    "card_number": str(one.numbers.card_number),
                    "writings": one.writings,
                    "turned": one.turned,
                    "speaks_for": one.speaks_for,
                    "speaks_against": one.speaks_against,
                    "status": card.status if card else "",
                    "holder_id": holder.pk if holder else None,
                    "holder_name": holder.display_name if holder else "",
                }
            )
        return Response(rows)


def _told(problems: list[Problem]) -> list[dict[str, Any]]:
    return [{"code": one.code, "field": one.field, "params": dict(one.params)} for one in problems]

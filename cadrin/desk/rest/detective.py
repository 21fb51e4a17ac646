"""The number detective, over HTTP."""

from datetime import timedelta
from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity.queries import shown_lately
from cadrin.core.credentials.card.detective import Clue
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.card.signs import Sign
from cadrin.core.credentials.card.writings import Writing
from cadrin.credentials.queries import formats, formats_in_full, holders_of, investigated
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.people.scoping import only_seen

LATELY = timedelta(minutes=10)
"""A card that was shown so long ago at most is likely the one in hand."""
SIGNS = [s.value for s in Sign]


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


class NumberDetective(HouseView):
    """The cards that explain every number in hand, the likeliest first. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.SEE}

    @extend_schema(request=CluesShape, responses=ExplanationOfNumber(many=True))
    def post(self, request: Request) -> Response:
        given = self.given(CluesShape, request)
        clues = [Clue(raw=RawRead.parse(given["raw"].strip()))] if given["raw"].strip() else []
        clues += [
            Clue(text=given[name]) for name in ("printed", "box", "other") if given[name].strip()
        ]
        shown = shown_lately(self.actor(), timezone.now() - LATELY)
        found, layouts = investigated(clues, shown), formats()
        names = {row["id"]: row["name"] for row in formats_in_full()}
        cards = holders_of((item.format_id, item.numbers) for item in found)
        seen = only_seen(
            self.actor(), (card.holder_id for card in cards.values() if card.holder_id)
        )
        rows = []
        for item in found:
            card = cards.get((item.format_id, item.numbers))
            holder = card.holder if card and card.holder_id in seen else None
            rows.append(
                {
                    "format": item.format_id,
                    "format_name": names.get(item.format_id, ""),
                    "has_facility_code": layouts[item.format_id].facility_code is not None,
                    "facility_code": str(item.numbers.facility_code),
                    "card_number": str(item.numbers.card_number),
                    "writings": item.writings,
                    "turned": item.turned,
                    "speaks_for": item.speaks_for,
                    "speaks_against": item.speaks_against,
                    "status": card.status if card else "",
                    "holder_id": holder.pk if holder else None,
                    "holder_name": holder.display_name if holder else "",
                }
            )
        return Response(rows)

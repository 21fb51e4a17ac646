"""The stock of cards, over HTTP."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.stock import CardRange
from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.credentials.stock import (
    BoxDraft,
    boxes,
    change_box,
    enter_box,
    free_cards,
    problems_with_box,
    remove_box,
    set_stock_status,
    there_already,
)
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, ProblemShape, Saved, Shape, WholeField
from cadrin.people.scoping import only_seen

SEE, ISSUE = Permission.SEE, Permission.ISSUE


class BoxShape(Shape):
    """A box as it is entered; ``leaves_out`` to make only the cards of the range that there are not
    yet.
    """

    format = WholeField()
    facility_code = WholeField()
    first = WholeField()
    last = WholeField()
    kept_where = serializers.CharField(allow_blank=True, default="")
    remarks = serializers.CharField(allow_blank=True, default="")
    leaves_out = serializers.BooleanField(default=False)


class BoxRow(Shape):
    """A box, and how many of its cards are with somebody, free, gone for good, or missing in the
    sequence.
    """

    id = serializers.IntegerField()
    format = serializers.IntegerField()
    format_name = serializers.CharField()
    facility_code = serializers.IntegerField()
    first = serializers.IntegerField()
    last = serializers.IntegerField()
    kept_where = serializers.CharField()
    remarks = serializers.CharField()
    entered_at = serializers.DateTimeField()
    size = serializers.IntegerField()
    held = serializers.IntegerField()
    free = serializers.IntegerField()
    gone = serializers.IntegerField()
    missing = serializers.IntegerField()
    is_running_out = serializers.BooleanField()


class CardThere(Shape):
    """A card of the range that there is already; whose it is, if the operator may see them."""

    card = serializers.CharField()
    status = serializers.ChoiceField(choices=[s.value for s in CardStatus])
    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField()


class BoxPreviewShape(Shape):
    """What entering a box would do: how many cards it makes, and those of the range that there are,
    some of them.
    """

    problems = ProblemShape(many=True)
    makes = serializers.IntegerField()
    there = CardThere(many=True)
    there_count = serializers.IntegerField()


class StockQuery(Shape):
    text = serializers.CharField(allow_blank=True, default="", max_length=40)


class FreeCard(Shape):
    format_id = serializers.IntegerField()
    format_name = serializers.CharField()
    facility_code = serializers.IntegerField()
    card_number = serializers.IntegerField()
    status = serializers.ChoiceField(choices=[s.value for s in CardStatus])


def _draft(given: dict[str, Any]) -> BoxDraft:
    numbers = CardRange(given["facility_code"], given["first"], given["last"])
    return BoxDraft(
        given["format"], numbers, given["kept_where"], given["remarks"], given["leaves_out"]
    )


class Boxes(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": ISSUE}

    @extend_schema(responses=BoxRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(boxes())

    @extend_schema(request=BoxShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = _draft(self.given(BoxShape, request))
        return Response(
            {"id": enter_box(self.actor(), draft, timezone.now())}, status.HTTP_201_CREATED
        )


class BoxChange(Shape):
    kept_where = serializers.CharField(allow_blank=True, default="")
    remarks = serializers.CharField(allow_blank=True, default="")


class OneBox(HouseView):
    """Change where a box is kept, or remove it with its cards that nobody ever had."""

    needs: ClassVar = {"PUT": ISSUE, "DELETE": ISSUE}

    @extend_schema(request=BoxChange, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        given = self.given(BoxChange, request)
        change_box(self.actor(), id, given["kept_where"], given["remarks"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_box(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class PreviewBox(HouseView):
    """What entering a box would do. Nothing is saved."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=BoxShape, responses=BoxPreviewShape)
    def post(self, request: Request) -> Response:
        draft = _draft(self.given(BoxShape, request))
        problems = problems_with_box(draft)
        cards, count = there_already(draft)
        seen = only_seen(self.actor(), (card.holder_id for card in cards if card.holder_id))
        return Response(
            {
                "problems": [
                    {"code": p.code, "field": p.field, "params": dict(p.params)} for p in problems
                ],
                "makes": max(0, draft.numbers.size - count),
                "there": [
                    {
                        "card": str(card),
                        "status": card.status,
                        "holder_id": card.holder_id if card.holder_id in seen else None,
                        "holder_name": card.holder.display_name
                        if card.holder and card.holder_id in seen
                        else "",
                    }
                    for card in cards
                ],
                "there_count": count,
            }
        )


class StockStatusShape(CardIdentityShape):
    is_destroyed = serializers.BooleanField()


class StockStatus(HouseView):
    """Say that a card that nobody has is destroyed, or in stock after all."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=StockStatusShape, responses={204: None})
    def post(self, request: Request) -> Response:
        given = self.given(StockStatusShape, request)
        key = CardKey(given["format"], given["facility_code"], given["card_number"])
        became = CardStatus.DESTROYED if given["is_destroyed"] else CardStatus.IN_STOCK
        set_stock_status(self.actor(), key, became, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class FreeCards(HouseView):
    """Cards in stock that can be issued, by any part of the number."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[StockQuery], responses=FreeCard(many=True))
    def get(self, request: Request) -> Response:
        return Response(free_cards(self.given(StockQuery, request)["text"]))

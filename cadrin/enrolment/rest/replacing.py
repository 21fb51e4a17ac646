"""What stands in place of a card that is lost, stolen, damaged or handed back, over HTTP."""

from typing import ClassVar

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.card.life import CardStatus
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.replacing import next_issue, replaced
from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.enrolment.rest.shapes import CardShape, card_draft, shown_card
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape

BECAME = [
    status.value
    for status in (CardStatus.LOST, CardStatus.STOLEN, CardStatus.DAMAGED, CardStatus.RETURNED)
]


class ReplacementShape(Shape):
    """A card, what became of it, and the one in its place; null for its own next issue."""

    old = CardShape()
    became = serializers.ChoiceField(choices=BECAME)
    card = CardIdentityShape(allow_null=True)


class ReplacementPreviewShape(Shape):
    """``cards`` are what stands in place of the old one; ``next_issue_level`` is null where its
    format has no further issue.
    """

    cards = CardShape(many=True)
    next_issue_level = serializers.IntegerField(allow_null=True)


class PreviewReplacement(HouseView):
    """What stands in place of a card. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.ISSUE}

    @extend_schema(request=ReplacementShape, responses=ReplacementPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(ReplacementShape, request)
        old, card = card_draft(given["old"]), given["card"]
        following = next_issue(old)
        if card is None:
            cards: tuple[CardDraft, ...] = (following or old,)
        else:
            numbers = card["format"], card["facility_code"], card["card_number"]
            cards = replaced(old, numbers, CardStatus(given["became"]))
        return Response(
            {
                "cards": [shown_card(draft) for draft in cards],
                "next_issue_level": following.issue_level if following else None,
            }
        )

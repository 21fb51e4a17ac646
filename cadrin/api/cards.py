"""Cards, whoever has them, for scripts."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.base import ApiView, PageQuery, cursor_number, page, with_version
from cadrin.api.cardholder_resource import draft_now, with_card, without_card
from cadrin.api.idempotency import once
from cadrin.api.pages import page_of
from cadrin.api.shapes import CardShape
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid
from cadrin.credentials.card_draft import draft_of
from cadrin.credentials.queries import CardFilters, cards_seen, get_card, get_card_of
from cadrin.enrolment.commands.cardholders import ONE_ALONE, save_many
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.enrolment.rest.shapes import card_draft, shown_card
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import WholeField, told

if TYPE_CHECKING:
    from cadrin.credentials.models import Card


class HeldCardShape(CardShape):
    """A card, and whose it is."""

    holder = WholeField(allow_null=True, **told("Id of the cardholder; null in stock.", 17))


class CardQuery(PageQuery):
    """Which cards: all that is given must hold."""

    format = WholeField(default=None, **told("Of this format.", 1))
    facility_code = WholeField(default=None, **told("With this facility code.", 87))
    card_number = WholeField(default=None, **told("With this card number.", 4628))
    status = serializers.ChoiceField(
        choices=[status.value for status in CardStatus],
        default=None,
        **told("In this status.", "lost"),
    )
    holder = WholeField(default=None, **told("Of this cardholder.", 17))


def _out(card: Card) -> dict[str, Any]:
    return {"id": card.pk, **shown_card(draft_of(card)), "holder": card.holder_id}


class Cards(ApiView):
    tag = "Cards"
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.EDIT}

    @extend_schema(parameters=[CardQuery], responses=page_of(HeldCardShape))
    def get(self, request: Request) -> Response:
        """List cards.

        Those that somebody has, and those in stock, in the order in which they became known.
        """
        asked = self.asked(CardQuery, request)
        limit, after = asked.pop("limit"), cursor_number(asked.pop("cursor"))
        found = cards_seen(self.actor(), CardFilters(**asked), after, limit + 1)
        return page([_out(card) for card in found], limit, lambda row: row["id"])

    @extend_schema(request=HeldCardShape, responses={201: HeldCardShape})
    @once
    def post(self, request: Request) -> Response:
        """Give a card to a cardholder."""
        values, actor = self.new(HeldCardShape, request), self.actor()
        holder = values.pop("holder")
        if holder is None:
            raise Invalid.of("input.null", "holder")
        card = card_draft(values)
        _save(actor, holder, with_card(draft_now(actor, holder), card))
        out = _out(get_card_of(actor, card.identity))
        return with_version(out, status.HTTP_201_CREATED, f"cards/{out['id']}")


class OneCard(ApiView):
    tag = "Cards"
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PATCH": Permission.EDIT,
        "DELETE": Permission.EDIT,
    }

    @extend_schema(responses=HeldCardShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a card."""
        return with_version(_out(get_card(self.actor(), id)))

    @extend_schema(request=HeldCardShape, responses=HeldCardShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of a card that somebody has.

        A JSON merge patch (RFC 7396). What makes it one card (format, facility code, card number)
        and its holder stay.
        """
        actor = self.actor()
        card = get_card(actor, id)
        values = self.patched(HeldCardShape, _out(card), request)
        holder, wanted = values.pop("holder"), card_draft(values)
        if card.holder_id is None:
            raise Invalid.of("card.in_stock")
        if wanted.identity != draft_of(card).identity or holder != card.holder_id:
            raise Invalid.of("card.stays_one_card")
        _save(actor, card.holder_id, with_card(draft_now(actor, card.holder_id), wanted))
        return with_version(_out(get_card(actor, id)))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        """Take a card back from its cardholder."""
        actor = self.actor()
        card = get_card(actor, id)
        if card.holder_id is None:
            raise Invalid.of("card.in_stock")
        draft = without_card(draft_now(actor, card.holder_id), draft_of(card).identity)
        _save(actor, card.holder_id, draft)
        return Response(status=status.HTTP_204_NO_CONTENT)


def _save(actor: Actor, holder_id: int, draft: CardholderDraft) -> None:
    save_many(actor, [Wanted(holder_id, draft)], timezone.now(), ONE_ALONE)

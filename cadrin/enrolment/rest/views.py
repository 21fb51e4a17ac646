from collections.abc import Iterable
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.enrolment.commands.cardholders import ShownPin, save_and_show
from cadrin.enrolment.commands.cards import suspend_card
from cadrin.enrolment.commands.consents import ask_for_consent, withdraw_consent
from cadrin.enrolment.commands.drafts import Whose
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.commands.undo import undo
from cadrin.enrolment.queries import cardholder_for
from cadrin.enrolment.rest.shapes import (
    CardholderShape,
    EraseShape,
    MergeShape,
    SavedCardholder,
    cardholder_draft,
    cardholder_out,
)
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.people.queries import (
    free_number,
    get_cardholder,
    rules,
)
from cadrin.photos.commands import SLOTS


def _file(cardholder_id: int, actor: Actor, shown_pins: Iterable[ShownPin] = ()) -> dict[str, Any]:
    cardholder = get_cardholder(actor, cardholder_id)
    file = cardholder_out(cardholder_for(actor, cardholder, rules()))
    return file | {
        "id": cardholder.pk,
        "display_name": cardholder.display_name,
        "is_erased": cardholder.erased_at is not None,
        "shown_pins": [pin._asdict() for pin in shown_pins],
    }


class NewFileQuery(Shape):
    """Which draft of somebody new is saved, and is no draft any more."""

    draft = serializers.CharField(required=False)


class NewFile(HouseView):
    needs: ClassVar = {"GET": Permission.ENROL, "POST": Permission.ENROL}

    @extend_schema(responses=CardholderShape)
    def get(self, request: Request) -> Response:
        """Offer an empty file with the next free number."""
        nothing = {
            "images": [None] * SLOTS,
            "cards": [],
            "pins": [],
            "plates": [],
            "biometrics": {"fingers": [], "new_consent": None, "card_alone": None, "faces": []},
            "memberships": [],
        }
        return Response(CardholderShape({"number": free_number(rules().numbers), **nothing}).data)

    @extend_schema(
        request=CardholderShape, responses={201: SavedCardholder}, parameters=[NewFileQuery]
    )
    def post(self, request: Request) -> Response:
        draft = cardholder_draft(self.given(CardholderShape, request), self.actor())
        typed = Whose(None, request.query_params.get("draft", ""))
        saved = save_and_show(self.actor(), None, draft, timezone.now(), typed)
        return Response(
            _file(saved.id, self.actor(), saved.shown_pins), status=status.HTTP_201_CREATED
        )


class OneFile(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "PUT": Permission.EDIT}

    @extend_schema(responses=SavedCardholder)
    def get(self, request: Request, id: int) -> Response:
        return Response(_file(id, self.actor()))

    @extend_schema(request=CardholderShape, responses=SavedCardholder)
    def put(self, request: Request, id: int) -> Response:
        get_cardholder(self.actor(), id)
        self.refuse_parts(CardholderShape, request)
        draft = cardholder_draft(self.given(CardholderShape, request), self.actor())
        saved = save_and_show(self.actor(), id, draft, timezone.now(), Whose(id))
        return Response(_file(id, self.actor(), saved.shown_pins))


class CardSuspension(HouseView):
    """Suspend one card at once; nothing else of its holder changes."""

    needs: ClassVar = {"POST": Permission.SUSPEND}

    @extend_schema(request=CardIdentityShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(CardIdentityShape, request)
        identity = given["format"], given["facility_code"], given["card_number"]
        suspend_card(self.actor(), id, identity, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Undo(HouseView):
    """Take back an act from a cardholder's history."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int, entry: int) -> Response:
        undo(self.actor(), id, entry, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ConsentQuestion(HouseView):
    """Send somebody by mail what is to be agreed to."""

    needs: ClassVar = {"POST": Permission.BIOMETRICS}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        ask_for_consent(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ConsentWithdrawal(HouseView):
    """Withdraw a consent: the templates that rest on it go from here and from every controller."""

    needs: ClassVar = {"POST": Permission.BIOMETRICS}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int, consent: int) -> Response:
        withdraw_consent(self.actor(), id, consent, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Erase(HouseView):
    """Erase a cardholder for good."""

    needs: ClassVar = {"POST": Permission.ERASE}

    @extend_schema(request=EraseShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(EraseShape, request)
        erase_cardholder(self.actor(), id, given["version"], given["reason"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Merge(HouseView):
    """Merge another record of the same human being into this one."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=MergeShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(MergeShape, request)
        other = given.pop("other"), given.pop("other_version")
        merge_cardholders(
            self.actor(), id, cardholder_draft(given, self.actor()), *other, timezone.now()
        )
        return Response(status=status.HTTP_204_NO_CONTENT)

"""PINs typed at a desk's keypad, and lists of PINs, over HTTP."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import NotFound
from cadrin.credentials.keypad import begin_wait, typed_for
from cadrin.enrolment.commands.pin_lists import (
    MOST_IN_A_LIST,
    make_pin_list,
    open_pin_list,
    people_without_pin,
    pin_lists,
)
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved, Shape, WholeField
from cadrin.sites.queries import readers


class WaitShape(Shape):
    """A wait at a desk's keypad: by its token, which is the operator's alone, it is asked for and
    used.
    """

    token = serializers.CharField()


class TypedShape(Shape):
    """What was typed in a wait: how often, and how long the latest was; never what."""

    times = serializers.IntegerField()
    length = serializers.IntegerField()


class PeopleForPins(Shape):
    """Some people, or a department and those below it."""

    people = serializers.ListField(child=WholeField(), max_length=MOST_IN_A_LIST, default=list)
    department = WholeField(allow_null=True, default=None)


class PinListRow(Shape):
    id = serializers.IntegerField()
    made_at = serializers.DateTimeField()
    made_by = serializers.CharField()
    count = serializers.IntegerField()
    opened_at = serializers.DateTimeField(allow_null=True)


class ListedPinShape(Shape):
    number = serializers.CharField()
    name = serializers.CharField()
    digits = serializers.CharField()


class KeypadWaits(HouseView):
    """Wait for a cardholder to type a PIN at a desk's keypad, twice."""

    needs: ClassVar = {"POST": Permission.ISSUE}

    @extend_schema(request=None, responses={201: WaitShape})
    def post(self, request: Request, id: int) -> Response:
        if id not in {
            row["id"] for row in readers(self.actor()) if row["has_keypad"] and row["is_desk"]
        }:
            raise NotFound.of("reader.not_found")
        return Response(
            {"token": begin_wait(self.actor(), id, timezone.now())}, status.HTTP_201_CREATED
        )


class OneKeypadWait(HouseView):
    """How often something was typed in a wait of one's own; never what."""

    needs: ClassVar = {"GET": Permission.ISSUE}

    @extend_schema(responses=TypedShape)
    def get(self, request: Request, token: str) -> Response:
        return Response(typed_for(self.actor(), token)._asdict())


class PinLists(HouseView):
    """The sealed lists of PINs, and making one for everybody of some people who has none."""

    needs: ClassVar = {"GET": Permission.ISSUE, "POST": Permission.ISSUE}

    @extend_schema(responses=PinListRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(pin_lists(self.actor()))

    @extend_schema(request=PeopleForPins, responses={201: Saved})
    def post(self, request: Request) -> Response:
        given, actor = self.given(PeopleForPins, request), self.actor()
        people = given["people"] or people_without_pin(actor, given["department"])
        return Response(
            {"id": make_pin_list(actor, people, timezone.now())}, status.HTTP_201_CREATED
        )


class PinListOpening(HouseView):
    """Open a sealed list; it can be opened once."""

    needs: ClassVar = {"POST": Permission.ISSUE}

    @extend_schema(request=None, responses=ListedPinShape(many=True))
    def post(self, request: Request, id: int) -> Response:
        return Response(
            [line._asdict() for line in open_pin_list(self.actor(), id, timezone.now())]
        )

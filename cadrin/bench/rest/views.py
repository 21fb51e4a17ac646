from typing import ClassVar

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.bench.rest.shapes import (
    Bench,
    BenchController,
    Box,
    CardToShow,
    DoorMove,
    MailSwitch,
    Shown,
    Switch,
)
from cadrin.bench.rest.shapes import BenchMail as BenchMailOut
from cadrin.bench.standins import (
    LaidFinger,
    ShownFace,
    ToShow,
    ask_controller,
    move_door,
    seen_by,
    show,
    switch_mail,
    unbox,
)
from cadrin.biometrics.rest.shapes import finger_named
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.errors import Invalid
from cadrin.core.made_up.laying import Laid
from cadrin.core.made_up.showing import FaceShown
from cadrin.credentials.queries import raw_of
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView


class TestBench(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=Bench)
    def get(self, request: Request) -> Response:
        return Response(seen_by(self.actor()))


class BenchReads(HouseView):
    needs: ClassVar = {"POST": Permission.BENCH}

    @extend_schema(request=CardToShow, responses=Shown)
    def post(self, request: Request) -> Response:
        asked = self.given(CardToShow, request)
        raw = asked["raw"]
        if not raw and asked["card_number"] is not None:
            key = CardKey(asked["format"] or 0, asked["facility_code"] or 0, asked["card_number"])
            raw = str(raw_of(key, asked["issue_level"]))
        told = asked["finger"]
        finger = told and LaidFinger(
            told["cardholder"], finger_named(told["finger"]), Laid(told["how"])
        )
        seen = asked["face"]
        face = seen and ShownFace(seen["cardholder"], FaceShown(seen["how"]))
        what = ToShow(raw, asked["typed"], asked["plate"], finger, face)
        if what == ToShow():
            raise Invalid.of("input.blank", "card_number")
        return Response(show(self.actor(), asked["reader"], what))


class BenchSwitch(HouseView):
    needs: ClassVar = {"PATCH": Permission.BENCH}

    @extend_schema(request=Switch, responses=BenchController)
    def patch(self, request: Request, id: int) -> Response:
        body = self.given(Switch, request)
        return Response(ask_controller(self.actor(), id, "PATCH", body=body))


class BenchDoors(HouseView):
    """Open or shut a door by hand, or press the button on its way out."""

    needs: ClassVar = {"POST": Permission.BENCH}

    @extend_schema(request=DoorMove, responses=BenchController)
    def post(self, request: Request, id: int) -> Response:
        return Response(move_door(self.actor(), id, self.given(DoorMove, request)["move"]))


class BenchMail(HouseView):
    """Switch the mail server on and off."""

    needs: ClassVar = {"PATCH": Permission.BENCH}

    @extend_schema(request=MailSwitch, responses=BenchMailOut)
    def patch(self, request: Request) -> Response:
        return Response(switch_mail(self.actor(), **self.given(MailSwitch, request)))


class BenchStrangers(HouseView):
    """Let a stand-in controller hold people whom nobody sent, as one that was used elsewhere."""

    needs: ClassVar = {"POST": Permission.BENCH}

    @extend_schema(request=None, responses=BenchController)
    def post(self, request: Request, id: int) -> Response:
        return Response(ask_controller(self.actor(), id, "POST", "/strangers"))


class BenchBoxes(HouseView):
    """Take a new controller out of its box: it waits until it is looked for and taken in."""

    needs: ClassVar = {"POST": Permission.BENCH}

    @extend_schema(request=None, responses=Box)
    def post(self, request: Request) -> Response:
        return Response({"number": unbox(self.actor())})


class BenchStore(HouseView):
    """Empty a stand-in controller, as a factory reset would."""

    needs: ClassVar = {"DELETE": Permission.BENCH}

    @extend_schema(request=None, responses=BenchController)
    def delete(self, request: Request, id: int) -> Response:
        return Response(ask_controller(self.actor(), id, "DELETE", "/store"))

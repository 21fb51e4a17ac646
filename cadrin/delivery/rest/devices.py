"""Controllers as devices, over HTTP: looked for, taken in, renamed, replaced, taken out of use."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.delivery.devices import replace_controller, save_device, take_in, take_out_of_use
from cadrin.delivery.finding import search
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved, Shape, WholeField
from cadrin.sites.commands.controllers import (
    ControllerDraft,
    remove_reader,
    rename_reader,
)
from cadrin.sites.rest.fields import LimitsShape, text

SET_UP = Permission.SET_UP


class PlugShape(Shape):
    number = serializers.IntegerField()
    name = serializers.CharField()
    has_keypad = serializers.BooleanField()
    has_camera = serializers.BooleanField()
    has_finger_scanner = serializers.BooleanField()
    has_face_reader = serializers.BooleanField()


class FoundControllerShape(Shape):
    """A controller that answered; ``known_as`` is its name here, if it is taken in already."""

    address = serializers.CharField()
    name = serializers.CharField()
    plugs = PlugShape(many=True)
    is_claimed = serializers.BooleanField()
    known_as = serializers.CharField(allow_blank=True)


class NewControllerShape(Shape):
    name = text()
    address = text()


class ControllerShape(NewControllerShape):
    version = WholeField(min_value=0, default=0)
    limits = LimitsShape(default=dict)
    knows_one_group = serializers.BooleanField(default=False)


def controller_draft(given: dict[str, Any]) -> ControllerDraft:
    """Read a controller as it was sent; a limit without a count is none."""
    limits = {name: count for name, count in given["limits"].items() if count is not None}
    return ControllerDraft(**given | {"limits": limits})


class DeviceInItsPlace(Shape):
    """Where the device listens that takes a controller's place."""

    version = WholeField()
    address = text()


class ReaderNameShape(Shape):
    version = WholeField()
    name = text()


class FoundControllers(HouseView):
    needs: ClassVar = {"GET": SET_UP}

    @extend_schema(responses=FoundControllerShape(many=True))
    def get(self, request: Request) -> Response:
        found = search(self.actor())
        return Response(
            [{**one._asdict(), "plugs": [p._asdict() for p in one.plugs]} for one in found]
        )


class TakenIn(HouseView):
    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=NewControllerShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = ControllerDraft(**self.given(NewControllerShape, request))
        id_ = take_in(self.actor(), draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneController(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=ControllerShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        draft = controller_draft(self.given(ControllerShape, request))
        save_device(self.actor(), id, draft, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        take_out_of_use(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ControllerReplacement(HouseView):
    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=DeviceInItsPlace, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(DeviceInItsPlace, request)
        replace_controller(self.actor(), id, given["address"], given["version"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ReaderName(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=ReaderNameShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        given = self.given(ReaderNameShape, request)
        rename_reader(self.actor(), id, given["name"], given["version"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_reader(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

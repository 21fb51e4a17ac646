"""One door, over HTTP: saved, and removed with everything that grants it."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.doors import loss_with_door, remove_door
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved, Shape
from cadrin.sites.rest.places import DoorShape, save_door_given

SET_UP = Permission.SET_UP


class LossShape(Shape):
    """What goes with a door: the groups that grant it, and how many people are in them."""

    groups = serializers.ListField(child=serializers.CharField())
    people = serializers.IntegerField()


class OneDoor(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=DoorShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        return save_door_given(self, request, id)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_door(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class DoorLoss(HouseView):
    needs: ClassVar = {"GET": SET_UP}

    @extend_schema(responses=LossShape)
    def get(self, request: Request, id: int) -> Response:
        return Response(loss_with_door(self.actor(), id)._asdict())

"""Doors as they are now, and reports of emergencies, over HTTP."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity.doors import doors_now, report_of_release
from cadrin.activity.rest.shapes import HAPPENINGS, ReadShape
from cadrin.activity.rest.views import shown_read
from cadrin.core.doors.rules import Lock, Ordered
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.sites.rest.door_acts import ReleaseOut


class OrderOut(Shape):
    """What is ordered of a door; ``release`` is the group of doors that an emergency is about."""

    kind = serializers.ChoiceField(choices=[kind.value for kind in Ordered])
    until = serializers.DateTimeField(allow_null=True)
    reason = serializers.CharField()
    ordered_by = serializers.CharField()
    at = serializers.DateTimeField()
    release = serializers.CharField()


class PersonAtDoor(Shape):
    read_id = serializers.IntegerField()
    at = serializers.DateTimeField()
    reader = serializers.CharField()
    name = serializers.CharField()
    cardholder_id = serializers.IntegerField(allow_null=True)


class AsksIn(PersonAtDoor):
    """Somebody who asks to be let in, and until when they can be."""

    until = serializers.DateTimeField()


class DoorNowOut(Shape):
    id = serializers.IntegerField()
    lock = serializers.ChoiceField(choices=[lock.value for lock in Lock])
    is_open = serializers.BooleanField()
    alarm = serializers.ChoiceField(choices=HAPPENINGS, allow_null=True)
    moved_at = serializers.DateTimeField(allow_null=True)
    consent_seconds = serializers.IntegerField(allow_null=True)
    order = OrderOut(allow_null=True)
    last = PersonAtDoor(allow_null=True)
    asks_in = AsksIn(allow_null=True)


class ReleaseReport(ReleaseOut):
    """What happened at the doors of an emergency, oldest first."""

    group = serializers.CharField()
    reads = ReadShape(many=True)


class DoorsNow(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=DoorNowOut(many=True))
    def get(self, request: Request) -> Response:
        return Response(doors_now(self.actor(), timezone.now()))


class ReportOfRelease(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ReleaseReport)
    def get(self, request: Request, id: int) -> Response:
        report = report_of_release(self.actor(), id, timezone.now())
        return Response({**report, "reads": [shown_read(row) for row in report["reads"]]})

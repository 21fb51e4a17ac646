"""What readers ask for, over HTTP."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField, rows_of
from cadrin.sites.commands.readers import AskedBySchedule as AskedInstead
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.queries import alternatives_of
from cadrin.sites.rest.fields import PolicyField
from cadrin.sites.rest.shapes import AskedBySchedule

MOST_HOURS = 10


class ReaderShape(Shape):
    """What a reader takes; without formats it reads all of them."""

    version = WholeField(min_value=1)
    policy = PolicyField()
    has_keypad = serializers.BooleanField()
    has_camera = serializers.BooleanField(default=False)
    has_finger_scanner = serializers.BooleanField(default=False)
    finger_match = WholeField(default=None, allow_null=True)
    has_face_reader = serializers.BooleanField(default=False)
    face_match = WholeField(default=None, allow_null=True)
    by_hours = rows_of(AskedBySchedule, MOST_HOURS, default=list)
    is_way_out = serializers.BooleanField(default=False)
    format_ids = serializers.ListField(child=WholeField(), max_length=100)


def reader_draft(given: dict[str, Any]) -> ReaderDraft:
    return ReaderDraft(
        alternatives_of(given["policy"]),
        given["has_keypad"],
        frozenset(given["format_ids"]),
        given["version"],
        given["is_way_out"],
        given["has_camera"],
        given["has_finger_scanner"],
        given["finger_match"],
        tuple(
            AskedInstead(item["schedule"], alternatives_of(item["policy"]))
            for item in given["by_hours"]
        ),
        given["has_face_reader"],
        given["face_match"],
    )


class OneReader(HouseView):
    needs: ClassVar = {"PUT": Permission.SET_UP}

    @extend_schema(request=ReaderShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        save_reader(
            self.actor(), id, reader_draft(self.given(ReaderShape, request)), timezone.now()
        )
        return Response(status=status.HTTP_204_NO_CONTENT)

"""The preview of a reader, over HTTP."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.reader_preview import preview_reader
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.people.queries import display_names
from cadrin.people.scoping import only_seen
from cadrin.sites.rest.readers import ReaderShape, reader_draft

MOST_NAMED = 8


class ReaderPreviewShape(Shape):
    """How many people more, or below zero fewer, would lack a PIN, a finger, a face, or a card that all
    of their doors can read.

    ``has_way_in`` says whether its door would still have a reader on the way in, ``who`` names some
    of those who would lack something that they do not lack now, and ``more`` are not named.
    """

    without_pin = serializers.IntegerField()
    without_readable_card = serializers.IntegerField()
    without_finger = serializers.IntegerField()
    without_face = serializers.IntegerField()
    has_way_in = serializers.BooleanField()
    who = serializers.ListField(child=serializers.CharField())
    more = serializers.IntegerField()


class PreviewReader(HouseView):
    """What saving a reader would make people lack. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.SET_UP}

    @extend_schema(request=ReaderShape, responses=ReaderPreviewShape)
    def post(self, request: Request, id: int) -> Response:
        draft = reader_draft(self.given(ReaderShape, request))
        found = preview_reader(id, draft, timezone.now())
        seen = sorted(only_seen(self.actor(), found.who))
        names = sorted(display_names(seen[:MOST_NAMED]).values())
        more = len(seen) - len(names)
        return Response(found._asdict() | {"who": names, "more": more})

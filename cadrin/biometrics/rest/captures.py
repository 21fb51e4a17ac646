"""Taking a finger, over HTTP: at a desk's scanner, or from files."""

from typing import Any, ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.biometrics.captures import (
    MOST_BYTES,
    CaptureWanted,
    begin_capture,
    drop_capture,
    get_capture,
    is_whole,
    picture_in,
    rule_of,
    take_file,
    template_of,
    templates_in,
)
from cadrin.biometrics.models import Capture
from cadrin.biometrics.rest.shapes import CaptureShape, CaptureState, FileShape, finger_named
from cadrin.biometrics.search import Found, search_everybody
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotFound
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import display_names, get_cardholder
from cadrin.people.scoping import only_seen
from cadrin.sites.queries import finger_scanners_at_desks

BIOMETRICS = Permission.BIOMETRICS


def state_of(actor: Actor, capture: Capture) -> dict[str, Any]:
    """Return how far a capture is, as it goes out."""
    whole = is_whole(capture)
    return {
        "token": capture.token,
        "finger": Finger(capture.finger).name.lower(),
        "wanted": rule_of(capture).presses,
        "taken": len(templates_in(capture)),
        "least_quality": capture.least_quality,
        "presses": [
            {
                "quality": press["quality"],
                "advice": press["advice"],
                "problem": press["problem"] and press["problem"] | {"field": None},
            }
            for press in capture.presses
        ],
        "has_picture": bool(capture.sealed_picture),
        "quality": template_of(capture).quality if whole else None,
        "whose": _whose(actor, capture, search_everybody(capture)) if whole else [],
    }


def _whose(actor: Actor, capture: Capture, found: list[Found]) -> list[dict[str, Any]]:
    seen = only_seen(actor, (item.holder_id for item in found))
    names = display_names(seen)
    return [
        {
            "holder_id": item.holder_id if item.holder_id in seen else None,
            "holder_name": names.get(item.holder_id, ""),
            "finger": item.finger.name.lower() if item.holder_id in seen else None,
            "is_same_person": item.holder_id == capture.holder_id,
        }
        for item in found
    ]


class Captures(HouseView):
    """Begin to take a finger. Whoever waited at that scanner before waits no more."""

    needs: ClassVar = {"POST": BIOMETRICS}

    @extend_schema(request=CaptureShape, responses={201: CaptureState})
    def post(self, request: Request) -> Response:
        given, actor = self.given(CaptureShape, request), self.actor()
        if given["cardholder"] is not None:
            get_cardholder(actor, given["cardholder"])
        if given["reader"] is not None and given["reader"] not in finger_scanners_at_desks(actor):
            raise NotFound.of("reader.not_found")
        wanted = CaptureWanted(
            finger_named(given["finger"]),
            given["reader"],
            given["cardholder"],
            given["least_quality"],
            given["lowered_because"],
        )
        token = begin_capture(actor, wanted, timezone.now())
        return Response(state_of(actor, get_capture(actor, token)), status.HTTP_201_CREATED)


class OneCapture(HouseView):
    """How far a capture of one's own is."""

    needs: ClassVar = {"GET": BIOMETRICS, "DELETE": BIOMETRICS}

    @extend_schema(responses=CaptureState)
    def get(self, request: Request, token: str) -> Response:
        return Response(state_of(self.actor(), get_capture(self.actor(), token)))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, token: str) -> Response:
        drop_capture(self.actor(), token)
        return Response(status=status.HTTP_204_NO_CONTENT)


class CapturePicture(HouseView):
    """The latest picture of a capture of one's own; it is kept no longer than the capture."""

    needs: ClassVar = {"GET": BIOMETRICS}

    @extend_schema(responses={(200, "image/png"): bytes})
    def get(self, request: Request, token: str) -> HttpResponse:
        picture = picture_in(get_capture(self.actor(), token))
        if not picture:
            raise NotFound.of("finger.no_picture")
        return HttpResponse(picture, content_type="image/png")


class CaptureFiles(HouseView):
    """Take a press from a file: a PNG at 500 pixels an inch, or an ISO/IEC 19794-2:2005 record."""

    needs: ClassVar = {"POST": BIOMETRICS}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileShape}, responses=CaptureState)
    def post(self, request: Request, token: str) -> Response:
        capture = get_capture(self.actor(), token)
        sent = request.FILES.get("file")
        if sent is None:
            raise Invalid.of("input.required", "file")
        take_file(capture, sent.read(MOST_BYTES + 1))
        return Response(state_of(self.actor(), capture))

"""Taking a face, over HTTP: from the portrait, the camera, a file, or a reader for faces."""

from typing import Any, ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.biometrics.captures import drop_capture, get_capture, picture_in
from cadrin.biometrics.face_captures import (
    begin_face_capture,
    face_taken,
    take_picture,
    take_portrait,
)
from cadrin.biometrics.face_search import FoundFace, search_all_faces
from cadrin.biometrics.likeness import is_like_portrait
from cadrin.biometrics.models import Capture
from cadrin.biometrics.rest.shapes import (
    FaceCaptureShape,
    FaceCaptureState,
    FileShape,
    LikenessShape,
    PortraitShape,
)
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid, NotFound
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import display_names, get_cardholder
from cadrin.people.scoping import only_seen
from cadrin.photos.reading import MOST_BYTES
from cadrin.sites.queries import face_readers_at_desks

BIOMETRICS = Permission.BIOMETRICS


def _state(actor: Actor, capture: Capture) -> dict[str, Any]:
    best = face_taken(capture)
    found = search_all_faces(best, besides=capture.holder_id) if best else []
    return {
        "token": capture.token,
        "least_quality": capture.least_quality,
        "quality": best.quality if best else None,
        "pictures": [
            {
                "quality": press["quality"],
                "advice": press["advice"],
                "problem": press["problem"] and press["problem"] | {"field": None},
            }
            for press in capture.presses
        ],
        "has_picture": bool(capture.sealed_picture),
        "whose": _whose(actor, found),
    }


def _whose(actor: Actor, found: list[FoundFace]) -> list[dict[str, Any]]:
    seen = only_seen(actor, (item.holder_id for item in found))
    names = display_names(seen)
    return [
        {
            "holder_id": item.holder_id if item.holder_id in seen else None,
            "holder_name": names.get(item.holder_id, ""),
        }
        for item in found
    ]


class FaceCaptures(HouseView):
    """Begin to take a face. Whoever waited at that reader before waits no more."""

    needs: ClassVar = {"POST": BIOMETRICS}

    @extend_schema(request=FaceCaptureShape, responses={201: FaceCaptureState})
    def post(self, request: Request) -> Response:
        given, actor = self.given(FaceCaptureShape, request), self.actor()
        if given["cardholder"] is not None:
            get_cardholder(actor, given["cardholder"])
        if given["reader"] is not None and given["reader"] not in face_readers_at_desks(actor):
            raise NotFound.of("reader.not_found")
        token = begin_face_capture(actor, given["reader"], given["cardholder"], timezone.now())
        return Response(
            _state(actor, get_capture(actor, token, Factor.FACE)), status.HTTP_201_CREATED
        )


class OneFaceCapture(HouseView):
    """How far a face is that one takes oneself."""

    needs: ClassVar = {"GET": BIOMETRICS, "DELETE": BIOMETRICS}

    @extend_schema(responses=FaceCaptureState)
    def get(self, request: Request, token: str) -> Response:
        return Response(_state(self.actor(), get_capture(self.actor(), token, Factor.FACE)))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, token: str) -> Response:
        drop_capture(self.actor(), token)
        return Response(status=status.HTTP_204_NO_CONTENT)


class FaceCapturePicture(HouseView):
    """The latest picture of a face that one takes oneself; it is kept no longer than that."""

    needs: ClassVar = {"GET": BIOMETRICS}

    @extend_schema(responses={(200, "image/png"): bytes})
    def get(self, request: Request, token: str) -> HttpResponse:
        picture = picture_in(get_capture(self.actor(), token, Factor.FACE))
        if not picture:
            raise NotFound.of("finger.no_picture")
        return HttpResponse(picture, content_type="image/png")


class FaceCaptureFiles(HouseView):
    """Take a face from a picture: of the camera, or a file."""

    needs: ClassVar = {"POST": BIOMETRICS}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileShape}, responses=FaceCaptureState)
    def post(self, request: Request, token: str) -> Response:
        capture = get_capture(self.actor(), token, Factor.FACE)
        sent = request.FILES.get("file")
        if sent is None:
            raise Invalid.of("input.required", "file")
        if sent.size > MOST_BYTES:
            raise Invalid.of("photo.too_large", "file", most=MOST_BYTES // 2**20)
        take_picture(capture, sent.read())
        return Response(_state(self.actor(), capture))


class FaceCapturePortrait(HouseView):
    """Take a face from an image that is there already, such as the portrait."""

    needs: ClassVar = {"POST": BIOMETRICS}

    @extend_schema(request=PortraitShape, responses=FaceCaptureState)
    def post(self, request: Request, token: str) -> Response:
        capture = get_capture(self.actor(), token, Factor.FACE)
        take_portrait(self.actor(), capture, self.given(PortraitShape, request)["image"])
        return Response(_state(self.actor(), capture))


class FaceLikeness(HouseView):
    """Whether an image still looks like a cardholder's faces."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PortraitShape], responses=LikenessShape)
    def get(self, request: Request, id: int) -> Response:
        get_cardholder(self.actor(), id)
        image = self.given(PortraitShape, request)["image"]
        return Response({"is_alike": is_like_portrait(self.actor(), id, image)})

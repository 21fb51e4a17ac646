from typing import Any, ClassVar

from django.http import FileResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.face.portrait import Box, Finding
from cadrin.core.errors import Invalid, NotFound
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.photos.commands import crop_image, get_image, take_image
from cadrin.photos.files import SIZES, path_of
from cadrin.photos.models import Image
from cadrin.photos.reading import MOST_BYTES


class ImageToTake(Shape):
    image = serializers.FileField()


class CropShape(Shape):
    """A part of the original, in its pixels."""

    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    height = serializers.FloatField()


class FoundShape(Shape):
    finding = serializers.ChoiceField(choices=[f.value for f in Finding])
    figure = serializers.FloatField()


class ImageShape(Shape):
    """An image: the size of the original, the part of it that is kept, and what was found."""

    token = serializers.CharField()
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    crop = CropShape()
    findings = FoundShape(many=True)


def _shown(image: Image) -> dict[str, Any]:
    return {
        "token": image.token,
        "width": image.width,
        "height": image.height,
        "crop": Box(*image.crop)._asdict(),
        "findings": [{"finding": finding, "figure": figure} for finding, figure in image.findings],
    }


class Images(HouseView):
    """Take an image from a file, a camera or the clipboard. It belongs to nobody until a file is
    saved with it.
    """

    needs: ClassVar = {"POST": Permission.EDIT}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": ImageToTake}, responses={201: ImageShape})
    def post(self, request: Request) -> Response:
        sent = request.FILES.get("image")
        if sent is None:
            raise Invalid.of("input.required", "image")
        if sent.size > MOST_BYTES:
            raise Invalid.of("photo.too_large", "image", most=MOST_BYTES // 2**20)
        return Response(
            _shown(take_image(self.actor(), sent.read(), timezone.now())), status.HTTP_201_CREATED
        )


class OneImage(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ImageShape)
    def get(self, request: Request, token: str) -> Response:
        image = get_image(self.actor(), token)
        if not path_of(token, "page").exists():
            raise NotFound.of("photo.file_gone")
        return Response(_shown(image))


class ImageCrop(HouseView):
    """Another crop of the same original, as another image."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=CropShape, responses={201: ImageShape})
    def post(self, request: Request, token: str) -> Response:
        crop = Box(**self.given(CropShape, request))
        return Response(
            _shown(crop_image(self.actor(), token, crop, timezone.now())), status.HTTP_201_CREATED
        )


class ImageFile(HouseView):
    """The picture itself, in a size. It never changes, and no browser keeps it: somebody may be
    erased.
    """

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses={(200, "image/jpeg"): bytes})
    def get(self, request: Request, token: str, size: str) -> HttpResponseBase:
        get_image(self.actor(), token)
        path = path_of(token, size)
        if size not in (*SIZES, "original") or not path.exists():
            raise NotFound.of("photo.not_found")
        return FileResponse(path.open("rb"), content_type="image/jpeg")

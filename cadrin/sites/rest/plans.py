"""The plan of a site over HTTP."""

from typing import ClassVar

from django.http import HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField, rows_of
from cadrin.photos.reading import MOST_BYTES
from cadrin.sites.commands.plans import (
    Drawn,
    Place,
    draw_plan,
    remove_plan_picture,
    set_plan_picture,
)
from cadrin.sites.plans import picture_of_plan, plan_of_site

MOST_DOORS = 5000
SEE, SET_UP = Permission.SEE, Permission.SET_UP


class PlaceShape(Shape):
    """Where a door is, in thousandths from the left and from the top."""

    door_id = WholeField()
    x = WholeField()
    y = WholeField()


class DrawnArea(Shape):
    """An area drawn as a rectangle: its upper left corner and its size, in thousandths."""

    area_id = WholeField()
    x = WholeField()
    y = WholeField()
    width = WholeField()
    height = WholeField()


class PlanOut(Shape):
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    has_picture = serializers.BooleanField()
    version = serializers.IntegerField()
    places = PlaceShape(many=True)
    areas = DrawnArea(many=True)


class PlacesIn(Shape):
    version = WholeField()
    places = rows_of(PlaceShape, MOST_DOORS)
    areas = rows_of(DrawnArea, MOST_DOORS, default=list)


class PictureOfPlan(Shape):
    image = serializers.FileField()


class SitePlanView(HouseView):
    needs: ClassVar = {"GET": SEE, "PUT": SET_UP}

    @extend_schema(responses=PlanOut)
    def get(self, request: Request, id: int) -> Response:
        return Response(plan_of_site(self.actor(), id))

    @extend_schema(request=PlacesIn, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        given = self.given(PlacesIn, request)
        doors = [Place(**row) for row in given["places"]]
        areas = [Drawn(**row) for row in given["areas"]]
        draw_plan(self.actor(), id, doors, areas, given["version"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class PlanPicture(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": SET_UP, "DELETE": SET_UP}
    parser_classes = [MultiPartParser, JSONParser]

    @extend_schema(responses={(200, "image/jpeg"): bytes})
    def get(self, request: Request, id: int) -> HttpResponseBase:
        return HttpResponse(picture_of_plan(self.actor(), id), content_type="image/jpeg")

    @extend_schema(request={"multipart/form-data": PictureOfPlan}, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        sent = request.FILES.get("image")
        if sent is None:
            raise Invalid.of("input.required", "image")
        if sent.size > MOST_BYTES:
            raise Invalid.of("photo.too_large", "image", most=MOST_BYTES // 2**20)
        set_plan_picture(self.actor(), id, sent.read(), timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_plan_picture(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

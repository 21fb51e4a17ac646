from typing import ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import NotFound
from cadrin.demo.samples import SAMPLES
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.sites.queries import site_day


class SampleShape(Shape):
    """A file to try."""

    name = serializers.CharField()
    about = serializers.CharField()


class IntakeSamples(HouseView):
    """Lists to try bringing in."""

    needs: ClassVar = {"GET": Permission.ENROL}

    @extend_schema(responses=SampleShape(many=True))
    def get(self, request: Request) -> Response:
        return Response([{"name": sample.name, "about": sample.about} for sample in SAMPLES])


class OneIntakeSample(HouseView):
    needs: ClassVar = {"GET": Permission.ENROL}

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, name: str) -> HttpResponse:
        sample = next((sample for sample in SAMPLES if sample.name == name), None)
        if sample is None:
            raise NotFound.of("intake.not_found")
        made = sample.make(site_day(timezone.now()))
        answer = HttpResponse(made, content_type="application/octet-stream")
        answer["Content-Disposition"] = f'attachment; filename="{sample.name}"'
        return answer

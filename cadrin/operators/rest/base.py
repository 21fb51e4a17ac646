"""What every view of the house has in common."""

from collections.abc import Mapping
from typing import Any, ClassVar

from django.conf import settings
from django.http import HttpRequest
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.permissions import Permission

LARGEST_WHOLE = 2**62
"""Larger than any number of the trade, and still one that the database can hold."""


class Shape(serializers.Serializer[Any]):
    """The shape of something that comes in or goes out."""


class WholeField(serializers.IntegerField):
    """A whole number that the database can hold."""

    def __init__(self, **more: Any) -> None:
        super().__init__(**{"min_value": -LARGEST_WHOLE, "max_value": LARGEST_WHOLE, **more})


class ProblemShape(Shape):
    """One thing that is wrong; the screen has words for its code."""

    code = serializers.CharField()
    field = serializers.CharField(allow_null=True)
    params = serializers.DictField()


class ProblemDetails(Shape):
    """Every refusal (RFC 9457): each problem with its code, its field and parameters; words are the screen's."""

    ONLY_WHEN_STALE = ("current_version", "since")

    type = serializers.CharField()
    title = serializers.CharField()
    status = serializers.IntegerField()
    problems = ProblemShape(many=True)
    current_version = serializers.IntegerField()
    since = serializers.ListField(child=serializers.JSONField())


def address_of(request: HttpRequest) -> str:
    """Give the address a request comes from: the last that a proxy in front names, if there is one."""
    told = request.META.get("HTTP_X_FORWARDED_FOR", "") if settings.BEHIND_A_PROXY else ""
    return (told.rpartition(",")[2].strip() or request.META.get("REMOTE_ADDR", ""))[:60]


class HouseView(APIView):
    """``needs`` names the permission for each method; one that is not named is for nobody."""

    needs: ClassVar[Mapping[str, Permission]] = {}

    def actor(self) -> Actor:
        return actor_of(self.request.user, address_of(self.request._request))

    def given(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read the body, or the query of a GET. Raises what the one error handler answers with 422."""
        reader = shape(data=request.query_params if request.method == "GET" else request.data)
        reader.is_valid(raise_exception=True)
        values: dict[str, Any] = reader.validated_data
        return values

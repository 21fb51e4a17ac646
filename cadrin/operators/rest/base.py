"""What every view of the house has in common."""

from collections.abc import Mapping
from typing import Any, ClassVar

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


class HouseView(APIView):
    """``needs`` names the permission for each method; one that is not named is for nobody."""

    needs: ClassVar[Mapping[str, Permission]] = {}

    def actor(self) -> Actor:
        return actor_of(self.request.user)

    def given(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read the body, or the query of a GET. Raises what the one error handler answers with 422."""
        reader = shape(data=request.query_params if request.method == "GET" else request.data)
        reader.is_valid(raise_exception=True)
        values: dict[str, Any] = reader.validated_data
        return values

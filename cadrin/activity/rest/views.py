from typing import Any, ClassVar

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity.queries import ReadFilters, news
from cadrin.activity.queries import reads as reads_found
from cadrin.activity.rest.shapes import (
    NewsQuery,
    ReadShape,
    ReadsQuery,
)
from cadrin.core.decision.reasons import Reason
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView

SEE = Permission.SEE


def shown_read(row: dict[str, Any]) -> dict[str, Any]:
    return row | {"reason": row["reason"] or None, "happening": row["happening"] or None}


class Reads(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[ReadsQuery], responses=ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(ReadsQuery, request)
        filters = ReadFilters(
            asked["door"],
            asked["cardholder"],
            Reason(asked["reason"]) if asked["reason"] else None,
            asked["denied"],
            asked["flagged"],
            None,
            asked["department"],
            asked["since"],
            asked["until"],
        )
        found = reads_found(self.actor(), filters, before=asked["before"], most=asked["most"])
        return Response([shown_read(row) for row in found])


class News(HouseView):
    """The reads after one, oldest first; held open until there is one, at most for the seconds
    asked for.
    """

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[NewsQuery], responses=ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(NewsQuery, request)
        return Response(
            [shown_read(row) for row in news(self.actor(), asked["after"], asked["wait_seconds"])]
        )

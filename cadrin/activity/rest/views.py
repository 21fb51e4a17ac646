from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.activity import bench, queries
from cadrin.activity.rest import shapes
from cadrin.cards.queries import raw_of
from cadrin.core.access.plan import CardKey
from cadrin.core.access.rights import Reason
from cadrin.journal.queries import history_of
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.commands.cardholders import CARDHOLDER

SEE, BENCH = Permission.SEE, Permission.BENCH


def _read(row: dict[str, Any]) -> dict[str, Any]:
    return row | {"reason": row["reason"] or None}


class Reads(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.ReadsQuery], responses=shapes.ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(shapes.ReadsQuery, request)
        filters = queries.ReadFilters(
            asked["door"],
            asked["cardholder"],
            Reason(asked["reason"]) if asked["reason"] else None,
            asked["denied"],
        )
        return Response([_read(row) for row in queries.reads(filters, before=asked["before"])])


class OneRead(HouseView):
    """A read explained: the steps to its verdict, the mend, and how it would go now."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.ExplanationShape)
    def get(self, request: Request, id: int) -> Response:
        found = queries.explanation(id, timezone.now())
        steps = [step._asdict() for step in found.steps]
        return Response(found._asdict() | {"read": _read(found.read), "steps": steps})


class News(HouseView):
    """The reads after one, oldest first; held open until there is one, at most for the seconds asked for."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.NewsQuery], responses=shapes.ReadShape(many=True))
    def get(self, request: Request) -> Response:
        asked = self.given(shapes.NewsQuery, request)
        return Response([_read(row) for row in queries.news(asked["after"], asked["wait_seconds"])])


class Desk(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.DeskShape)
    def get(self, request: Request) -> Response:
        found = queries.desk(timezone.now())
        return Response({name: work._asdict() for name, work in found._asdict().items()})


class Waiting(HouseView):
    """The counts that stand beside the sections."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.CountsBySection)
    def get(self, request: Request) -> Response:
        return Response(queries.waiting_counts(timezone.now()))


class CardholderHistory(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.History)
    def get(self, request: Request, id: int) -> Response:
        reads = queries.reads(queries.ReadFilters(cardholder_id=id), most=30)
        return Response({"acts": history_of(CARDHOLDER, id), "reads": [_read(row) for row in reads]})


class TestBench(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.Bench)
    def get(self, request: Request) -> Response:
        return Response(bench.ask("GET", ""))


class BenchReads(HouseView):
    needs: ClassVar = {"POST": BENCH}

    @extend_schema(request=shapes.CardToShow, responses=shapes.Shown)
    def post(self, request: Request) -> Response:
        asked = self.given(shapes.CardToShow, request)
        raw = asked["raw"] or raw_of(
            CardKey(asked["format"] or 0, asked["facility_code"] or 0, asked["card_number"] or 0)
        )
        shown = bench.ask("POST", "/reads", {"reader": asked["reader"], "raw": str(raw)})
        return Response({"is_on": shown["is_on"], "reason": shown.get("reason"), "name": shown.get("name", "")})


class BenchSwitch(HouseView):
    needs: ClassVar = {"PATCH": BENCH}

    @extend_schema(request=shapes.Switch, responses=shapes.BenchController)
    def patch(self, request: Request, id: int) -> Response:
        return Response(bench.ask("PATCH", f"/controllers/{id}", self.given(shapes.Switch, request)))


class BenchStore(HouseView):
    """Empty a stand-in controller, as a factory reset would."""

    needs: ClassVar = {"DELETE": BENCH}

    @extend_schema(request=None, responses=shapes.BenchController)
    def delete(self, request: Request, id: int) -> Response:
        return Response(bench.ask("DELETE", f"/controllers/{id}/store"))

from dataclasses import asdict
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.rest.shapes import group_draft
from cadrin.core.access.reach import DoorReach
from cadrin.core.errors import Problem
from cadrin.core.validity import Span
from cadrin.credentials.rest.shapes import identity_of
from cadrin.delivery import queries
from cadrin.delivery.commands import check_controller, keep_clock, set_clock
from cadrin.delivery.controllers import controllers
from cadrin.delivery.preview import (
    CardholderPreview,
    GroupPreview,
    preview_cardholder,
    preview_group,
)
from cadrin.delivery.rest import shapes
from cadrin.enrolment.rest.shapes import cardholder_draft
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.sites.queries import get_controller

SEE = Permission.SEE


def _problem(problem: Problem) -> dict[str, Any]:
    return {"code": problem.code, "field": problem.field, "params": dict(problem.params)}


def _span(span: Span) -> dict[str, Any]:
    return {"start": span.start, "end": span.end}


def _door(reach: DoorReach) -> dict[str, Any]:
    return {
        "door": reach.door_id,
        "is_open": reach.is_open,
        "reason": reach.reason,
        "group": reach.group_id,
        "changes_at": reach.changes_at,
        "open_spans": [_span(span) for span in reach.open_spans],
        "reason_out": reach.reason_out,
        "open_spans_out": [_span(span) for span in reach.open_spans_out],
    }


def _sent(found: CardholderPreview | GroupPreview) -> list[dict[str, Any]]:
    rows = [
        item._asdict() | {"left_out": [identity_of(key) for key in item.left_out]}
        for item in found.to_send
    ]
    return [{"controller": row.pop("controller_id"), **row} for row in rows]


class PreviewCardholder(HouseView):
    """The consequences of a draft. Nothing is saved."""

    needs: ClassVar = {"POST": SEE}

    @extend_schema(request=shapes.DraftToPreview, responses=shapes.CardholderPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(shapes.DraftToPreview, request)
        cardholder_id, as_of = given.pop("id"), given.pop("as_of") or timezone.now()
        found = preview_cardholder(
            self.actor(),
            cardholder_id,
            cardholder_draft(given, self.actor()),
            timezone.now(),
            as_of,
        )
        return Response(
            {
                "problems": [_problem(problem) for problem in found.problems],
                "gained": found.difference.gained,
                "lost": found.difference.lost,
                "other_hours": found.difference.other_hours,
                "to_send": _sent(found),
                "state": found.condition.state,
                "state_until": found.condition.until,
                "expired_at": found.expired_at,
                "readiness": [asdict(item) for item in found.readiness],
                "as_of": as_of,
                "week": _span(found.week),
                "possible_duplicates": found.possible_duplicates,
                "reach": [_door(each) for each in found.reach],
                "ways_out": asdict(found.difference_out),
            }
        )


class PreviewGroup(HouseView):
    """The consequences of a draft of an access group. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.GROUPS}

    @extend_schema(request=shapes.GroupToPreview, responses=shapes.GroupPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(shapes.GroupToPreview, request)
        found = preview_group(given.pop("id"), group_draft(given))
        return Response(
            {
                "problems": [_problem(problem) for problem in found.problems],
                "gained": found.gained,
                "lost": found.lost,
                "other_hours": found.other_hours,
                "to_send": _sent(found),
                "people": found.people,
            }
        )


class CardholderRecords(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.DeliveryOfCardholder)
    def get(self, request: Request, id: int) -> Response:
        found = queries.delivery_of(self.actor(), id, timezone.now())
        for record in found["records"]:
            record["left_out"] = [identity_of(key) for key in record["left_out"]]
        return Response(found)


class Controllers(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.ControllerShape(many=True))
    def get(self, request: Request) -> Response:
        return Response(controllers(self.actor(), timezone.now()))


class ControllerRecords(HouseView):
    """The records a controller does not hold as it should."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.RecordShape(many=True))
    def get(self, request: Request, id: int) -> Response:
        get_controller(self.actor(), id)
        return Response(queries.records_not_held(self.actor(), id))


class ControllerClock(HouseView):
    """Set a controller's clock right now, or keep it so."""

    needs: ClassVar = {"POST": Permission.DELIVER, "PUT": Permission.DELIVER}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        set_clock(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=shapes.ClockShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        is_kept = self.given(shapes.ClockShape, request)["is_kept"]
        keep_clock(self.actor(), id, is_kept, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ControllerCheck(HouseView):
    needs: ClassVar = {"POST": Permission.DELIVER}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        check_controller(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

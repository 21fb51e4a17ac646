from dataclasses import asdict
from typing import Any, ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.rest.shapes import group_draft
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.access.reach import DoorReach
from cadrin.core.errors import Problem
from cadrin.core.validity import Span
from cadrin.credentials.rest.shapes import identity_of
from cadrin.delivery import queries
from cadrin.delivery.commands import check_controller, keep_clock, set_clock, set_sending
from cadrin.delivery.controllers import controllers
from cadrin.delivery.door_camera import seen_at_door
from cadrin.delivery.preview import (
    CardholderPreview,
    GroupPreview,
    preview_cardholder,
    preview_group,
)
from cadrin.delivery.rest import shapes
from cadrin.enrolment.rest.shapes import cardholder_draft
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.scoping import only_seen
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


def _sent(actor: Actor, found: CardholderPreview | GroupPreview) -> list[dict[str, Any]]:
    seen = only_seen(actor, (item.in_place_of for item in found.to_send if item.in_place_of))
    names = names_of("cardholder", seen)
    rows = [
        item._asdict()
        | {
            "left_out": [identity_of(key) for key in item.left_out],
            "lets_somebody_go": item.in_place_of is not None,
            "in_place_of": names.get(item.in_place_of or 0, ""),
        }
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
                "to_send": _sent(self.actor(), found),
                "state": found.condition.state,
                "state_until": found.condition.until,
                "expired_at": found.expired_at,
                "readiness": [asdict(item) for item in found.readiness],
                "as_of": as_of,
                "week": _span(found.week),
                "possible_duplicates": found.possible_duplicates,
                "reach": [_door(each) for each in found.reach],
                "ways_out": asdict(found.difference_out),
                "meetings": [
                    {"one": met.one, "other": met.other, "doors": met.door_ids}
                    for met in found.meetings
                ],
            }
        )


class PreviewGroup(HouseView):
    """The consequences of a draft of an access group. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.GROUPS}

    @extend_schema(request=shapes.GroupToPreview, responses=shapes.GroupPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(shapes.GroupToPreview, request)
        found = preview_group(given.pop("id"), group_draft(given))
        hidden = group_ids_hidden(self.actor())
        return Response(
            {
                "problems": [_problem(problem) for problem in found.problems],
                "gained": found.gained,
                "lost": found.lost,
                "other_hours": found.other_hours,
                "to_send": _sent(self.actor(), found),
                "people": found.people,
                "joining": found.joining,
                "leaving": found.leaving,
                "same_as": [id_ for id_ in found.same_as if id_ not in hidden],
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


class ControllerSending(HouseView):
    needs: ClassVar = {"PUT": Permission.DELIVER}

    @extend_schema(request=shapes.SendingShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        given = self.given(shapes.SendingShape, request)
        set_sending(
            self.actor(),
            id,
            is_paused=given["is_paused"],
            schedule_id=given["schedule"],
            at=timezone.now(),
        )
        return Response(status=status.HTTP_204_NO_CONTENT)


class ControllerCheck(HouseView):
    needs: ClassVar = {"POST": Permission.DELIVER}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        check_controller(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class SeenAtDoor(HouseView):
    """What the camera at a door sees of whoever asks there to be let in; it is kept nowhere."""

    needs: ClassVar = {"GET": Permission.DOORS}

    @extend_schema(responses={(200, "image/jpeg"): bytes})
    def get(self, request: Request, id: int) -> HttpResponse:
        picture = seen_at_door(self.actor(), id)
        return HttpResponse(
            picture, content_type="image/jpeg", headers={"Cache-Control": "no-store"}
        )

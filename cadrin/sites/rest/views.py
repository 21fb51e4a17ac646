from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved
from cadrin.sites.commands.schedules import remove_schedule, save_schedule
from cadrin.sites.hours import schedules
from cadrin.sites.queries import coming
from cadrin.sites.rest.shapes import ComingShape, Schedule, ScheduleShape, schedule_draft


class ComingInstants(HouseView):
    """When the site's day ends, and its next morning: what "only today" and "left at home" mean."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ComingShape)
    def get(self, request: Request) -> Response:
        return Response(coming(timezone.now())._asdict())


class Schedules(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.GROUPS}

    @extend_schema(responses=Schedule(many=True))
    def get(self, request: Request) -> Response:
        return Response(schedules())

    @extend_schema(request=ScheduleShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = schedule_draft(self.given(ScheduleShape, request))
        return Response(
            {"id": save_schedule(self.actor(), None, draft, timezone.now())},
            status.HTTP_201_CREATED,
        )


class OneSchedule(HouseView):
    needs: ClassVar = {"PUT": Permission.GROUPS, "DELETE": Permission.GROUPS}

    @extend_schema(request=ScheduleShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = schedule_draft(self.given(ScheduleShape, request))
        return Response({"id": save_schedule(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_schedule(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

"""Schedules, for scripts."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.base import ApiView, PageQuery, one_of, with_version
from cadrin.api.idempotency import once
from cadrin.api.pages import page_of
from cadrin.api.shapes import only_shown
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told
from cadrin.sites.commands.schedules import remove_schedule, save_schedule
from cadrin.sites.hours import schedules
from cadrin.sites.rest.fields import MOST_KINDS, HolidayHours, hours_field
from cadrin.sites.rest.shapes import schedule_draft

TAG = "Access"
NOT_FOUND = "schedule.not_found"


class ScheduleShape(Shape):
    """Windows of a week."""

    id = serializers.IntegerField(**only_shown("Its id.", 2))
    version = WholeField(allow_null=True, default=None, **told("Moves with each change.", 1))
    name = serializers.CharField(max_length=60, **told("Its name; unique.", "Office hours"))
    zone = serializers.CharField(
        max_length=60, **told("The time zone (IANA) of its hours.", "Europe/London")
    )
    hours = hours_field(
        **told("Weekday from Monday 0, start and end in minutes of that day.", [[0, 480, 1080]])
    )
    calendar_id = WholeField(
        allow_null=True,
        default=None,
        **told("Id of the calendar of holidays that it follows.", None),
    )
    holiday_hours = rows_of(
        HolidayHours,
        MOST_KINDS,
        default=list,
        **told("Kinds of holiday on which other hours hold; one not named is as the week."),
    )
    group_count = serializers.IntegerField(**only_shown("How many access groups use it.", 2))


class Schedules(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.GROUPS}

    @extend_schema(parameters=[PageQuery], responses=page_of(ScheduleShape))
    def get(self, request: Request) -> Response:
        """List schedules."""
        return self.page_of(schedules(), self.asked(PageQuery, request))

    @extend_schema(request=ScheduleShape, responses={201: ScheduleShape})
    @once
    def post(self, request: Request) -> Response:
        """Make a schedule."""
        values = self.new(ScheduleShape, request) | {"version": 0}
        id_ = save_schedule(self.actor(), None, schedule_draft(values), timezone.now())
        row = one_of(schedules(), id_, NOT_FOUND)
        return with_version(row, status.HTTP_201_CREATED, f"schedules/{id_}")


class OneSchedule(ApiView):
    tag = TAG
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PUT": Permission.GROUPS,
        "PATCH": Permission.GROUPS,
        "DELETE": Permission.GROUPS,
    }

    @extend_schema(responses=ScheduleShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a schedule."""
        return with_version(one_of(schedules(), id, NOT_FOUND))

    @extend_schema(request=ScheduleShape, responses=ScheduleShape)
    def put(self, request: Request, id: int) -> Response:
        """Save a whole schedule."""
        return self._saved(id, self.whole(ScheduleShape, request))

    @extend_schema(request=ScheduleShape, responses=ScheduleShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of a schedule."""
        now = one_of(schedules(), id, NOT_FOUND)
        return self._saved(id, self.patched(ScheduleShape, now, request))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        """Remove a schedule that no access group uses."""
        remove_schedule(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    def _saved(self, id_: int, values: dict[str, Any]) -> Response:
        save_schedule(self.actor(), id_, schedule_draft(values), timezone.now())
        return with_version(one_of(schedules(), id_, NOT_FOUND))

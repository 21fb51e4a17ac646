"""What a schedule or a calendar of holidays would change, over HTTP. Nothing is saved."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.hours_preview import HoursPreview, preview_calendar, preview_schedule
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.sites.rest.holidays import CalendarShape, calendar_draft
from cadrin.sites.rest.shapes import ScheduleShape, schedule_draft

MOST_DAYS = 12


class DayDifferenceShape(Shape):
    day = serializers.DateField()
    gained_minutes = serializers.IntegerField()
    lost_minutes = serializers.IntegerField()


class HoursOfScheduleShape(Shape):
    """The first days on which its hours differ, and on how many of the coming year they do."""

    schedule = serializers.IntegerField()
    days = DayDifferenceShape(many=True)
    day_count = serializers.IntegerField()
    gained_minutes = serializers.IntegerField()
    lost_minutes = serializers.IntegerField()


class HoursPreviewShape(Shape):
    schedules = HoursOfScheduleShape(many=True)
    groups = serializers.ListField(child=serializers.CharField())
    doors = serializers.IntegerField()
    people = serializers.IntegerField()
    places = serializers.ListField(child=serializers.CharField())


def _shown(found: HoursPreview) -> dict[str, Any]:
    return found._asdict() | {
        "schedules": [
            {
                "schedule": one.schedule_id,
                "days": [day._asdict() for day in one.days[:MOST_DAYS]],
                "day_count": len(one.days),
                "gained_minutes": sum(day.gained_minutes for day in one.days),
                "lost_minutes": sum(day.lost_minutes for day in one.days),
            }
            for one in found.schedules
        ]
    }


class PreviewSchedule(HouseView):
    needs: ClassVar = {"POST": Permission.GROUPS}

    @extend_schema(request=ScheduleShape, responses=HoursPreviewShape)
    def post(self, request: Request, id: int) -> Response:
        draft = schedule_draft(self.given(ScheduleShape, request))
        return Response(_shown(preview_schedule(id, draft, timezone.now())))


class PreviewCalendar(HouseView):
    needs: ClassVar = {"POST": Permission.GROUPS}

    @extend_schema(request=CalendarShape, responses=HoursPreviewShape)
    def post(self, request: Request, id: int) -> Response:
        draft = calendar_draft(self.given(CalendarShape, request))
        holidays = tuple(day.as_core() for day in draft.days)
        return Response(_shown(preview_calendar(id, holidays, timezone.now())))

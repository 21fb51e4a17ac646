"""Calendars of holidays and their kinds, over HTTP; public holidays proposed, and iCalendar files."""

from typing import Any, ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.core.holidays import MINUTES_A_DAY, MOST_HOLIDAYS
from cadrin.core.icalendar_days import LARGEST_BYTES, read_days
from cadrin.core.public_holidays import countries, public_holidays
from cadrin.core.schedules import zone_named
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, ProblemShape, Saved, Shape, WholeField, rows_of
from cadrin.sites.calendar_files import calendar_file
from cadrin.sites.commands.holidays import (
    CalendarDraft,
    DayDraft,
    KindDraft,
    remove_calendar,
    remove_kind,
    save_calendar,
    save_kind,
)
from cadrin.sites.hours import calendars, holiday_kinds
from cadrin.sites.queries import home_site
from cadrin.sites.rest.fields import text

GROUPS = Permission.GROUPS


class DayShape(Shape):
    """Days from the first through the last, each from one minute up to another."""

    name = text(max_length=200)
    kind_id = WholeField()
    first = serializers.DateField()
    last = serializers.DateField()
    is_yearly = serializers.BooleanField()
    start_minute = WholeField(min_value=0, max_value=MINUTES_A_DAY)
    end_minute = WholeField(min_value=0, max_value=MINUTES_A_DAY)


class CalendarShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = text(max_length=200)
    site_id = WholeField()
    days = rows_of(DayShape, MOST_HOLIDAYS)


class KindShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = text(max_length=200)


class Kind(KindShape):
    id = serializers.IntegerField()


class HolidayCalendarShape(CalendarShape):
    id = serializers.IntegerField()
    schedule_count = serializers.IntegerField()


class HolidaysShape(Shape):
    calendars = HolidayCalendarShape(many=True)
    kinds = Kind(many=True)


class Country(Shape):
    code = serializers.CharField()
    subdivisions = serializers.ListField(child=serializers.CharField())


class PublicAsked(Shape):
    country = serializers.CharField(max_length=10)
    subdivision = serializers.CharField(max_length=20, allow_blank=True, default="")
    first_year = serializers.IntegerField(min_value=1950, max_value=2150)
    last_year = serializers.IntegerField(min_value=1950, max_value=2150)


class FoundDay(Shape):
    """A holiday without its kind, which neither a rule nor a file says."""

    name = serializers.CharField()
    first = serializers.DateField()
    last = serializers.DateField()
    is_yearly = serializers.BooleanField()
    start_minute = serializers.IntegerField()
    end_minute = serializers.IntegerField()


class FoundDays(Shape):
    days = FoundDay(many=True)
    problems = ProblemShape(many=True)


class CalendarFileShape(Shape):
    file = serializers.FileField(max_length=200)


def calendar_draft(given: dict[str, Any]) -> CalendarDraft:
    days = tuple(DayDraft(**day) for day in given["days"])
    return CalendarDraft(given["name"], given["site_id"], days, given["version"])


class Holidays(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "POST": GROUPS}

    @extend_schema(responses=HolidaysShape)
    def get(self, request: Request) -> Response:
        return Response({"calendars": calendars(), "kinds": holiday_kinds()})

    @extend_schema(request=CalendarShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = calendar_draft(self.given(CalendarShape, request))
        id_ = save_calendar(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneCalendar(HouseView):
    needs: ClassVar = {"PUT": GROUPS, "DELETE": GROUPS}

    @extend_schema(request=CalendarShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = calendar_draft(self.given(CalendarShape, request))
        return Response({"id": save_calendar(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_calendar(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class CalendarFile(HouseView):
    """A calendar as an iCalendar file (RFC 5545)."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: int) -> HttpResponse:
        data = calendar_file(id, timezone.now())
        return HttpResponse(
            data,
            content_type="text/calendar; charset=utf-8",
            headers={"Content-Disposition": 'attachment; filename="holidays.ics"'},
        )


class HolidayKinds(HouseView):
    needs: ClassVar = {"POST": GROUPS}

    @extend_schema(request=KindShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = KindDraft(**self.given(KindShape, request))
        id_ = save_kind(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneHolidayKind(HouseView):
    needs: ClassVar = {"PUT": GROUPS, "DELETE": GROUPS}

    @extend_schema(request=KindShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = KindDraft(**self.given(KindShape, request))
        return Response({"id": save_kind(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_kind(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Countries(HouseView):
    """Countries whose public holidays are known by rule."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=Country(many=True))
    def get(self, request: Request) -> Response:
        found = countries()
        return Response([{"code": code, "subdivisions": parts} for code, parts in found.items()])


class PublicHolidays(HouseView):
    """The public holidays of a country, or of a part of it, for some years."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PublicAsked], responses=FoundDays)
    def get(self, request: Request) -> Response:
        asked, actor = self.given(PublicAsked, request), self.actor()
        years = range(asked["first_year"], asked["last_year"] + 1)
        found = public_holidays(asked["country"], asked["subdivision"], years, actor.language)
        days = [
            {
                "name": day.name,
                "first": day.on,
                "last": day.on,
                "is_yearly": False,
                "start_minute": 0,
                "end_minute": MINUTES_A_DAY,
            }
            for day in found
        ]
        return Response({"days": days, "problems": []})


class FileOfHolidays(HouseView):
    """The days of an iCalendar file, to be looked at before anything is saved."""

    parser_classes = [MultiPartParser]
    needs: ClassVar = {"POST": GROUPS}

    @extend_schema(request={"multipart/form-data": CalendarFileShape}, responses=FoundDays)
    def post(self, request: Request) -> Response:
        file = self.given(CalendarFileShape, request)["file"]
        if file.size > LARGEST_BYTES:
            raise Invalid.of("calendar_file.too_large", "file", most=LARGEST_BYTES // 1_000_000)
        found = read_days(file.read(), zone_named(home_site()["zone"]))
        problems = [
            {"code": problem.code, "field": problem.field, "params": dict(problem.params)}
            for problem in found.problems
        ]
        return Response({"days": [day._asdict() for day in found.days], "problems": problems})

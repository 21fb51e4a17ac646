"""Questions over HTTP: the first lines for the screen, or every line as a file."""

from collections.abc import Sequence
from typing import ClassVar

from django.http import StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.questions.answers import (
    Answer,
    alone_in_a_group,
    at_a_door,
    compared,
    unused,
    way_of,
)
from cadrin.questions.export import as_csv
from cadrin.questions.rest.shapes import (
    AnswerShape,
    Asked,
    AtDoorQuery,
    CompareQuery,
    UnusedQuery,
    WayQuery,
)

MOST_SHOWN = 500
ANSWERS = {(200, "application/json"): AnswerShape, (200, "text/csv"): OpenApiTypes.STR}


class Question(HouseView):
    """What all questions share: who may ask, and how they are answered."""

    needs: ClassVar = {"GET": Permission.SEE}

    def answered(
        self, answers: Sequence[Answer] | None, *, is_file: bool, name: str
    ) -> HttpResponseBase:
        found = answers or ()
        if is_file:
            chunks = as_csv(self.actor(), found)
            file = StreamingHttpResponse(chunks, content_type="text/csv; charset=utf-8")
            file["Content-Disposition"] = f'attachment; filename="{name}.csv"'
            return file
        return Response(
            {
                "total": len(found),
                "has_way": answers is not None,
                "lines": [one._asdict() for one in found[:MOST_SHOWN]],
            }
        )


class AtDoor(Question):
    """Who may open a door at an instant, now if none is named."""

    @extend_schema(parameters=[AtDoorQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(AtDoorQuery, request)
        answers = at_a_door(self.actor(), asked["door"], asked["at"] or timezone.now())
        return self.answered(answers, is_file=asked["csv"], name="who-may-open")


class Unused(Question):
    """Who has groups for some doors, and was let in at none of them for so many days."""

    @extend_schema(parameters=[UnusedQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(UnusedQuery, request)
        told = [text.strip() for text in asked["doors"].split(",")]
        if not all(text.isdecimal() and len(text) < 19 for text in told):
            raise Invalid.of("input.invalid", "doors")
        answers = unused(self.actor(), map(int, told), asked["days"], timezone.now())
        return self.answered(answers, is_file=asked["csv"], name="unused")


class Alone(Question):
    """Who is the only one in an access group, and what they open by it alone."""

    @extend_schema(parameters=[Asked], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(Asked, request)
        answers = alone_in_a_group(self.actor())
        return self.answered(answers, is_file=asked["csv"], name="groups-of-one")


class Way(Question):
    """By which doors somebody could get from outside into an area."""

    @extend_schema(parameters=[WayQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(WayQuery, request)
        at = asked["at"] or timezone.now()
        answers = way_of(self.actor(), asked["cardholder"], asked["area"], at)
        return self.answered(answers, is_file=asked["csv"], name="way")


class Compare(Question):
    """Which doors two people do not have alike."""

    @extend_schema(parameters=[CompareQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(CompareQuery, request)
        at = asked["at"] or timezone.now()
        answers = compared(self.actor(), asked["one"], asked["other"], at)
        return self.answered(answers, is_file=asked["csv"], name="compared")

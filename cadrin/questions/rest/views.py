"""Questions over HTTP: the first lines for the screen, or every line as a file."""

from typing import ClassVar

from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved
from cadrin.operators.rest.sending import sending
from cadrin.questions.doors import at_a_door, into_an_area, way_of
from cadrin.questions.export import as_csv
from cadrin.questions.lines import Answered
from cadrin.questions.matrix import matrix
from cadrin.questions.reaches import at_two_instants, compared, of_a_group, of_a_person
from cadrin.questions.rest.shapes import (
    AnswerShape,
    AreaQuery,
    Asked,
    AtDoorQuery,
    CompareQuery,
    GroupQuery,
    InstantsQuery,
    MatrixQuery,
    MatrixShape,
    PersonQuery,
    SavedShape,
    SavingQuestion,
    UnusedQuery,
    WayQuery,
)
from cadrin.questions.saved import forget_question, save_question, saved_questions
from cadrin.questions.unused import alone_in_a_group, unused

MOST_SHOWN = 500
ANSWERS = {(200, "application/json"): AnswerShape, (200, "text/csv"): OpenApiTypes.STR}


class Question(HouseView):
    """What all questions share: who may ask, and how they are answered."""

    needs: ClassVar = {"GET": Permission.SEE}

    def answered(self, answered: Answered, *, is_file: bool, name: str) -> HttpResponseBase:
        if is_file:
            with sending(self.request) as on_its_way:
                chunks = as_csv(self.actor(), answered.lines)
                file = on_its_way.answer(chunks, "text/csv; charset=utf-8")
            file["Content-Disposition"] = f'attachment; filename="{name}.csv"'
            return file
        return Response(
            {
                "total": len(answered.lines) + answered.more,
                "has_way": answered.has_way,
                "as_now": sorted(answered.as_now),
                "lines": [one._asdict() for one in answered.lines[:MOST_SHOWN]],
            }
        )


class AtDoor(Question):
    """Who may open a door at an instant, now if none is named."""

    @extend_schema(parameters=[AtDoorQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(AtDoorQuery, request), timezone.now()
        most = None if asked["csv"] else MOST_SHOWN
        found = at_a_door(self.actor(), asked["door"], asked["at"] or now, now, most)
        return self.answered(found, is_file=asked["csv"], name="who-may-open")


class IntoArea(Question):
    """Who could come from outside into an area at an instant."""

    @extend_schema(parameters=[AreaQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(AreaQuery, request), timezone.now()
        found = into_an_area(self.actor(), asked["area"], asked["at"] or now, now)
        return self.answered(found, is_file=asked["csv"], name="who-may-come-in")


class OfPerson(Question):
    """What somebody may open at an instant."""

    @extend_schema(parameters=[PersonQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(PersonQuery, request), timezone.now()
        found = of_a_person(self.actor(), asked["cardholder"], asked["at"] or now, now)
        return self.answered(found, is_file=asked["csv"], name="what-somebody-may-open")


class OfGroup(Question):
    """What an access group opens at an instant."""

    @extend_schema(parameters=[GroupQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(GroupQuery, request), timezone.now()
        found = of_a_group(self.actor(), asked["group"], asked["at"] or now, now)
        return self.answered(found, is_file=asked["csv"], name="what-a-group-opens")


class Unused(Question):
    """Who has groups for some doors, and was let in at none of them for so many days."""

    @extend_schema(parameters=[UnusedQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(UnusedQuery, request)
        told = [text.strip() for text in asked["doors"].split(",")]
        if not all(text.isdecimal() and len(text) < 19 for text in told):
            raise Invalid.of("input.invalid", "doors")
        found = unused(self.actor(), map(int, told), asked["days"], timezone.now())
        return self.answered(found, is_file=asked["csv"], name="unused")


class Alone(Question):
    """Who is the only one in an access group, and what they open by it alone."""

    @extend_schema(parameters=[Asked], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked = self.given(Asked, request)
        found = alone_in_a_group(self.actor())
        return self.answered(found, is_file=asked["csv"], name="groups-of-one")


class Way(Question):
    """By which doors somebody could get from outside into an area."""

    @extend_schema(parameters=[WayQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(WayQuery, request), timezone.now()
        at = asked["at"] or now
        found = way_of(self.actor(), asked["cardholder"], asked["area"], at, now)
        return self.answered(found, is_file=asked["csv"], name="way")


class Compare(Question):
    """Which doors two people do not have alike."""

    @extend_schema(parameters=[CompareQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(CompareQuery, request), timezone.now()
        found = compared(self.actor(), asked["one"], asked["other"], asked["at"] or now, now)
        return self.answered(found, is_file=asked["csv"], name="compared")


class Instants(Question):
    """Which doors somebody does not have alike at two instants, now if one is not named."""

    @extend_schema(parameters=[InstantsQuery], responses=ANSWERS)
    def get(self, request: Request) -> HttpResponseBase:
        asked, now = self.given(InstantsQuery, request), timezone.now()
        both = asked["at"] or now, asked["other_at"] or now
        found = at_two_instants(self.actor(), asked["cardholder"], *both, now)
        return self.answered(found, is_file=asked["csv"], name="two-instants")


class MatrixOfGroups(HouseView):
    """When groups open doors through one day."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[MatrixQuery], responses=MatrixShape)
    def get(self, request: Request) -> Response:
        asked = self.given(MatrixQuery, request)
        found = matrix(self.actor(), asked["day"], timezone.now())
        return Response(MatrixShape(found).data)


class SavedQuestions(HouseView):
    """The questions that an operator keeps."""

    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.SEE}

    @extend_schema(responses=SavedShape(many=True))
    def get(self, request: Request) -> Response:
        return Response(saved_questions(self.actor()))

    @extend_schema(request=SavingQuestion, responses={201: Saved})
    def post(self, request: Request) -> Response:
        given = self.given(SavingQuestion, request)
        return Response({"id": save_question(self.actor(), **given)}, status.HTTP_201_CREATED)


class OneSavedQuestion(HouseView):
    """One question that an operator keeps."""

    needs: ClassVar = {"DELETE": Permission.SEE}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        forget_question(self.actor(), id)
        return Response(status=status.HTTP_204_NO_CONTENT)

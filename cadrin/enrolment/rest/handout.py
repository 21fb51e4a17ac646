"""A row of people and a row of cards, over HTTP."""

from collections.abc import Iterable
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Problem
from cadrin.enrolment.commands.handout import (
    MOST_IN_A_ROW,
    Pair,
    issue_row,
    people_without_card,
    problems_with_row,
    run_of,
)
from cadrin.enrolment.rest.shapes import CardShape, card_draft, shown_card
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, ProblemShape, Shape, WholeField, rows_of
from cadrin.people.lists import departments_below

ISSUE = Permission.ISSUE


class RowChoice(Shape):
    """Whom the row is of: some people, a department and below, or a span of numbers; all that are
    set must hold.
    """

    people = serializers.ListField(
        child=WholeField(), allow_null=True, default=None, max_length=5000
    )
    department = WholeField(allow_null=True, default=None)
    first_number = serializers.CharField(allow_blank=True, default="", max_length=40)
    last_number = serializers.CharField(allow_blank=True, default="", max_length=40)


class RowPerson(Shape):
    id = serializers.IntegerField()
    number = serializers.CharField()
    display_name = serializers.CharField()


class PairShape(Shape):
    cardholder = WholeField()
    card = CardShape()


class RowShape(Shape):
    pairs = rows_of(PairShape, MOST_IN_A_ROW)


class HandoutPreviewShape(Shape):
    problems = ProblemShape(many=True)


class Issued(Shape):
    issued = serializers.IntegerField()


def _pairs(given: dict[str, Any]) -> list[Pair]:
    return [Pair(item["cardholder"], card_draft(item["card"])) for item in given["pairs"]]


def _told(problems: Iterable[Problem]) -> list[dict[str, Any]]:
    return [{"code": p.code, "field": p.field, "params": dict(p.params)} for p in problems]


class HandoutPeople(HouseView):
    """Those of the chosen people who have no card yet, in order; at most three hundred."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowChoice, responses=RowPerson(many=True))
    def post(self, request: Request) -> Response:
        given = self.given(RowChoice, request)
        numbers = (given["first_number"], given["last_number"])
        rows = people_without_card(
            self.actor(),
            given["people"],
            None if given["department"] is None else list(departments_below(given["department"])),
            numbers if any(numbers) else None,
        )
        return Response(rows[:MOST_IN_A_ROW])


class PreviewHandout(HouseView):
    """What stands against a row, or the last pair of it. Nothing is saved."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowShape, responses=HandoutPreviewShape)
    def post(self, request: Request) -> Response:
        problems = problems_with_row(
            self.actor(), _pairs(self.given(RowShape, request)), timezone.now()
        )
        return Response({"problems": _told(problems)})


class RunShape(RowShape):
    """Cards from the first number on, for these people; ``pairs`` stand in the row already."""

    first = CardShape()
    people = serializers.ListField(child=WholeField(), max_length=MOST_IN_A_ROW)


class RunPreviewShape(HandoutPreviewShape):
    pairs = PairShape(many=True)


class PreviewRun(HouseView):
    """Cards that follow one another, for everybody without one. Nothing is saved."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RunShape, responses=RunPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(RunShape, request)
        run, problems = run_of(
            self.actor(), card_draft(given["first"]), given["people"], _pairs(given), timezone.now()
        )
        return Response(
            {
                "pairs": [
                    {"cardholder": pair.cardholder_id, "card": shown_card(pair.card)}
                    for pair in run
                ],
                "problems": _told(problems),
            }
        )


class HandOut(HouseView):
    """Issue every card of a row to its person, or none."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowShape, responses=Issued)
    def post(self, request: Request) -> Response:
        pairs = _pairs(self.given(RowShape, request))
        return Response({"issued": issue_row(self.actor(), pairs, timezone.now())})

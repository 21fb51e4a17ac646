"""A row of people and a row of cards, over HTTP."""

from collections.abc import Iterable, Mapping
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Problem
from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.enrolment.commands.handout import (
    MOST_IN_A_ROW,
    Pair,
    issue_row,
    notes_on_row,
    people_in_a_row,
    problems_with_row,
    run_of,
)
from cadrin.enrolment.rest.replacing import BECAME
from cadrin.enrolment.rest.shapes import CardShape, card_draft, shown_card
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, ProblemShape, Shape, WholeField, rows_of
from cadrin.people.lists import departments_below

ISSUE = Permission.ISSUE
NUMBERS = ("format", "facility_code", "card_number")


class OldCards(Shape):
    """What becomes of the cards that people of the row have; null where they have none yet."""

    became = serializers.ChoiceField(choices=BECAME, allow_null=True, default=None)


class RowChoice(OldCards):
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
    old = CardIdentityShape(many=True)


class PairShape(Shape):
    cardholder = WholeField()
    card = CardShape()


class RowShape(OldCards):
    pairs = rows_of(PairShape, MOST_IN_A_ROW)


class HandoutPreviewShape(Shape):
    """``notes`` do not stand against the row, and should be known."""

    problems = ProblemShape(many=True)
    notes = ProblemShape(many=True)


class Issued(Shape):
    issued = serializers.IntegerField()


def _pairs(given: dict[str, Any]) -> list[Pair]:
    return [Pair(item["cardholder"], card_draft(item["card"])) for item in given["pairs"]]


def _told(problems: Iterable[Problem]) -> list[dict[str, Any]]:
    return [{"code": p.code, "field": p.field, "params": dict(p.params)} for p in problems]


def _became(given: dict[str, Any]) -> CardStatus | None:
    return CardStatus(given["became"]) if given["became"] else None


def _shown(row: Mapping[str, Any]) -> dict[str, Any]:
    return {**row, "old": [dict(zip(NUMBERS, old, strict=True)) for old in row["old"]]}


class HandoutPeople(HouseView):
    """Those of the chosen people who have no card yet, or one to be replaced, in order; at most
    three hundred.
    """

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowChoice, responses=RowPerson(many=True))
    def post(self, request: Request) -> Response:
        given = self.given(RowChoice, request)
        numbers = (given["first_number"], given["last_number"])
        rows = people_in_a_row(
            self.actor(),
            given["people"],
            None if given["department"] is None else list(departments_below(given["department"])),
            numbers if any(numbers) else None,
            _became(given),
        )
        return Response([_shown(row) for row in rows])


class PreviewHandout(HouseView):
    """What stands against a row, or the last pair of it. Nothing is saved."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowShape, responses=HandoutPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(RowShape, request)
        pairs = _pairs(given)
        problems = problems_with_row(self.actor(), pairs, timezone.now(), _became(given))
        return Response({"problems": _told(problems), "notes": _told(notes_on_row(pairs))})


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
            self.actor(),
            card_draft(given["first"]),
            given["people"],
            _pairs(given),
            timezone.now(),
            _became(given),
        )
        return Response(
            {
                "pairs": [
                    {"cardholder": pair.cardholder_id, "card": shown_card(pair.card)}
                    for pair in run
                ],
                "problems": _told(problems),
                "notes": _told(notes_on_row(run)),
            }
        )


class HandOut(HouseView):
    """Issue every card of a row to its person, or none."""

    needs: ClassVar = {"POST": ISSUE}

    @extend_schema(request=RowShape, responses=Issued)
    def post(self, request: Request) -> Response:
        given = self.given(RowShape, request)
        issued = issue_row(self.actor(), _pairs(given), timezone.now(), _became(given))
        return Response({"issued": issued})

"""Lists of people, for scripts: a nightly file of another system becomes cardholders."""

import binascii
from base64 import b64decode
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.base import ApiView
from cadrin.api.idempotency import once
from cadrin.core.errors import Invalid
from cadrin.intake.commands.deciding import get_intake
from cadrin.intake.queries import in_full
from cadrin.intake.rest.shapes import STATES
from cadrin.intake.unattended import submit
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import ProblemShape, Shape, told

TAG = "Lists"
LARGEST_CONTENT = 140_000_000
"""Characters of base64: a little more than the largest file takes."""


class ListToBringIn(Shape):
    """A file, and how it is decided about."""

    name = serializers.CharField(max_length=200, **told("What the file is called.", "staff.csv"))
    content = serializers.CharField(
        max_length=LARGEST_CONTENT,
        **told(
            "The file, in base64: CSV, XLSX, JSON, vCard, LDIF.", "TnVtYmVyO05hbWUKUy0xO0JyYWUK"
        ),
    )
    mapping = serializers.CharField(
        default="",
        allow_blank=True,
        max_length=60,
        **told("Name of the saved mapping to decide by; empty guesses.", "Nightly staff"),
    )
    apply = serializers.BooleanField(
        default=False,
        **told("Apply it if there is nothing to decide; else it waits for a person.", True),
    )


class RowsOfList(Shape):
    """How many rows come to what."""

    new = serializers.IntegerField(**told("Newcomers.", 12))
    changed = serializers.IntegerField(**told("People who are changed.", 3))
    same = serializers.IntegerField(**told("People who stay the same.", 180))
    left_out = serializers.IntegerField(**told("Rows that are left out.", 0))
    faulty = serializers.IntegerField(**told("Rows that somebody must decide about.", 0))
    missing = serializers.IntegerField(**told("People who are not in the list.", 1))


class ListShape(Shape):
    """A list, and how far it has come."""

    id = serializers.IntegerField(**told("Its id.", 7))
    name = serializers.CharField(**told("What the file is called.", "staff.csv"))
    state = serializers.ChoiceField(choices=STATES, **told("How far it is.", "applied"))
    rows = RowsOfList(allow_null=True, help_text="Null until it was looked through.")
    problems = ProblemShape(many=True, help_text="What keeps it from being applied.")


def _out(found: dict[str, Any]) -> dict[str, Any]:
    rows = found["summary"] and found["summary"]["rows"]
    names = RowsOfList().fields
    return {
        "id": found["id"],
        "name": found["name"],
        "state": found["state"],
        "rows": rows and {name: rows[name] for name in names},
        "problems": found["problems"],
    }


class Lists(ApiView):
    tag = TAG
    needs: ClassVar = {"POST": Permission.ENROL}

    @extend_schema(request=ListToBringIn, responses={202: ListShape})
    @once
    def post(self, request: Request) -> Response:
        """Bring in a list.

        It is looked through as on the screen. With `apply` it is written as soon as that is done, if
        nothing is left to decide; ask for the list to see how far it is.
        """
        values, actor = self.new(ListToBringIn, request), self.actor()
        try:
            data = b64decode(values["content"], validate=True)
        except (binascii.Error, ValueError) as error:
            raise Invalid.of("input.invalid", "content") from error
        id_ = submit(
            actor,
            values["name"],
            data,
            values["mapping"],
            timezone.now(),
            applies=values["apply"],
        )
        answer = Response(_out(in_full(actor, get_intake(actor, id_))), status.HTTP_202_ACCEPTED)
        answer["Location"] = f"/api/v1/lists/{id_}"
        return answer


class OneList(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.ENROL}

    @extend_schema(responses=ListShape)
    def get(self, request: Request, id: int) -> Response:
        """Return a list, and how far it has come."""
        actor = self.actor()
        return Response(_out(in_full(actor, get_intake(actor, id))))

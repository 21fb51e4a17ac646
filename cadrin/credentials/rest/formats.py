"""Card formats and the number detective, over HTTP."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.credentials.card.explain import explain
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.errors import Invalid
from cadrin.core.records.card_formats import decode_format
from cadrin.credentials.commands.formats import (
    problems_with_format,
    read_layout,
    remove_format,
    save_format,
)
from cadrin.credentials.queries import formats_in_full
from cadrin.credentials.rest.format_shapes import (
    FormatPreviewShape,
    FormatShape,
    FormatsShape,
    FormatToPreview,
    format_draft,
    shown_layout,
    told_problems,
)
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved

SEE, SET_UP = Permission.SEE, Permission.SET_UP


class Formats(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": SET_UP}

    @extend_schema(responses=FormatsShape)
    def get(self, request: Request) -> Response:
        return Response(
            {
                "formats": [
                    dict(row)
                    | {"about": row["source"], "layout": shown_layout(decode_format(row["layout"]))}
                    for row in formats_in_full()
                ],
                "ready_made": [
                    {"name": made.name, "about": made.source, "layout": shown_layout(made.layout)}
                    for made in READY_MADE
                ],
            }
        )

    @extend_schema(request=FormatShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = format_draft(self.given(FormatShape, request))
        return Response(
            {"id": save_format(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED
        )


class OneFormat(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=FormatShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = format_draft(self.given(FormatShape, request))
        return Response({"id": save_format(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_format(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class PreviewFormat(HouseView):
    """What is wrong with a draft of a format, and what each bit is, tried on a read. Nothing is
    saved.
    """

    needs: ClassVar = {"POST": SEE}

    @extend_schema(request=FormatToPreview, responses=FormatPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(FormatToPreview, request)
        draft = format_draft(given)
        layout = read_layout(draft)
        problems = list(problems_with_format(draft, given["id"]))
        if isinstance(layout, tuple):
            return Response(
                {"problems": told_problems(problems), "bits": [], "numbers": [], "fault": None}
            )
        read = layout.encode(CardNumbers(0, 0))
        if given["raw"].strip():
            try:
                read = RawRead.parse(given["raw"].strip())
            except Invalid as error:
                problems += error.problems
        found = explain(layout, read)
        has_sample = bool(given["raw"].strip())
        return Response(
            {
                "problems": told_problems(problems),
                "bits": [
                    bit._asdict() | ({} if has_sample else {"value": None, "is_wrong": False})
                    for bit in found.bits
                ],
                "numbers": [{"name": n, "value": str(v)} for n, v in found.fields.items()]
                if has_sample
                else [],
                "fault": found.fault if has_sample else None,
            }
        )

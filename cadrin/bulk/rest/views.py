import dataclasses
from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.bulk.commands import (
    begin_bulk_change,
    get_bulk_change,
    stop_bulk_change,
    undo_bulk_change,
)
from cadrin.bulk.preview import preview_bulk_change
from cadrin.bulk.queries import bulk_change, bulk_changes
from cadrin.bulk.rest.shapes import (
    BegunBulkChange,
    BulkChangeShape,
    BulkPreviewShape,
    BulkProgress,
    bulk_draft,
)
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.register.rest.shapes import selection_in


class PreviewBulkChange(HouseView):
    """What an act on many would do. Nothing is saved."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=BulkChangeShape, responses=BulkPreviewShape)
    def post(self, request: Request) -> Response:
        given = self.given(BulkChangeShape, request)
        found = preview_bulk_change(
            self.actor(), bulk_draft(given), selection_in(given), timezone.now()
        )
        return Response(
            {
                "problems": [dataclasses.asdict(problem) for problem in found.problems],
                "total": found.total,
                "changed": found.changed,
                "left_alone": [
                    {"why": why, "count": count, "examples": found.examples[why]}
                    for why, count in found.left_alone.items()
                ],
                "records": found.records,
                "doors": found.doors,
            }
        )


class BulkChanges(HouseView):
    """Acts on many: the latest, and begin one."""

    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.EDIT}

    @extend_schema(responses=BulkProgress(many=True))
    def get(self, request: Request) -> Response:
        return Response(bulk_changes(self.actor()))

    @extend_schema(request=BulkChangeShape, responses={202: BegunBulkChange})
    def post(self, request: Request) -> Response:
        given = self.given(BulkChangeShape, request)
        id_ = begin_bulk_change(
            self.actor(), bulk_draft(given), selection_in(given), timezone.now()
        )
        return Response({"id": id_}, status.HTTP_202_ACCEPTED)


class OneBulkChange(HouseView):
    """A batch: how far it has come, and stop it where it is."""

    needs: ClassVar = {"GET": Permission.SEE, "DELETE": Permission.EDIT}

    @extend_schema(responses=BulkProgress)
    def get(self, request: Request, id: int) -> Response:
        get_bulk_change(self.actor(), id)
        return Response(bulk_change(id)[0])

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        stop_bulk_change(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class UndoBulkChange(HouseView):
    """Take back what a batch did, wherever nothing later stands against it."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=None, responses={202: BegunBulkChange})
    def post(self, request: Request, id: int) -> Response:
        return Response(
            {"id": undo_bulk_change(self.actor(), id, timezone.now())}, status.HTTP_202_ACCEPTED
        )

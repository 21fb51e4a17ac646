from datetime import datetime
from typing import ClassVar

from django.http import StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.operators.rest.sending import Sending, sending
from cadrin.people.queries import find_ids
from cadrin.register import listing
from cadrin.register import saved_lists as views
from cadrin.register.export import Export, Wanted, export, export_table
from cadrin.register.rest.shapes import (
    ExportShape,
    FindQuery,
    ListQuery,
    PageShape,
    Row,
    SavedListRow,
    SavedListShape,
    TableShape,
    WhoMayOpen,
    filters_in,
    selection_in,
)

SEE = Permission.SEE
EDIT = Permission.EDIT
SPREADSHEETS = {
    (200, "text/csv"): OpenApiTypes.STR,
    (200, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"): bytes,
}


class Cardholders(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(operation_id="cardholders_list", parameters=[ListQuery], responses=PageShape)
    def get(self, request: Request) -> Response:
        asked = self.given(ListQuery, request)
        page = listing.page(
            self.actor(),
            filters_in(asked),
            timezone.now(),
            sort=asked["sort"],
            after=asked["after"],
        )
        return Response(page._asdict())


class Find(HouseView):
    """Find cardholders as one types."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[FindQuery], responses=Row(many=True))
    def get(self, request: Request) -> Response:
        actor = self.actor()
        ids = find_ids(actor, self.given(FindQuery, request)["text"])
        return Response(listing.rows_of(actor, ids, timezone.now()))


class DoorPeople(HouseView):
    """Everybody who may open a door now."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=WhoMayOpen)
    def get(self, request: Request, id: int) -> Response:
        actor, now = self.actor(), timezone.now()
        ids = listing.who_may_open(actor, id, now)
        return Response({"people": listing.rows_of(actor, ids[:200], now), "total": len(ids)})


class SavedLists(HouseView):
    """Lists kept under a name."""

    needs: ClassVar = {"GET": SEE, "POST": SEE}

    @extend_schema(responses=SavedListRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(views.saved_lists_for(self.actor().operator_id))

    @extend_schema(request=SavedListShape, responses={201: SavedListRow(many=True)})
    def post(self, request: Request) -> Response:
        given = self.given(SavedListShape, request)
        views.save_list(
            self.actor(), views.SavedListDraft(**given | {"columns": tuple(given["columns"])})
        )
        return Response(views.saved_lists_for(self.actor().operator_id), status.HTTP_201_CREATED)


class OneSavedList(HouseView):
    needs: ClassVar = {"DELETE": SEE}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        views.remove_list(self.actor(), id)
        return Response(status=status.HTTP_204_NO_CONTENT)


class Exports(HouseView):
    """Export what is listed, as a file."""

    needs: ClassVar = {"POST": Permission.EXPORT}

    @extend_schema(request=ExportShape, responses={(200, "application/octet-stream"): bytes})
    def post(self, request: Request) -> HttpResponseBase:
        given = self.given(ExportShape, request)
        now = timezone.now()
        wanted = Wanted(given["kind"], tuple(given["columns"]), selection_in(given), given["sort"])
        with sending(request) as on_its_way:
            made = export(self.actor(), wanted, now)
            return _as_file(on_its_way, made, "cardholders", now)


class TableExports(HouseView):
    """Export a table as it stands on the screen, in its words: as a file for a spreadsheet."""

    needs: ClassVar = {"POST": Permission.EXPORT}

    @extend_schema(request=TableShape, responses=SPREADSHEETS)
    def post(self, request: Request) -> HttpResponseBase:
        given, now = self.given(TableShape, request), timezone.now()
        with sending(request) as on_its_way:
            made = export_table(
                self.actor(), given["kind"], given["name"], given["headings"], given["rows"], now
            )
            return _as_file(on_its_way, made, slugify(given["name"]) or "table", now)


def _as_file(on_its_way: Sending, made: Export, name: str, at: datetime) -> StreamingHttpResponse:
    answer = on_its_way.answer(made.chunks, made.content_type)
    answer["Content-Disposition"] = f'attachment; filename="{name}-{at:%Y-%m-%d}.{made.ending}"'
    return answer

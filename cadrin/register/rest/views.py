import dataclasses
from typing import ClassVar

from django.http import StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import find_ids
from cadrin.register import listing, queries, views
from cadrin.register.batches.commands import begin_batch, get_batch, stop_batch, take_back_batch
from cadrin.register.batches.weighing import weigh
from cadrin.register.export import Wanted, export
from cadrin.register.rest import shapes

SEE, EDIT = Permission.SEE, Permission.EDIT


class Cardholders(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.ListQuery], responses=shapes.PageShape)
    def get(self, request: Request) -> Response:
        asked = self.given(shapes.ListQuery, request)
        page = listing.page(
            self.actor(), shapes.filters_in(asked), timezone.now(), sort=asked["sort"], after=asked["after"]
        )
        return Response(page._asdict())


class Find(HouseView):
    """Find cardholders as one types."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(parameters=[shapes.FindQuery], responses=shapes.Row(many=True))
    def get(self, request: Request) -> Response:
        actor = self.actor()
        ids = find_ids(actor, self.given(shapes.FindQuery, request)["text"])
        return Response(listing.rows_of(actor, ids, timezone.now()))


class DoorPeople(HouseView):
    """Everybody who may open a door now."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.WhoMayOpen)
    def get(self, request: Request, id: int) -> Response:
        actor, now = self.actor(), timezone.now()
        ids = listing.who_may_open(actor, id, now)
        return Response({"people": listing.rows_of(actor, ids[:200], now), "total": len(ids)})


class WeighBatch(HouseView):
    """What an act on many would do. Nothing is saved."""

    needs: ClassVar = {"POST": EDIT}

    @extend_schema(request=shapes.BatchShape, responses=shapes.WeighedBatch)
    def post(self, request: Request) -> Response:
        given = self.given(shapes.BatchShape, request)
        found = weigh(self.actor(), shapes.batch_draft(given), shapes.selection_in(given), timezone.now())
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


class Batches(HouseView):
    """Acts on many: the latest, and begin one."""

    needs: ClassVar = {"GET": SEE, "POST": EDIT}

    @extend_schema(responses=shapes.BatchProgress(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.batches(self.actor()))

    @extend_schema(request=shapes.BatchShape, responses={202: shapes.BegunBatch})
    def post(self, request: Request) -> Response:
        given = self.given(shapes.BatchShape, request)
        id_ = begin_batch(self.actor(), shapes.batch_draft(given), shapes.selection_in(given), timezone.now())
        return Response({"id": id_}, status.HTTP_202_ACCEPTED)


class OneBatch(HouseView):
    """A batch: how far it has come, and stop it where it is."""

    needs: ClassVar = {"GET": SEE, "DELETE": EDIT}

    @extend_schema(responses=shapes.BatchProgress)
    def get(self, request: Request, id: int) -> Response:
        get_batch(self.actor(), id)
        return Response(queries.batch(id)[0])

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        stop_batch(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class BatchBack(HouseView):
    """Take back what a batch did, wherever nothing later stands against it."""

    needs: ClassVar = {"POST": EDIT}

    @extend_schema(request=None, responses={202: shapes.BegunBatch})
    def post(self, request: Request, id: int) -> Response:
        return Response({"id": take_back_batch(self.actor(), id, timezone.now())}, status.HTTP_202_ACCEPTED)


class Views(HouseView):
    """Lists kept under a name."""

    needs: ClassVar = {"GET": SEE, "POST": SEE}

    @extend_schema(responses=shapes.SavedViewShape(many=True))
    def get(self, request: Request) -> Response:
        return Response(views.views_for(self.actor().operator_id))

    @extend_schema(request=shapes.ViewShape, responses={201: shapes.SavedViewShape(many=True)})
    def post(self, request: Request) -> Response:
        given = self.given(shapes.ViewShape, request)
        views.save_view(self.actor(), views.ViewDraft(**given | {"columns": tuple(given["columns"])}))
        return Response(views.views_for(self.actor().operator_id), status.HTTP_201_CREATED)


class OneView(HouseView):
    needs: ClassVar = {"DELETE": SEE}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        views.remove_view(self.actor(), id)
        return Response(status=status.HTTP_204_NO_CONTENT)


class Exports(HouseView):
    """Export what is listed, as a file."""

    needs: ClassVar = {"POST": Permission.EXPORT}

    @extend_schema(request=shapes.ExportShape, responses={(200, "application/octet-stream"): bytes})
    def post(self, request: Request) -> HttpResponseBase:
        given = self.given(shapes.ExportShape, request)
        now = timezone.now()
        wanted = Wanted(given["kind"], tuple(given["columns"]), shapes.selection_in(given), given["sort"])
        made = export(self.actor(), wanted, now)
        answer = StreamingHttpResponse(made.chunks, content_type=made.content_type)
        answer["Content-Disposition"] = f'attachment; filename="cardholders-{now:%Y-%m-%d}.{made.ending}"'
        return answer

from typing import ClassVar

from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.core.intake.table import MOST_BYTES
from cadrin.intake import queries
from cadrin.intake.commands import deciding
from cadrin.intake.commands.from_controller import take_from_controller
from cadrin.intake.commands.taking import take_file
from cadrin.intake.faults_file import faults_as_csv
from cadrin.intake.kept_choices import choices_of
from cadrin.intake.rest import shapes
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.operators.rest.sending import sending

ENROL = Permission.ENROL


def uploaded(request: Request) -> tuple[str, bytes]:
    """Return the name and the bytes of the file that was sent. Raises Invalid."""
    sent = request.FILES.get("file")
    if sent is None:
        raise Invalid.of("input.required", "file")
    if sent.size > MOST_BYTES:
        raise Invalid.of("intake.too_large", "file", most=MOST_BYTES // 2**20)
    return sent.name or "", sent.read()


class Intakes(HouseView):
    """The latest intakes, and take a file in."""

    needs: ClassVar = {"GET": ENROL, "POST": ENROL}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=shapes.IntakeInShort(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.intakes(self.actor()))

    @extend_schema(
        request={"multipart/form-data": shapes.FileToTake}, responses={201: shapes.TakenIntake}
    )
    def post(self, request: Request) -> Response:
        name, data = uploaded(request)
        id_ = take_file(self.actor(), name, data, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneIntake(HouseView):
    """An intake, what it comes to, and what is decided about it."""

    needs: ClassVar = {"GET": ENROL, "PUT": ENROL, "DELETE": ENROL}

    def _shown(self, id_: int) -> Response:
        actor = self.actor()
        found = queries.in_full(actor, deciding.get_intake(actor, id_))
        return Response(shapes.shown(found))

    @extend_schema(responses=shapes.IntakeShape)
    def get(self, request: Request, id: int) -> Response:
        return self._shown(id)

    @extend_schema(request=shapes.DecisionShape, responses=shapes.IntakeShape)
    def put(self, request: Request, id: int) -> Response:
        given = self.given(shapes.DecisionShape, request)
        choices = choices_of(given["choices"])
        deciding.save_choices(self.actor(), id, given["version"], choices, timezone.now())
        return self._shown(id)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        deciding.discard_intake(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class IntakeRows(HouseView):
    """Rows of an intake, as they were and what they come to."""

    needs: ClassVar = {"GET": ENROL}

    @extend_schema(parameters=[shapes.RowsAsked], responses=shapes.IntakeRowsPage)
    def get(self, request: Request, id: int) -> Response:
        given = self.given(shapes.RowsAsked, request)
        actor = self.actor()
        page = queries.rows_of_intake(actor, deciding.get_intake(actor, id), **given)
        return Response(page._asdict())


class IntakeFaults(HouseView):
    """The rows with faults, as a file with a column of reasons, to be mended and dropped again."""

    needs: ClassVar = {"GET": ENROL}

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: int) -> HttpResponseBase:
        actor = self.actor()
        intake = deciding.get_intake(actor, id)
        with sending(request) as on_its_way:
            chunks = faults_as_csv(intake, actor.language)
            answer = on_its_way.answer(chunks, "text/csv; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="faults.csv"'
        return answer


class IntakeFromController(HouseView):
    """Bring in the people whom only a controller knew."""

    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=shapes.ControllerToTakeFrom, responses={201: shapes.TakenIntake})
    def post(self, request: Request) -> Response:
        given = self.given(shapes.ControllerToTakeFrom, request)
        id_ = take_from_controller(self.actor(), given["controller"], timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class IntakePhotos(HouseView):
    """An archive of photos that comes with a list."""

    needs: ClassVar = {"POST": Permission.EDIT}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": shapes.FileToTake}, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        _, data = uploaded(request)
        deciding.add_photos(self.actor(), id, data, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class LeaveOut(HouseView):
    """Leave out every row with a kind of fault."""

    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=shapes.LeaveOutShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.LeaveOutShape, request)
        deciding.leave_out(
            self.actor(), id, given["version"], given["column"], given["code"], timezone.now()
        )
        return Response(status=status.HTTP_204_NO_CONTENT)


class UseMapping(HouseView):
    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=shapes.MappingToUse, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.MappingToUse, request)
        deciding.use_mapping(self.actor(), id, given["version"], given["mapping"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class SaveMapping(HouseView):
    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=shapes.MappingToSave, responses={201: shapes.TakenIntake})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.MappingToSave, request)
        made = deciding.save_mapping(self.actor(), id, given["name"], timezone.now())
        return Response({"id": made}, status.HTTP_201_CREATED)


class Mappings(HouseView):
    """Mappings that were kept."""

    needs: ClassVar = {"GET": ENROL}

    @extend_schema(responses=shapes.MappingShape(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.mappings())


class OneMapping(HouseView):
    needs: ClassVar = {"DELETE": ENROL}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        deciding.remove_mapping(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ApplyIntake(HouseView):
    """Write it all, or nothing; the worker does it."""

    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=shapes.VersionShape, responses={202: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.VersionShape, request)
        deciding.apply_intake(self.actor(), id, given["version"], timezone.now())
        return Response(status=status.HTTP_202_ACCEPTED)


class StopIntake(HouseView):
    """Leave off; what was written so far is put back."""

    needs: ClassVar = {"POST": ENROL}

    @extend_schema(request=None, responses={202: None})
    def post(self, request: Request, id: int) -> Response:
        deciding.stop_intake(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_202_ACCEPTED)


class UndoIntake(HouseView):
    """Take the whole of it back."""

    needs: ClassVar = {"POST": Permission.EDIT}

    @extend_schema(request=None, responses={202: None})
    def post(self, request: Request, id: int) -> Response:
        deciding.undo_intake(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_202_ACCEPTED)

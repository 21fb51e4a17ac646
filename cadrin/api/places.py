"""Sites, doors, readers and controllers, for scripts."""

from collections.abc import Mapping
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.api.base import ApiView, PageQuery, one_of, with_version
from cadrin.api.pages import page_of
from cadrin.api.shapes import flag, only_shown
from cadrin.delivery.controllers import controllers
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told
from cadrin.sites.commands.readers import save_reader
from cadrin.sites.queries import doors, readers, sites
from cadrin.sites.rest.fields import PolicyField
from cadrin.sites.rest.readers import MOST_HOURS, reader_draft
from cadrin.sites.rest.shapes import AskedBySchedule

TAG = "Doors and devices"


class SiteShape(Shape):
    """A place with one clock."""

    id = serializers.IntegerField(**told("Its id.", 1))
    name = serializers.CharField(**told("Its name.", "Skerrow Point"))
    zone = serializers.CharField(**told("Its time zone (IANA).", "Europe/London"))


class DoorShape(Shape):
    """A door."""

    id = serializers.IntegerField(**told("Its id.", 7))
    name = serializers.CharField(**told("Its name.", "Slip Gate"))
    area_name = serializers.CharField(**told("The area it belongs to.", "Boat Shed"))
    site_name = serializers.CharField(**told("The site it belongs to.", "Skerrow Point"))
    controller = serializers.IntegerField(**told("Id of the controller that decides.", 2))


class ReaderShape(Shape):
    """A reader, what it asks for, and what it reads."""

    id = serializers.IntegerField(**only_shown("Its id.", 7))
    version = WholeField(allow_null=True, default=None, **told("Moves with each change.", 1))
    name = serializers.CharField(**only_shown("Its name.", "Slip Gate"))
    door = serializers.IntegerField(
        allow_null=True, **only_shown("Id of its door; null at a desk.", 7)
    )
    controller = serializers.IntegerField(**only_shown("Id of its controller.", 2))
    policy = PolicyField(
        **told("Alternatives, each a list of factors presented together.", [["card"], ["pin"]])
    )
    has_keypad = flag("It has a keypad.")
    has_camera = flag("It has a camera for licence plates.")
    has_finger_scanner = flag("It takes fingers.")
    finger_match = WholeField(
        allow_null=True,
        default=None,
        **told("How alike a finger must be, in hundredths; null for the site's.", None),
    )
    has_face_reader = flag("It takes faces.")
    face_match = WholeField(
        allow_null=True,
        default=None,
        **told("How far apart faces may be, in hundredths; null for the site's.", None),
    )
    by_hours = rows_of(
        AskedBySchedule,
        MOST_HOURS,
        default=list,
        **told("What is asked instead while a schedule is open, the first that is.", []),
    )
    is_way_out = flag("It stands on the way out.")
    formats = serializers.ListField(
        child=WholeField(),
        default=list,
        max_length=100,
        **told("Ids of the card formats it reads; empty for all.", []),
    )


class ControllerShape(Shape):
    """A controller, and how far it is from holding what it should."""

    id = serializers.IntegerField(**told("Its id.", 2))
    name = serializers.CharField(**told("Its name.", "South"))
    is_desk = serializers.BooleanField(**told("It serves desks, and decides nothing.", False))
    answered_at = serializers.DateTimeField(
        allow_null=True, **told("When it last answered.", "2026-12-04T18:00:00Z")
    )
    counts = serializers.DictField(
        child=serializers.IntegerField(), **told("Records by their state.", {"held": 640})
    )


def _door(row: Mapping[str, Any]) -> dict[str, Any]:
    names = ("id", "name", "area_name", "site_name")
    return {name: row[name] for name in names} | {"controller": row["controller_id"]}


def _reader(row: Mapping[str, Any]) -> dict[str, Any]:
    same = (
        "id",
        "version",
        "name",
        "policy",
        "has_keypad",
        "has_camera",
        "has_finger_scanner",
        "finger_match",
        "has_face_reader",
        "face_match",
        "by_hours",
        "is_way_out",
    )
    links = {"door": row["door_id"], "controller": row["controller_id"]}
    return {name: row[name] for name in same} | links | {"formats": row["format_ids"]}


def _controller(row: Mapping[str, Any]) -> dict[str, Any]:
    return {name: row[name] for name in ("id", "name", "is_desk", "answered_at", "counts")}


class Sites(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(SiteShape))
    def get(self, request: Request) -> Response:
        """List sites."""
        return self.page_of(sites(self.actor()), self.asked(PageQuery, request))


class Doors(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(DoorShape))
    def get(self, request: Request) -> Response:
        """List doors."""
        asked = self.asked(PageQuery, request)
        return self.page_of([_door(row) for row in doors(self.actor())], asked)


class OneDoor(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=DoorShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a door."""
        return Response(_door(one_of(doors(self.actor()), id, "door.not_found")))


class Readers(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(ReaderShape))
    def get(self, request: Request) -> Response:
        """List readers."""
        asked = self.asked(PageQuery, request)
        return self.page_of([_reader(row) for row in readers(self.actor())], asked)


class OneReader(ApiView):
    tag = TAG
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PUT": Permission.SET_UP,
        "PATCH": Permission.SET_UP,
    }

    @extend_schema(responses=ReaderShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a reader."""
        return with_version(self._now(id))

    @extend_schema(request=ReaderShape, responses=ReaderShape)
    def put(self, request: Request, id: int) -> Response:
        """Save what a reader asks for and reads."""
        self._now(id)
        return self._saved(id, self.whole(ReaderShape, request))

    @extend_schema(request=ReaderShape, responses=ReaderShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of what a reader asks for and reads."""
        return self._saved(id, self.patched(ReaderShape, self._now(id), request))

    def _now(self, id_: int) -> dict[str, Any]:
        return _reader(one_of(readers(self.actor()), id_, "reader.not_found"))

    def _saved(self, id_: int, values: dict[str, Any]) -> Response:
        draft = reader_draft(values | {"format_ids": values["formats"]})
        save_reader(self.actor(), id_, draft, timezone.now())
        return with_version(self._now(id_))


class Controllers(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(ControllerShape))
    def get(self, request: Request) -> Response:
        """List controllers."""
        asked = self.asked(PageQuery, request)
        found = controllers(self.actor(), timezone.now())
        return self.page_of([_controller(row) for row in found], asked)


class OneController(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ControllerShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a controller."""
        found = controllers(self.actor(), timezone.now())
        return Response(_controller(one_of(found, id, "controller.not_found")))

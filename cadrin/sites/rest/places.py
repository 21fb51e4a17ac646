"""Sites, areas and doors as they are set up, over HTTP."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.doors.rules import Passback
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved, Shape, WholeField
from cadrin.sites.commands.doors import DoorDraft, save_door
from cadrin.sites.commands.places import (
    AreaDraft,
    SiteDraft,
    remove_area,
    remove_site,
    save_area,
    save_site,
)
from cadrin.sites.queries import places
from cadrin.sites.rest.fields import LimitsShape, text

MOST_READERS = 20
PASSBACKS = [passback.value for passback in Passback]
SET_UP = Permission.SET_UP


class SiteShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = text()
    zone = text(max_length=60)


class AreaShape(Shape):
    version = WholeField(min_value=0, default=0)
    site_id = WholeField()
    name = text()
    passback = serializers.ChoiceField(choices=PASSBACKS, default=Passback.NONE.value)
    forgiven_after_minutes = WholeField(allow_null=True, default=None)
    most = WholeField(allow_null=True, default=None)


class DoorShape(Shape):
    """A door leads from an area, or from outside, into another; readers stand on its way in and out."""

    version = WholeField(min_value=0, default=0)
    name = text()
    area_id = WholeField()
    from_area_id = WholeField(allow_null=True, default=None)
    controller_id = WholeField()
    readers_in = serializers.ListField(child=WholeField(), max_length=MOST_READERS)
    readers_out = serializers.ListField(child=WholeField(), max_length=MOST_READERS)
    open_seconds = WholeField()
    extended_open_seconds = WholeField()
    held_seconds = WholeField(allow_null=True, default=None)
    tells_forced = serializers.BooleanField(default=False)
    unlocked_schedule_id = WholeField(allow_null=True, default=None)
    closed_schedule_id = WholeField(allow_null=True, default=None)
    first_person = serializers.BooleanField(default=False)
    second_seconds = WholeField(allow_null=True, default=None)
    consent_seconds = WholeField(allow_null=True, default=None)
    has_exit_button = serializers.BooleanField(default=False)
    interlock = serializers.ListField(child=WholeField(), max_length=MOST_READERS, default=list)
    owner_id = WholeField(allow_null=True, default=None)
    review_days = WholeField(allow_null=True, default=None)


class SitePlace(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    zone = serializers.CharField()
    version = serializers.IntegerField()


class AreaPlace(Shape):
    id = serializers.IntegerField()
    site_id = serializers.IntegerField()
    name = serializers.CharField()
    passback = serializers.ChoiceField(choices=PASSBACKS)
    forgiven_after_minutes = serializers.IntegerField(allow_null=True)
    most = serializers.IntegerField(allow_null=True)
    counts_people = serializers.BooleanField()
    version = serializers.IntegerField()


class DoorPlace(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    area_id = serializers.IntegerField()
    from_area_id = serializers.IntegerField(allow_null=True)
    controller_id = serializers.IntegerField()
    open_seconds = serializers.IntegerField()
    extended_open_seconds = serializers.IntegerField()
    held_seconds = serializers.IntegerField(allow_null=True)
    tells_forced = serializers.BooleanField()
    unlocked_schedule_id = serializers.IntegerField(allow_null=True)
    closed_schedule_id = serializers.IntegerField(allow_null=True)
    first_person = serializers.BooleanField()
    second_seconds = serializers.IntegerField(allow_null=True)
    consent_seconds = serializers.IntegerField(allow_null=True)
    has_exit_button = serializers.BooleanField()
    interlock = serializers.ListField(child=serializers.IntegerField())
    owner_id = serializers.IntegerField(allow_null=True)
    review_days = serializers.IntegerField(allow_null=True)
    version = serializers.IntegerField()


class ControllerPlace(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    address = serializers.CharField()
    is_desk = serializers.BooleanField()
    limits = LimitsShape()
    knows_one_group = serializers.BooleanField()
    version = serializers.IntegerField()


class ReaderPlace(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    controller_id = serializers.IntegerField()
    door_id = serializers.IntegerField(allow_null=True)
    is_way_out = serializers.BooleanField()
    plug = serializers.IntegerField(allow_null=True)
    version = serializers.IntegerField()


class PlacesShape(Shape):
    """Everything of a house that stands somewhere."""

    sites = SitePlace(many=True)
    areas = AreaPlace(many=True)
    doors = DoorPlace(many=True)
    controllers = ControllerPlace(many=True)
    readers = ReaderPlace(many=True)


def _area_draft(given: dict[str, Any]) -> AreaDraft:
    return AreaDraft(**{**given, "passback": Passback(given["passback"])})


def _door_draft(given: dict[str, Any]) -> DoorDraft:
    return DoorDraft(
        **{
            **given,
            "readers_in": tuple(given["readers_in"]),
            "readers_out": tuple(given["readers_out"]),
            "interlock": tuple(given["interlock"]),
        }
    )


class Places(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=PlacesShape)
    def get(self, request: Request) -> Response:
        return Response(places(self.actor()))


class Sites(HouseView):
    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=SiteShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = SiteDraft(**self.given(SiteShape, request))
        id_ = save_site(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneSite(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=SiteShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = SiteDraft(**self.given(SiteShape, request))
        return Response({"id": save_site(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_site(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Areas(HouseView):
    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=AreaShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = _area_draft(self.given(AreaShape, request))
        id_ = save_area(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneArea(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=AreaShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = _area_draft(self.given(AreaShape, request))
        return Response({"id": save_area(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_area(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Doors(HouseView):
    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=DoorShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = _door_draft(self.given(DoorShape, request))
        id_ = save_door(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


def save_door_given(view: HouseView, request: Request, id: int) -> Response:
    """Save a door that is there, for the view that can remove it as well."""
    draft = _door_draft(view.given(DoorShape, request))
    return Response({"id": save_door(view.actor(), id, draft, timezone.now())})

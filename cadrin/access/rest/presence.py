"""Where people are, over HTTP: who is in an area, and forgiving whoever is not."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.presence import forgive, forgive_all_in
from cadrin.access.presence import counted, people_in, presence_of
from cadrin.core.errors import NotFound
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.people.queries import get_cardholder
from cadrin.sites.queries import area_ids


class AreaCount(Shape):
    area_id = serializers.IntegerField()
    people = serializers.IntegerField()


class PersonInside(Shape):
    cardholder_id = serializers.IntegerField()
    name = serializers.CharField()
    number = serializers.CharField()
    since = serializers.DateTimeField()


class PresenceOut(Shape):
    """Where somebody is; an empty area is outside, and without ``since`` nobody knows."""

    area = serializers.CharField()
    since = serializers.DateTimeField(allow_null=True)


class Forgiven(Shape):
    people = serializers.IntegerField()


class Areas(HouseView):
    """How many people are in each area that counts them."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=AreaCount(many=True))
    def get(self, request: Request) -> Response:
        found = counted(self.actor())
        return Response([{"area_id": id_, "people": count} for id_, count in found.items()])


class AreaPeople(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "DELETE": Permission.ACCESS}

    @extend_schema(responses=PersonInside(many=True))
    def get(self, request: Request, id: int) -> Response:
        if id not in area_ids(self.actor()):
            raise NotFound.of("area.not_found")
        return Response(people_in(self.actor(), id))

    @extend_schema(request=None, responses=Forgiven)
    def delete(self, request: Request, id: int) -> Response:
        return Response({"people": forgive_all_in(self.actor(), id, timezone.now())})


class CardholderPresence(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "DELETE": Permission.ACCESS}

    @extend_schema(responses=PresenceOut)
    def get(self, request: Request, id: int) -> Response:
        get_cardholder(self.actor(), id)
        return Response(presence_of(id) or {"area": "", "since": None})

    @extend_schema(request=None, responses=Forgiven)
    def delete(self, request: Request, id: int) -> Response:
        return Response({"people": forgive(self.actor(), [id], timezone.now())})

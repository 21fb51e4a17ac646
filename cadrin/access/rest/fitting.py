"""Find groups that give what is wanted, and those that could be put in order."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.fitting import find_groups, untidy
from cadrin.access.rest.shapes import GrantShape, grant_drafts
from cadrin.core.access.plan import Way
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField, rows_of

MOST_WANTED = 500


class WantedShape(Shape):
    """Doors with hours, or what a colleague has (``like``); ``cardholder`` is whom it is for."""

    grants = rows_of(GrantShape, MOST_WANTED, default=list)
    like = WholeField(allow_null=True, default=None)
    cardholder = WholeField(allow_null=True, default=None)


class AtDoorShape(Shape):
    """Hours a week at a door, on the average of a year with its holidays."""

    door_id = serializers.IntegerField()
    hours = serializers.FloatField()
    way = serializers.ChoiceField([way.value for way in Way])


class FoundGroup(Shape):
    group_id = serializers.IntegerField()
    is_exact = serializers.BooleanField()
    more = AtDoorShape(many=True)
    less = AtDoorShape(many=True)


class FoundGroups(Shape):
    wanted = AtDoorShape(many=True)
    groups = FoundGroup(many=True)
    cover = serializers.ListField(child=serializers.IntegerField())
    cover_more = AtDoorShape(many=True)
    lacking = AtDoorShape(many=True)
    is_smallest = serializers.BooleanField()
    has_already = serializers.ListField(child=serializers.IntegerField())
    person = serializers.CharField(allow_blank=True)


class AlikeShape(Shape):
    """Two groups: what the one gives more than the other if people move to it, and what less."""

    one_id = serializers.IntegerField()
    other_id = serializers.IntegerField()
    likeness = serializers.FloatField()
    more = AtDoorShape(many=True)
    less = AtDoorShape(many=True)


class UntidyShape(Shape):
    alike = AlikeShape(many=True)
    empty = serializers.ListField(child=serializers.IntegerField())
    of_one = serializers.ListField(child=serializers.IntegerField())
    opening_nothing = serializers.ListField(child=serializers.IntegerField())
    doors = serializers.ListField(child=serializers.IntegerField())


class FindGroups(HouseView):
    """The groups that give what is wanted. It is asked by POST as there may be many doors."""

    needs: ClassVar = {"POST": Permission.SEE}

    @extend_schema(request=WantedShape, responses=FoundGroups)
    def post(self, request: Request) -> Response:
        asked = self.given(WantedShape, request)
        grants = grant_drafts(asked["grants"])
        found = find_groups(
            self.actor(), grants, asked["like"], asked["cardholder"], timezone.now()
        )
        return Response(FoundGroups(found).data)


class UntidyGroups(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=UntidyShape)
    def get(self, request: Request) -> Response:
        return Response(UntidyShape(untidy(self.actor(), timezone.now())).data)

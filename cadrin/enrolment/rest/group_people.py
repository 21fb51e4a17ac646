"""Put people into an access group and take them out, from the group's side."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.validity import Span
from cadrin.enrolment.commands.memberships import add_people, remove_people
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField
from cadrin.people.queries import ids_of_numbers
from cadrin.sites.rest.fields import instant

MOST_AT_ONCE = 5000


class NewMembers(Shape):
    """Whom to put into a group, by ids or by numbers as they were pasted, and for how long."""

    cardholders = serializers.ListField(child=WholeField(), max_length=MOST_AT_ONCE, default=list)
    numbers = serializers.ListField(
        child=serializers.CharField(max_length=60), max_length=MOST_AT_ONCE, default=list
    )
    activation_at = instant()
    expiry_at = instant()


class AddedMembers(Shape):
    """How many were put in, how many were in it before, and numbers that nobody within reach has."""

    added = serializers.IntegerField()
    there_before = serializers.IntegerField()
    unknown = serializers.ListField(child=serializers.CharField())


class LeavingMembers(Shape):
    cardholders = serializers.ListField(child=WholeField(), max_length=MOST_AT_ONCE)


class RemovedMembers(Shape):
    removed = serializers.IntegerField()


class GroupMembers(HouseView):
    needs: ClassVar = {"POST": Permission.ACCESS}

    @extend_schema(request=NewMembers, responses=AddedMembers)
    def post(self, request: Request, id: int) -> Response:
        given, actor = self.given(NewMembers, request), self.actor()
        known = ids_of_numbers(actor, given["numbers"])
        ids = {*given["cardholders"], *known.values()}
        span = Span(given["activation_at"], given["expiry_at"])
        added = add_people(actor, id, ids, timezone.now(), span)
        unknown = sorted({number for number in given["numbers"] if number not in known})
        return Response({"added": added, "there_before": len(ids) - added, "unknown": unknown})


class LeavingGroup(HouseView):
    needs: ClassVar = {"POST": Permission.ACCESS}

    @extend_schema(request=LeavingMembers, responses=RemovedMembers)
    def post(self, request: Request, id: int) -> Response:
        ids = self.given(LeavingMembers, request)["cardholders"]
        return Response({"removed": remove_people(self.actor(), id, ids, timezone.now())})

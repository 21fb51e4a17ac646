"""Put people into an access group and take them out, from the group's side."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.queries import get_group, kept_out_people
from cadrin.access.rest.fitting import AtDoorShape
from cadrin.core.validity import Span
from cadrin.enrolment.commands.memberships import add_people, join_groups, remove_people
from cadrin.enrolment.commands.merge_groups import merge_groups, preview_group_merge
from cadrin.enrolment.commands.rules import no_longer_kept_out
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField
from cadrin.people.queries import ids_of_numbers
from cadrin.sites.rest.fields import end, instant

MOST_AT_ONCE = 5000
MOST_GROUPS = 50


class NewMembers(Shape):
    """Whom to put into a group, by ids or by numbers as they were pasted, and for how long."""

    cardholders = serializers.ListField(child=WholeField(), max_length=MOST_AT_ONCE, default=list)
    numbers = serializers.ListField(
        child=serializers.CharField(max_length=60), max_length=MOST_AT_ONCE, default=list
    )
    activation_at = instant()
    expiry_at = end()


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


class GroupsToJoin(Shape):
    groups = serializers.ListField(child=WholeField(), max_length=MOST_GROUPS, allow_empty=False)


class JoiningGroups(HouseView):
    """Put one person into several groups, all or none."""

    needs: ClassVar = {"POST": Permission.ACCESS}

    @extend_schema(request=GroupsToJoin, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        groups = self.given(GroupsToJoin, request)["groups"]
        join_groups(self.actor(), id, groups, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class KeptOutPerson(Shape):
    cardholder_id = serializers.IntegerField()
    name = serializers.CharField()
    number = serializers.CharField()


class NoLongerKeptOut(Shape):
    cardholder = WholeField()


class KeptOutOfGroup(HouseView):
    """Who is kept out of a group, whatever its rules say; and letting the rules count again."""

    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.ACCESS}

    @extend_schema(responses=KeptOutPerson(many=True))
    def get(self, request: Request, id: int) -> Response:
        get_group(self.actor(), id)
        return Response(kept_out_people(self.actor(), id))

    @extend_schema(request=NoLongerKeptOut, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        cardholder = self.given(NoLongerKeptOut, request)["cardholder"]
        no_longer_kept_out(self.actor(), id, cardholder, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class MergeGroup(Shape):
    into = WholeField()


class MergedGroup(Shape):
    moved = serializers.IntegerField()


class GroupMergeShape(Shape):
    """What merging leads to; ``apart`` are people whose two times cannot be one."""

    people = serializers.IntegerField()
    in_both = serializers.IntegerField()
    apart = serializers.ListField(child=serializers.IntegerField())
    more = AtDoorShape(many=True)
    less = AtDoorShape(many=True)


class GroupMerging(HouseView):
    """Make one group of two: what it leads to, and doing it."""

    needs: ClassVar = {"GET": Permission.GROUPS, "POST": Permission.GROUPS}

    @extend_schema(parameters=[MergeGroup], responses=GroupMergeShape)
    def get(self, request: Request, id: int) -> Response:
        into = self.given(MergeGroup, request)["into"]
        found = preview_group_merge(self.actor(), id, into, timezone.now())
        return Response(GroupMergeShape(found).data)

    @extend_schema(request=MergeGroup, responses=MergedGroup)
    def post(self, request: Request, id: int) -> Response:
        into = self.given(MergeGroup, request)["into"]
        return Response({"moved": merge_groups(self.actor(), id, into, timezone.now())})

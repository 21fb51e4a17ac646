from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.queries import (
    get_group,
    members_of,
)
from cadrin.access.queries import groups as groups_in_reach
from cadrin.access.rest.shapes import Group, GroupShape, Member, group_draft
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved

SEE = Permission.SEE
GROUPS = Permission.GROUPS


class Groups(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": GROUPS}

    @extend_schema(responses=Group(many=True))
    def get(self, request: Request) -> Response:
        return Response(groups_in_reach(self.actor()))

    @extend_schema(request=GroupShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = group_draft(self.given(GroupShape, request))
        return Response(
            {"id": save_group(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED
        )


class OneGroup(HouseView):
    needs: ClassVar = {"PUT": GROUPS, "DELETE": GROUPS}

    @extend_schema(request=GroupShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = group_draft(self.given(GroupShape, request))
        return Response({"id": save_group(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_group(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class GroupPeople(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=Member(many=True))
    def get(self, request: Request, id: int) -> Response:
        get_group(self.actor(), id)
        return Response(members_of(self.actor(), id))

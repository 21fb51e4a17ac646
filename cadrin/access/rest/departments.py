"""Departments with the access groups that they propose, over HTTP."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.departments import save_department_with_groups
from cadrin.access.queries import default_groups as default_groups_in_reach
from cadrin.access.queries import (
    people_of_departments,
)
from cadrin.access.rest.shapes import DepartmentShape, DepartmentWithPeople, MergeDepartment, Moved
from cadrin.access.scoping import group_ids_hidden
from cadrin.core.people.departments import proposed_groups
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved
from cadrin.people.commands.departments import DepartmentDraft, merge_departments
from cadrin.people.lists import departments


def departments_with_groups(actor: Actor) -> list[dict[str, Any]]:
    hidden, rows = group_ids_hidden(actor), departments(actor)
    defaults = {
        id_: [group for group in groups if group not in hidden]
        for id_, groups in default_groups_in_reach().items()
    }
    parents = {row["id"]: row["parent_id"] for row in rows}
    return [
        dict(row)
        | {
            "default_groups": defaults.get(row["id"], []),
            "proposed_groups": proposed_groups(row["id"], parents, defaults),
        }
        for row in rows
    ]


def _department_draft(given: dict[str, Any]) -> DepartmentDraft:
    return DepartmentDraft(
        given["number"], given["name"], given["parent_id"], given["is_retired"], given["version"]
    )


class Departments(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.SET_UP}

    @extend_schema(responses=DepartmentWithPeople(many=True))
    def get(self, request: Request) -> Response:
        actor = self.actor()
        people = people_of_departments(actor)
        return Response(
            [row | {"people": people.get(row["id"], 0)} for row in departments_with_groups(actor)]
        )

    @extend_schema(request=DepartmentShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        given = self.given(DepartmentShape, request)
        id_ = save_department_with_groups(
            self.actor(), None, _department_draft(given), given["default_groups"], timezone.now()
        )
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneDepartment(HouseView):
    needs: ClassVar = {"PUT": Permission.SET_UP}

    @extend_schema(request=DepartmentShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        given = self.given(DepartmentShape, request)
        save_department_with_groups(
            self.actor(), id, _department_draft(given), given["default_groups"], timezone.now()
        )
        return Response({"id": id})


class DepartmentMerge(HouseView):
    """Put everybody in one department into another, and remove it."""

    needs: ClassVar = {"POST": Permission.SET_UP}

    @extend_schema(request=MergeDepartment, responses=Moved)
    def post(self, request: Request, id: int) -> Response:
        into = self.given(MergeDepartment, request)["into"]
        return Response({"moved": merge_departments(self.actor(), id, into, timezone.now())})

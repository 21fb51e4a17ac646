"""Departments, and the lists that cardholders are chosen from, for scripts."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.departments import save_department_with_groups
from cadrin.access.rest.departments import departments_with_groups
from cadrin.api.base import ApiView, PageQuery, one_of, with_version
from cadrin.api.idempotency import once
from cadrin.api.pages import page_of
from cadrin.api.shapes import flag, link, only_shown, text
from cadrin.core.people.custom_fields import FieldType
from cadrin.credentials.queries import card_formats
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField, told
from cadrin.people.commands.departments import DepartmentDraft
from cadrin.people.lists import companies, custom_fields, kinds

TAG = "Departments and lists"
NOT_FOUND = "department.not_found"


class DepartmentShape(Shape):
    """A department, and the access groups proposed to whoever comes into it."""

    id = serializers.IntegerField(**only_shown("Its id.", 4))
    version = WholeField(allow_null=True, default=None, **told("Moves with each change.", 1))
    number = text("Its number; unique.", "40")
    name = text("Its name.", "Dive Team")
    parent = link(  # type: ignore[assignment]
        "Id of the department above it; null for none.", 1
    )
    is_retired = flag("Nobody new is put in it.")
    default_groups = serializers.ListField(
        child=WholeField(), default=list, max_length=100, **told("Its own access groups.", [3])
    )
    proposed_groups = serializers.ListField(
        child=serializers.IntegerField(),
        **only_shown("Its own access groups, and those of all above it.", [1, 3]),
    )


class NamedShape(Shape):
    """Something with a name that is chosen for a cardholder."""

    id = serializers.IntegerField(**told("Its id.", 2))
    name = serializers.CharField(**told("Its name.", "Northlight Marine"))


class CustomFieldShape(Shape):
    """A field of cardholders that the site defined."""

    id = serializers.IntegerField(**told("Its id, by which values are named.", 1))
    labels = serializers.DictField(
        child=serializers.CharField(), **told("Its label by language.", {"en": "Locker"})
    )
    type = serializers.ChoiceField(
        choices=[kind.value for kind in FieldType], **told("What values it takes.", "text")
    )
    is_required = serializers.BooleanField(**told("Every cardholder needs a value.", False))
    is_unique = serializers.BooleanField(**told("No two have the same value.", True))


def _rows(view: ApiView) -> list[dict[str, Any]]:
    names = ("id", "version", "number", "name", "is_retired", "default_groups", "proposed_groups")
    return [
        {name: row[name] for name in names} | {"parent": row["parent_id"]}
        for row in departments_with_groups(view.actor())
    ]


def _save(view: ApiView, id_: int | None, values: dict[str, Any]) -> dict[str, Any]:
    draft = DepartmentDraft(
        values["number"], values["name"], values["parent"], values["is_retired"], values["version"]
    )
    saved = save_department_with_groups(
        view.actor(), id_, draft, values["default_groups"], timezone.now()
    )
    return dict(one_of(_rows(view), saved, NOT_FOUND))


class Departments(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.SET_UP}

    @extend_schema(parameters=[PageQuery], responses=page_of(DepartmentShape))
    def get(self, request: Request) -> Response:
        """List departments."""
        return self.page_of(_rows(self), self.asked(PageQuery, request))

    @extend_schema(request=DepartmentShape, responses={201: DepartmentShape})
    @once
    def post(self, request: Request) -> Response:
        """Make a department."""
        row = _save(self, None, self.new(DepartmentShape, request) | {"version": 0})
        return with_version(row, status.HTTP_201_CREATED, f"departments/{row['id']}")


class OneDepartment(ApiView):
    tag = TAG
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PUT": Permission.SET_UP,
        "PATCH": Permission.SET_UP,
    }

    @extend_schema(responses=DepartmentShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a department."""
        return with_version(one_of(_rows(self), id, NOT_FOUND))

    @extend_schema(request=DepartmentShape, responses=DepartmentShape)
    def put(self, request: Request, id: int) -> Response:
        """Save a whole department."""
        return with_version(_save(self, id, self.whole(DepartmentShape, request)))

    @extend_schema(request=DepartmentShape, responses=DepartmentShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of a department."""
        now = one_of(_rows(self), id, NOT_FOUND)
        return with_version(_save(self, id, self.patched(DepartmentShape, now, request)))


class Companies(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(NamedShape))
    def get(self, request: Request) -> Response:
        """List companies."""
        return self.page_of(_named(companies(self.actor())), self.asked(PageQuery, request))


class Kinds(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(NamedShape))
    def get(self, request: Request) -> Response:
        """List kinds of cardholders."""
        return self.page_of(_named(kinds()), self.asked(PageQuery, request))


class Formats(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(NamedShape))
    def get(self, request: Request) -> Response:
        """List card formats."""
        return self.page_of(_named(card_formats()), self.asked(PageQuery, request))


class CustomFields(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(parameters=[PageQuery], responses=page_of(CustomFieldShape))
    def get(self, request: Request) -> Response:
        """List custom fields."""
        names = ("id", "labels", "type", "is_required", "is_unique")
        rows = [{name: row[name] for name in names} for row in custom_fields()]
        return self.page_of(rows, self.asked(PageQuery, request))


def _named(rows: Any) -> list[dict[str, Any]]:
    return [{"id": row["id"], "name": row["name"]} for row in rows]

"""What comes in and goes out about groups, schedules and cardholders' files."""

from typing import Any

from rest_framework import serializers

from cadrin.access.commands.groups import GrantDraft, GroupDraft
from cadrin.operators.rest.base import Shape, WholeField, rows_of
from cadrin.sites.rest.fields import text
from cadrin.sites.rest.shapes import Choice

MOST_GRANTS = 5000


class GrantShape(Shape):
    door = WholeField()
    schedule = WholeField()


class GroupShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(max_length=60, allow_blank=True)
    remarks = serializers.CharField(max_length=200, allow_blank=True, default="")
    overrides = serializers.BooleanField(default=False)
    grants = rows_of(GrantShape, MOST_GRANTS, default=list)


class Group(GroupShape):
    id = serializers.IntegerField()
    member_count = serializers.IntegerField()


def group_draft(values: dict[str, Any]) -> GroupDraft:
    """Return the draft that was sent."""
    grants = tuple(GrantDraft(value["door"], value["schedule"]) for value in values["grants"])
    return GroupDraft(
        values["name"], values["remarks"], grants, values["version"], values["overrides"]
    )


class Member(Shape):
    cardholder_id = serializers.IntegerField()
    name = serializers.CharField()
    number = serializers.CharField()
    activation_at = serializers.DateTimeField(allow_null=True)
    expiry_at = serializers.DateTimeField(allow_null=True)


class RetirableChoice(Choice):
    is_retired = serializers.BooleanField()


class DepartmentChoice(RetirableChoice):
    """A department; ``default_groups`` are its own, ``proposed_groups`` those that are proposed
    to whoever comes into it: its own and those of all above it.
    """

    number = serializers.CharField()
    parent_id = serializers.IntegerField(allow_null=True)
    depth = serializers.IntegerField()
    default_groups = serializers.ListField(child=serializers.IntegerField())
    proposed_groups = serializers.ListField(child=serializers.IntegerField())
    version = serializers.IntegerField()


class DepartmentWithPeople(DepartmentChoice):
    people = serializers.IntegerField()


class DepartmentShape(Shape):
    version = WholeField(min_value=0, default=0)
    number = text()
    name = text()
    parent_id = WholeField(allow_null=True, default=None)
    is_retired = serializers.BooleanField(default=False)
    default_groups = serializers.ListField(child=WholeField(), default=list, max_length=100)


class MergeDepartment(Shape):
    into = WholeField()


class Moved(Shape):
    moved = serializers.IntegerField()

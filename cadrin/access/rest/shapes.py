"""What comes in and goes out about groups, schedules and cardholders' files."""

from collections.abc import Iterable
from typing import Any

from rest_framework import serializers

from cadrin.access.drafts import GrantDraft, GroupDraft, RuleDraft
from cadrin.core.access.plan import Way
from cadrin.operators.rest.base import Shape, WholeField, rows_of
from cadrin.sites.rest.fields import text
from cadrin.sites.rest.shapes import Choice

MOST_GRANTS = 5000
MOST_RULES = 50


class GrantShape(Shape):
    """A door with a schedule, or an area: all doors into it; both ways through them or one alone."""

    door = WholeField(allow_null=True, default=None)
    area = WholeField(allow_null=True, default=None)
    schedule = WholeField()
    way = serializers.ChoiceField([way.value for way in Way], default=Way.BOTH.value)


class OpensShape(Shape):
    door = serializers.IntegerField()
    schedule = serializers.IntegerField()
    way = serializers.ChoiceField([way.value for way in Way])


class RuleShape(Shape):
    """Everybody of a department, a kind and a company; what is null does not matter."""

    department = WholeField(allow_null=True, default=None)
    kind = WholeField(allow_null=True, default=None)
    company = WholeField(allow_null=True, default=None)


class GroupShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(max_length=60, allow_blank=True)
    remarks = serializers.CharField(max_length=200, allow_blank=True, default="")
    overrides = serializers.BooleanField(default=False)
    owner_id = WholeField(allow_null=True, default=None)
    review_days = WholeField(allow_null=True, default=None)
    grants = rows_of(GrantShape, MOST_GRANTS, default=list)
    rules = rows_of(RuleShape, MOST_RULES, default=list)


class Group(GroupShape):
    id = serializers.IntegerField()
    member_count = serializers.IntegerField()
    opens = OpensShape(many=True)


def grant_drafts(rows: Iterable[dict[str, Any]]) -> tuple[GrantDraft, ...]:
    """Return the grants that were sent."""
    return tuple(
        GrantDraft(row["door"], row["schedule"], row["area"], Way(row["way"])) for row in rows
    )


def group_draft(values: dict[str, Any]) -> GroupDraft:
    """Return the draft that was sent."""
    return GroupDraft(
        values["name"],
        values["remarks"],
        grant_drafts(values["grants"]),
        values["version"],
        values["overrides"],
        values["owner_id"],
        values["review_days"],
        tuple(RuleDraft(row["department"], row["kind"], row["company"]) for row in values["rules"]),
    )


class Member(Shape):
    cardholder_id = serializers.IntegerField()
    name = serializers.CharField()
    number = serializers.CharField()
    activation_at = serializers.DateTimeField(allow_null=True)
    expiry_at = serializers.DateTimeField(allow_null=True)
    is_by_rule = serializers.BooleanField()


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

"""Access groups, for scripts."""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.queries import get_group, groups, members_page
from cadrin.access.rest.shapes import MOST_GRANTS, MOST_RULES, group_draft
from cadrin.api.base import (
    ApiView,
    PageQuery,
    cursor_number,
    one_of,
    page,
    with_version,
)
from cadrin.api.idempotency import once
from cadrin.api.pages import page_of
from cadrin.api.shapes import INSTANT, only_shown, text
from cadrin.core.access.plan import Way
from cadrin.enrolment.commands.memberships import add_people
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField, rows_of, told

TAG = "Access"
WAYS = [way.value for way in Way]


class GrantShape(Shape):
    """A door that the group opens, or an area: all doors into it; and when."""

    door = WholeField(
        allow_null=True, default=None, **told("Id of the door; see `/doors`. Null for an area.", 7)
    )
    area = WholeField(
        allow_null=True,
        default=None,
        **told("Id of the area; see `/areas`. Null for a door.", None),
    )
    schedule = WholeField(**told("Id of the schedule; see `/schedules`.", 2))
    way = serializers.ChoiceField(
        WAYS,
        default=Way.BOTH.value,
        **told("Which way through it: `in` or `out` alone, or `both`.", "both"),
    )


class OpensShape(Shape):
    """A door that the group opens, and when."""

    door = serializers.IntegerField(**told("Id of the door.", 7))
    schedule = serializers.IntegerField(**told("Id of the schedule.", 2))
    way = serializers.ChoiceField(WAYS, **told("Which way through it.", "both"))


class RuleShape(Shape):
    """Everybody of a department (or one below it), a kind and a company."""

    department = WholeField(
        allow_null=True, default=None, **told("Id of the department; null for any.", 4)
    )
    kind = WholeField(allow_null=True, default=None, **told("Id of the kind; null for any.", None))
    company = WholeField(
        allow_null=True, default=None, **told("Id of the company; null for any.", None)
    )


class GroupShape(Shape):
    """An access group: who is in it may open its doors by their schedules."""

    id = serializers.IntegerField(**only_shown("Its id.", 3))
    version = WholeField(allow_null=True, default=None, **told("Moves with each change.", 1))
    name = serializers.CharField(max_length=60, **told("Its name; unique.", "Boat Shed"))
    remarks = text("Remarks.")
    overrides = serializers.BooleanField(
        default=False, **told("It opens doors in their closed hours too.", False)
    )
    owner_id = WholeField(
        allow_null=True, default=None, **told("Id of the operator who answers for it.", None)
    )
    review_days = WholeField(
        allow_null=True, default=None, **told("Its people are looked through so often.", None)
    )
    rules = rows_of(
        RuleShape, MOST_RULES, default=list, **told("Whoever fits one of these is in it by that.")
    )
    grants = rows_of(GrantShape, MOST_GRANTS, default=list, **told("What it opens."))
    opens = OpensShape(
        many=True, **only_shown("Every door that its grants open now, those of its areas too.", [])
    )
    member_count = serializers.IntegerField(**only_shown("How many are in it.", 12))


class MemberShape(Shape):
    """Somebody in an access group."""

    cardholder = serializers.IntegerField(**told("Id of the cardholder.", 17))
    activation_at = serializers.DateTimeField(allow_null=True, **told("Counts from then on.", None))
    expiry_at = serializers.DateTimeField(allow_null=True, **told("Counts until then.", INSTANT))


class AddedShape(Shape):
    """Whom to put into the group."""

    cardholders = serializers.ListField(
        child=WholeField(), max_length=5000, **told("Ids of cardholders.", [17, 18])
    )


class AddedCountShape(Shape):
    """What came of it."""

    added = serializers.IntegerField(**told("How many were not in it before.", 2))


class Groups(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.GROUPS}

    @extend_schema(parameters=[PageQuery], responses=page_of(GroupShape))
    def get(self, request: Request) -> Response:
        """List access groups."""
        return self.page_of(groups(self.actor()), self.asked(PageQuery, request))

    @extend_schema(request=GroupShape, responses={201: GroupShape})
    @once
    def post(self, request: Request) -> Response:
        """Make an access group."""
        values = self.new(GroupShape, request) | {"version": 0}
        id_ = save_group(self.actor(), None, group_draft(values), timezone.now())
        row = one_of(groups(self.actor()), id_, "group.not_found")
        return with_version(row, status.HTTP_201_CREATED, f"groups/{id_}")


class OneGroup(ApiView):
    tag = TAG
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PUT": Permission.GROUPS,
        "PATCH": Permission.GROUPS,
        "DELETE": Permission.GROUPS,
    }

    @extend_schema(responses=GroupShape)
    def get(self, request: Request, id: int) -> Response:
        """Get an access group."""
        return with_version(self._now(id))

    @extend_schema(request=GroupShape, responses=GroupShape)
    def put(self, request: Request, id: int) -> Response:
        """Save a whole access group."""
        return self._saved(id, self.whole(GroupShape, request))

    @extend_schema(request=GroupShape, responses=GroupShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of an access group."""
        return self._saved(id, self.patched(GroupShape, self._now(id), request))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        """Remove an access group that nobody is in."""
        remove_group(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    def _now(self, id_: int) -> dict[str, Any]:
        return dict(one_of(groups(self.actor()), id_, "group.not_found"))

    def _saved(self, id_: int, values: dict[str, Any]) -> Response:
        save_group(self.actor(), id_, group_draft(values), timezone.now())
        return with_version(self._now(id_))


class GroupMembers(ApiView):
    tag = TAG
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.ACCESS}

    @extend_schema(parameters=[PageQuery], responses=page_of(MemberShape))
    def get(self, request: Request, id: int) -> Response:
        """List who is in an access group."""
        asked, actor = self.asked(PageQuery, request), self.actor()
        get_group(actor, id)
        after = cursor_number(asked["cursor"])
        rows = members_page(actor, id, after, asked["limit"] + 1)
        members = [
            {"cardholder": row["cardholder_id"]}
            | {name: row[name] for name in ("activation_at", "expiry_at")}
            for row in rows
        ]
        return page(members, asked["limit"], lambda row: row["cardholder"])

    @extend_schema(request=AddedShape, responses=AddedCountShape)
    @once
    def post(self, request: Request, id: int) -> Response:
        """Put cardholders into an access group."""
        wanted = self.new(AddedShape, request)["cardholders"]
        return Response({"added": add_people(self.actor(), id, wanted, timezone.now())})

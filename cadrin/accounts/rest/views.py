from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.accounts import queries
from cadrin.accounts.commands import one_time, operators, passwords, roles, sessions, tokens
from cadrin.accounts.rest import shapes
from cadrin.operators.permissions import HOUSE_WIDE, Permission
from cadrin.operators.rest.base import HouseView, Saved

JOURNAL, OPERATORS = Permission.JOURNAL, Permission.OPERATORS


class Operators(HouseView):
    needs: ClassVar = {"GET": JOURNAL, "POST": OPERATORS}

    @extend_schema(responses=shapes.OperatorRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(shapes.OperatorRow(queries.operators(self.actor()), many=True).data)

    @extend_schema(request=shapes.OperatorShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.operator_draft(self.given(shapes.OperatorShape, request))
        id_ = operators.save_operator(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneOperator(HouseView):
    needs: ClassVar = {"PUT": OPERATORS}

    @extend_schema(request=shapes.OperatorShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.operator_draft(self.given(shapes.OperatorShape, request))
        return Response({"id": operators.save_operator(self.actor(), id, draft, timezone.now())})


class OperatorLink(HouseView):
    """Make a link with which an operator sets a new password; the present one ends at once."""

    needs: ClassVar = {"POST": OPERATORS}

    @extend_schema(request=None, responses={201: shapes.LinkShape})
    def post(self, request: Request, id: int) -> Response:
        link = passwords.make_link(self.actor(), id, timezone.now())
        return Response({"path": link.path}, status.HTTP_201_CREATED)


class OperatorSessions(HouseView):
    """End an operator's sessions, wherever they are."""

    needs: ClassVar = {"DELETE": OPERATORS}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        sessions.end_sessions(self.actor(), operators.get_operator(id), timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class OperatorCodes(HouseView):
    """Turn an operator's one-time codes off: for whoever lost the device and the recovery codes."""

    needs: ClassVar = {"DELETE": OPERATORS}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        one_time.forget_codes(self.actor(), operators.get_operator(id), timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Roles(HouseView):
    needs: ClassVar = {"GET": JOURNAL, "POST": OPERATORS}

    @extend_schema(responses=shapes.RolesShape)
    def get(self, request: Request) -> Response:
        permissions = [{"name": item, "is_house_wide": item in HOUSE_WIDE} for item in Permission]
        return Response({"roles": queries.roles(), "permissions": permissions})

    @extend_schema(request=shapes.RoleShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.role_draft(self.given(shapes.RoleShape, request))
        return Response(
            {"id": roles.save_role(self.actor(), None, draft, timezone.now())},
            status.HTTP_201_CREATED,
        )


class OneRole(HouseView):
    needs: ClassVar = {"PUT": OPERATORS, "DELETE": OPERATORS}

    @extend_schema(request=shapes.RoleShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.role_draft(self.given(shapes.RoleShape, request))
        return Response({"id": roles.save_role(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        roles.remove_role(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Tokens(HouseView):
    """Tokens with which scripts use the API. The key of a new one is in the answer, and nowhere
    else.
    """

    needs: ClassVar = {"GET": JOURNAL, "POST": OPERATORS}

    @extend_schema(responses=shapes.TokenRow(many=True))
    def get(self, request: Request) -> Response:
        return Response(
            shapes.TokenRow(queries.tokens(self.actor(), timezone.now()), many=True).data
        )

    @extend_schema(request=shapes.TokenShape, responses={201: shapes.NewToken})
    def post(self, request: Request) -> Response:
        draft = shapes.token_draft(self.given(shapes.TokenShape, request))
        return Response(
            {"key": tokens.make_token(self.actor(), draft, timezone.now())}, status.HTTP_201_CREATED
        )


class OneToken(HouseView):
    needs: ClassVar = {"DELETE": OPERATORS}

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        tokens.withdraw_token(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

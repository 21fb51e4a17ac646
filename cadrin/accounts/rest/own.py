"""What whoever works here does for themselves: come in and go, and see to their own account."""

from typing import Any, ClassVar, cast

import segno
from django.conf import settings
from django.contrib.auth import login, logout, update_session_auth_hash
from django.utils import timezone
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import AnonRateThrottle

from cadrin.accounts import queries
from cadrin.accounts.commands import one_time, passwords, sessions
from cadrin.accounts.commands.operators import OwnWays, set_own_ways
from cadrin.accounts.rest import shapes
from cadrin.operators.actor import actor_of
from cadrin.operators.models import Operator
from cadrin.operators.rest.base import HouseView, address_of
from cadrin.operators.rest.permissions import IsAnOperator


class SignInThrottle(AnonRateThrottle):
    scope = "sign_in"


class OpenView(HouseView):
    """Open to anybody: it is how one comes in. What is written is slowed, and needs the page's
    token.
    """

    permission_classes = [AllowAny]

    def get_throttles(self) -> list[Any]:
        return [SignInThrottle()] if self.request.method == "POST" else []


def _session_of(request: Request) -> dict[str, Any]:
    idle = {"idle_minutes": settings.SESSION_IDLE_MINUTES}
    if not isinstance(request.user, Operator):
        nobody: dict[str, Any] = {
            "is_signed_in": False,
            "operator": None,
            "name": "",
            "language": None,
            "region": "",
            "permissions": [],
            "is_kept": False,
            "version": "",  # what runs here is nobody's business who is not signed in
        }
        return nobody | idle
    actor = actor_of(request.user)
    return {
        "is_signed_in": True,
        "operator": actor.operator_id,
        "name": actor.name,
        "language": actor.language,
        "region": request.user.region,
        "permissions": sorted(actor.permissions),
        "is_kept": not actor.scope.is_whole,
        "version": settings.VERSION,
        **idle,
    }


@method_decorator(ensure_csrf_cookie, name="get")
@method_decorator(csrf_protect, name="post")
class SessionView(OpenView):
    """Who is signed in; come in, and go."""

    @extend_schema(responses=shapes.SessionShape)
    def get(self, request: Request) -> Response:
        return Response(_session_of(request))

    @extend_schema(request=shapes.SignIn, responses=shapes.SessionShape)
    def post(self, request: Request) -> Response:
        given = self.given(shapes.SignIn, request)
        asked = request._request
        operator = sessions.sign_in(asked, address_of(asked), **given, at=timezone.now())
        login(asked, operator, backend=settings.AUTHENTICATION_BACKENDS[0])
        request.user = operator
        return Response(_session_of(request))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        sessions.sign_out(cast(Any, request.user), address_of(request._request), timezone.now())
        logout(request._request)
        # whatever the browser kept of it, pictures too, is not for whoever sits down next
        return Response(status=status.HTTP_204_NO_CONTENT, headers={"Clear-Site-Data": '"cache"'})


@method_decorator(csrf_protect, name="post")
class PasswordByLink(OpenView):
    """Set a password by a link that an administrator made."""

    @extend_schema(request=shapes.LinkToUse, responses={204: None})
    def post(self, request: Request) -> Response:
        given = self.given(shapes.LinkToUse, request)
        link = passwords.Link(given["who"], given["token"])
        passwords.set_password(link, given["new"], address_of(request._request), timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class OwnView(HouseView):
    """For operators themselves, whatever their role; never for a script."""

    permission_classes = [IsAnOperator]
    is_ones_own: ClassVar = True

    @property
    def operator(self) -> Operator:
        return cast(Operator, self.request.user)


class Account(OwnView):
    @extend_schema(responses=shapes.AccountShape)
    def get(self, request: Request) -> Response:
        return Response(queries.account(self.operator))

    @extend_schema(request=shapes.OwnWays, responses=shapes.AccountShape)
    def put(self, request: Request) -> Response:
        given = self.given(shapes.OwnWays, request)
        set_own_ways(self.actor(), self.operator, OwnWays(**given), timezone.now())
        return Response(queries.account(self.operator))


class OwnPassword(OwnView):
    @extend_schema(request=shapes.NewPassword, responses={204: None})
    def put(self, request: Request) -> Response:
        given = self.given(shapes.NewPassword, request)
        passwords.change_password(
            self.actor(), self.operator, given["present"], given["new"], timezone.now()
        )
        update_session_auth_hash(request._request, self.operator)
        return Response(status=status.HTTP_204_NO_CONTENT)


class OwnSessions(OwnView):
    """End one's sessions everywhere else."""

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        sessions.end_sessions(self.actor(), self.operator, timezone.now())
        update_session_auth_hash(request._request, self.operator)
        return Response(status=status.HTTP_204_NO_CONTENT)


class OwnCodes(OwnView):
    """One-time codes: propose a secret, and turn them on with the first code."""

    @extend_schema(request=None, responses=shapes.CodesProposed)
    def post(self, request: Request) -> Response:
        proposed = one_time.propose_codes(self.operator)
        picture = segno.make_qr(proposed.uri).svg_data_uri(scale=4)
        return Response({**proposed._asdict(), "picture": picture})

    @extend_schema(request=shapes.CodeShape, responses=shapes.RecoveryCodes)
    def put(self, request: Request) -> Response:
        code = self.given(shapes.CodeShape, request)["code"]
        return Response(
            {"codes": one_time.confirm_codes(self.actor(), self.operator, code, timezone.now())}
        )


class OwnCodesOff(OwnView):
    """Turn one's one-time codes off, which takes the password."""

    @extend_schema(request=shapes.PasswordShape, responses={204: None})
    def post(self, request: Request) -> Response:
        password = self.given(shapes.PasswordShape, request)["password"]
        one_time.turn_codes_off(self.actor(), self.operator, password, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

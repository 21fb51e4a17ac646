from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import AnonRateThrottle
from rest_framework.views import APIView

from cadrin.core.errors import Invalid
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape


class SignIn(Shape):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class Session(Shape):
    is_signed_in = serializers.BooleanField()
    name = serializers.CharField()
    permissions = serializers.ListField(child=serializers.ChoiceField(choices=[p.value for p in Permission]))


def _session_of(request: Request) -> dict[str, Any]:
    if not request.user.is_authenticated:
        return {"is_signed_in": False, "name": "", "permissions": []}
    actor = actor_of(request.user)
    return {"is_signed_in": True, "name": actor.name, "permissions": sorted(actor.permissions)}


class SignInThrottle(AnonRateThrottle):
    scope = "sign_in"


@method_decorator(ensure_csrf_cookie, name="get")
@method_decorator(csrf_protect, name="post")
class SessionView(APIView):
    """Who is signed in. Open to anybody: it is how one comes in."""

    permission_classes = [AllowAny]

    def get_throttles(self) -> list[Any]:
        return [SignInThrottle()] if self.request.method == "POST" else []

    @extend_schema(responses=Session)
    def get(self, request: Request) -> Response:
        return Response(_session_of(request))

    @extend_schema(request=SignIn, responses=Session)
    def post(self, request: Request) -> Response:
        given = SignIn(data=request.data)
        given.is_valid(raise_exception=True)
        operator = authenticate(request, **given.validated_data)
        if operator is None:
            raise Invalid.of("operator.wrong_password", "password")
        login(request, operator)
        request.user = operator
        return Response(_session_of(request))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        logout(request)
        return Response(status=status.HTTP_204_NO_CONTENT)

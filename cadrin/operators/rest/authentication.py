"""Who is behind a request: an operator with a session, or a script with a token."""

import hashlib
from contextlib import suppress
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.db import OperationalError, transaction
from django.utils import timezone
from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework.authentication import BaseAuthentication, SessionAuthentication
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request

from cadrin.core.sign_in import has_ended
from cadrin.operators.models import ApiToken, Operator
from cadrin.operators.notes import hurried
from cadrin.operators.sessions import SessionStore

SEEN_IS_NOTED_EVERY = timedelta(minutes=1)
PRESENT = "X-Present"
"""The header by which the page says that somebody is at it; what it asks by itself does not keep a
session going.
"""


class Session(SessionAuthentication):
    """The framework's session, which ends when nobody was at the page for long."""

    def authenticate(self, request: Request) -> tuple[Operator, None] | None:
        found: tuple[Operator, None] | None = super().authenticate(request)
        if found is None:
            return None
        now, session = timezone.now(), request._request.session
        assert isinstance(session, SessionStore)
        seen_at = session.seen_at()
        if seen_at and has_ended(seen_at, now, timedelta(minutes=settings.SESSION_IDLE_MINUTES)):
            logout(request._request)
            return None
        if seen_at is None or (
            request.headers.get(PRESENT) and now - seen_at >= SEEN_IS_NOTED_EVERY
        ):
            session.note_seen(now)
        return found


class Token(BaseAuthentication):
    """``Authorization: Bearer …``; one that is unknown, over or withdrawn is refused, and all three
    alike.
    """

    def authenticate(self, request: Request) -> tuple[ApiToken, ApiToken] | None:
        kind, _, key = request.headers.get("Authorization", "").partition(" ")
        if kind.lower() != "bearer":
            return None
        now = timezone.now()
        token = (
            ApiToken.objects.select_related("role")
            .filter(digest=digest_of_key(key), withdrawn_at=None, expires_at__gt=now)
            .first()
        )
        if token is None:
            raise NotAuthenticated
        if token.used_at is None or now - token.used_at >= SEEN_IS_NOTED_EVERY:
            with suppress(OperationalError), hurried(), transaction.atomic():
                ApiToken.objects.filter(pk=token.pk).update(used_at=now)
        return token, token

    def authenticate_header(self, request: Request) -> str:
        return "Bearer"


def digest_of_key(key: str) -> str:
    """Return what is kept of a key; keys are long and random, so that a plain hash tells nothing of
    them.
    """
    return hashlib.sha256(key.encode()).hexdigest()


class _SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = Session
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": settings.SESSION_COOKIE_NAME}


class _TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = Token
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "http", "scheme": "bearer"}

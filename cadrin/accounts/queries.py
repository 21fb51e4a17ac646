"""Read operators, roles and tokens, for the screens that set them up."""

from datetime import datetime
from typing import Any

from django.conf import settings
from django.db.models import Count, Q

from cadrin.accounts.commands.one_time import codes_left, has_codes
from cadrin.operators.actor import Actor
from cadrin.operators.models import ApiToken, Operator, Role
from cadrin.operators.permissions import known
from cadrin.outbox.rows import Rows


def operators(actor: Actor) -> Rows:
    """Return every operator, whoever may come in first, by name; whoever is kept to a part sees
    none but themselves.
    """
    seen = Q() if actor.scope.is_whole else Q(pk=actor.operator_id or 0)
    found = Operator.objects.filter(seen).order_by(
        "-is_active", "last_name", "first_name", "username"
    )
    with_codes = set(
        Operator.objects.filter(one_time_secret__confirmed_at__isnull=False).values_list(
            "id", flat=True
        )
    )
    return [
        {
            "id": item.pk,
            "username": item.username,
            "first_name": item.first_name,
            "last_name": item.last_name,
            "email": item.email,
            "language": item.language,
            "role": item.role_id,
            "limited_to": item.limited_to,
            "is_active": item.is_active,
            "has_password": item.has_usable_password(),
            "has_codes": item.pk in with_codes,
            "last_login": item.last_login,
            "version": item.version,
        }
        for item in found
    ]


def roles() -> Rows:
    """Return every role with how many operators and tokens have it."""
    found = Role.objects.order_by("id").annotate(
        people=Count("operators", distinct=True), scripts=Count("tokens", distinct=True)
    )
    return [
        {
            "id": role.pk,
            "name": role.name,
            "permissions": sorted(known(role.permissions)),
            "operators": role.people,
            "tokens": role.scripts,
            "version": role.version,
        }
        for role in found
    ]


def tokens(actor: Actor, at: datetime) -> Rows:
    """Return every token, those that still count first, the newest first. Nothing of their keys is
    known.

    Whoever is kept to a part of the house sees none.
    """
    if not actor.scope.is_whole:
        return []
    found = ApiToken.objects.select_related("role").order_by("-id")
    rows = [
        {
            "id": token.pk,
            "name": token.name,
            "role": token.role_id,
            "limited_to": token.limited_to,
            "made_at": token.made_at,
            "expires_at": token.expires_at,
            "withdrawn_at": token.withdrawn_at,
            "used_at": token.used_at,
            "is_in_force": token.withdrawn_at is None and at < token.expires_at,
        }
        for token in found
    ]
    return sorted(rows, key=lambda row: not row["is_in_force"])


def account(operator: Operator) -> dict[str, Any]:
    """Return what operators see of themselves."""
    return {
        "username": operator.username,
        "name": str(operator),
        "role": str(operator.role or ""),
        "language": operator.language,
        "region": operator.region,
        "notices_by_mail": operator.notices_by_mail,
        "can_be_mailed": bool(operator.email and settings.EMAIL_HOST),
        "has_codes": has_codes(operator),
        "recovery_codes_left": codes_left(operator),
    }

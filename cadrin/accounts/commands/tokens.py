"""Make and withdraw the tokens with which scripts use the API."""

import secrets
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db import transaction

from cadrin.accounts.commands.operators import KeptTo, problems_with_scope, scope_words
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.models import ApiToken, Role
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.authentication import digest_of_key

TOKEN = "token"  # noqa: S105 - a kind of topic
LONGEST_NAME = 60
LONGEST_LIFE = timedelta(days=366)
PREFIX = "cadrin_"
"""So that a key that got out can be found by what it looks like."""


class TokenDraft(NamedTuple):
    """A token as an administrator wants it."""

    name: str
    role_id: int
    expires_at: datetime
    limited_to: KeptTo = {}


def problems_with_token(draft: TokenDraft, at: datetime) -> tuple[Problem, ...]:
    """Return everything against making the token, each beside its field."""
    name = draft.name.strip()
    problems = [] if name else [Problem("input.blank", "name")]
    if len(name) > LONGEST_NAME:
        problems.append(Problem("input.too_long", "name", {"most": LONGEST_NAME}))
    if not Role.objects.filter(pk=draft.role_id).exists():
        problems.append(Problem("input.no_longer_there", "role"))
    if draft.expires_at <= at:
        problems.append(Problem("token.expiry_past", "expires_at"))
    elif draft.expires_at > at + LONGEST_LIFE:
        problems.append(Problem("token.expiry_far", "expires_at", {"days": LONGEST_LIFE.days}))
    return (*problems, *problems_with_scope(draft.limited_to))


@transaction.atomic
def make_token(actor: Actor, draft: TokenDraft, at: datetime) -> str:
    """Make a token and give its key, which is shown once and kept nowhere. Raises Invalid or
    NotPermitted.
    """
    actor.require(Permission.OPERATORS)
    if problems := problems_with_token(draft, at):
        raise Invalid(problems)
    key = PREFIX + secrets.token_urlsafe(32)
    limited_to = {kind: sorted(set(ids)) for kind, ids in draft.limited_to.items()}
    token = ApiToken.objects.create(
        name=draft.name.strip(),
        digest=digest_of_key(key),
        role_id=draft.role_id,
        limited_to=limited_to,
        made_at=at,
        expires_at=draft.expires_at,
    )
    scope = {
        kind: (None, names) for kind, names in scope_words(limited_to).items() if names is not None
    }
    changes = {
        "name": (None, token.name),
        "role": (None, token.role.name),
        "expiry_at": (None, token.expires_at.isoformat()),
    }
    record(actor, at, [Act("token.made", (About(TOKEN, token.pk),), changes | scope)])
    return key


@transaction.atomic
def withdraw_token(actor: Actor, token_id: int, at: datetime) -> None:
    """End a token at once. Raises NotFound or NotPermitted."""
    actor.require(Permission.OPERATORS)
    token = ApiToken.objects.filter(pk=token_id, withdrawn_at=None).first()
    if token is None:
        raise NotFound.of("token.not_found")
    token.withdrawn_at = at
    token.save(update_fields=["withdrawn_at"])
    record(
        actor, at, [Act("token.withdrawn", (About(TOKEN, token.pk),), {"name": (token.name, None)})]
    )

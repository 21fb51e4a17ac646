"""Change a password, and set one by a link that is good once."""

from datetime import datetime
from typing import NamedTuple

from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from cadrin.accounts.commands.operators import OPERATOR, get_operator
from cadrin.accounts.waits import forget_failures, note_failure, require_no_wait
from cadrin.core.errors import Invalid, Problem
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.models import Operator
from cadrin.operators.permissions import Permission


class Link(NamedTuple):
    """What the address holds with which an operator sets a password: who, and a token that is good once, for a day."""

    who: str
    token: str

    @property
    def path(self) -> str:
        return f"/password/{self.who}/{self.token}"


def problems_with_password(password: str, operator: Operator, field: str) -> tuple[Problem, ...]:
    """Give what the framework's validators have against a password."""
    try:
        validate_password(password, operator)
    except ValidationError as error:
        found = error.error_list
        return tuple(
            Problem(f"password.{one.code}", field, {"least": (one.params or {}).get("min_length")}) for one in found
        )
    return ()


def change_password(actor: Actor, operator: Operator, present: str, new: str, at: datetime) -> None:
    """Change one's own password; every other session of the operator ends. Raises Invalid."""
    require_no_wait(operator.username, at)
    if not operator.check_password(present):
        note_failure(operator.username, at)
        raise Invalid.of("operator.wrong_password", "present")
    if problems := problems_with_password(new, operator, "new"):
        raise Invalid(problems)
    _set(actor, operator, new, at)


@transaction.atomic
def make_link(actor: Actor, operator_id: int, at: datetime) -> Link:
    """Make a link with which an operator sets a new password. The present one, and every session, end at once.

    Raises NotFound or NotPermitted.
    """
    actor.require(Permission.OPERATORS)
    operator = get_operator(operator_id)
    operator.set_unusable_password()
    operator.save(update_fields=["password"])
    forget_failures(operator.username)
    named = {"name": (str(operator), str(operator))}
    record(actor, at, [Act("operator.link_made", (About(OPERATOR, operator.pk),), named)])
    return Link(urlsafe_base64_encode(force_bytes(operator.pk)), default_token_generator.make_token(operator))


def set_password(link: Link, new: str, address: str, at: datetime) -> Operator:
    """Set the password by a link. Raises Invalid when the link is over, was used, or never was one."""
    operator = _operator_of(link)
    if operator is None or not operator.is_active or not default_token_generator.check_token(operator, link.token):
        raise Invalid.of("password.link_over")
    if problems := problems_with_password(new, operator, "new"):
        raise Invalid(problems)
    _set(actor_of(operator, address), operator, new, at)
    return operator


def _operator_of(link: Link) -> Operator | None:
    try:
        id_ = int(urlsafe_base64_decode(link.who))
    except ValueError:
        return None
    return Operator.objects.filter(pk=id_).first() if 0 < id_ < 2**62 else None


@transaction.atomic
def _set(actor: Actor, operator: Operator, new: str, at: datetime) -> None:
    operator.set_password(new)
    operator.save(update_fields=["password"])
    forget_failures(operator.username)
    named = {"name": (str(operator), str(operator))}
    record(actor, at, [Act("operator.password_changed", (About(OPERATOR, operator.pk),), named)])

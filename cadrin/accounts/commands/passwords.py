"""Change a password, and set one by a link that is good once."""

from contextlib import nullcontext
from datetime import datetime
from typing import NamedTuple

from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from cadrin.accounts.commands.operators import OPERATOR, get_operator, keeping_an_administrator
from cadrin.core.errors import Invalid, Problem
from cadrin.core.sign_in import TRIES
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.models import Operator
from cadrin.operators.permissions import Permission
from cadrin.operators.tries import Counted, forget_tries, give_back, take_try


class Link(NamedTuple):
    """What the address holds with which an operator sets a password: who, and a token that is good
    once, for a day.
    """

    who: str
    token: str

    @property
    def path(self) -> str:
        return f"/password/{self.who}/{self.token}"


def tries_of_name(username: str) -> Counted:
    """Return what wrong passwords under a name are counted for, whether or not an
    operator has it.
    """
    return Counted("sign-in", username, TRIES)


def check_own_password(operator: Operator, password: str, field: str, at: datetime) -> None:
    """Raise Invalid unless this is the operator's password; wrong ones are slowed as they are at
    signing in.
    """
    tries = (tries_of_name(operator.username),)
    take_try(tries, at, "operator.must_wait", field)
    if not operator.check_password(password):
        raise Invalid.of("operator.wrong_password", field)
    give_back(tries)


def problems_with_password(password: str, operator: Operator, field: str) -> tuple[Problem, ...]:
    """Return what the framework's validators have against a password."""
    try:
        validate_password(password, operator)
    except ValidationError as error:
        found = error.error_list
        return tuple(
            Problem(
                f"password.{item.code}", field, {"least": (item.params or {}).get("min_length")}
            )
            for item in found
        )
    return ()


def change_password(actor: Actor, operator: Operator, present: str, new: str, at: datetime) -> None:
    """Change one's own password; every other session of the operator ends. Raises Invalid."""
    check_own_password(operator, present, "present", at)
    if problems := problems_with_password(new, operator, "new"):
        raise Invalid(problems)
    _set(actor, operator, new, at)


@transaction.atomic
def make_link(actor: Actor, operator_id: int, at: datetime, *, is_recovery: bool = False) -> Link:
    """Make a link with which an operator sets a new password. The present one, and every session,
    end at once.

    ``is_recovery`` on the machine itself, where the last administrator is let in again. Raises
    Invalid when it would shut out the last one, NotFound or NotPermitted.
    """
    actor.require(Permission.OPERATORS)
    operator = get_operator(operator_id)
    with nullcontext() if is_recovery else keeping_an_administrator():
        operator.set_unusable_password()
        operator.save(update_fields=["password"])
    forget_tries(tries_of_name(operator.username))
    named = {"name": (str(operator), str(operator))}
    record(actor, at, [Act("operator.link_made", (About(OPERATOR, operator.pk),), named)])
    return Link(
        urlsafe_base64_encode(force_bytes(operator.pk)),
        default_token_generator.make_token(operator),
    )


@transaction.atomic
def set_password(link: Link, new: str, address: str, at: datetime) -> Operator:
    """Set the password by a link. Raises Invalid when the link is over, was used, or
    never was one.
    """
    operator = _operator_of(link)
    if (
        operator is None
        or not operator.is_active
        or not default_token_generator.check_token(operator, link.token)
    ):
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
    forget_tries(tries_of_name(operator.username))
    named = {"name": (str(operator), str(operator))}
    record(actor, at, [Act("operator.password_changed", (About(OPERATOR, operator.pk),), named)])

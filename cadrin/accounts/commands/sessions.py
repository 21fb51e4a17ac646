"""Sign in and out, and end sessions."""

from datetime import datetime

from django.contrib.auth import authenticate
from django.contrib.auth.models import AnonymousUser
from django.db import transaction
from django.db.models import F
from django.http import HttpRequest

from cadrin.accounts.commands.one_time import has_codes, take_code
from cadrin.accounts.commands.operators import OPERATOR
from cadrin.accounts.commands.passwords import tries_of_name
from cadrin.core.errors import Invalid, Problem
from cadrin.core.sign_in import COUNTED_FOR_AN_ADDRESS, TRIES_OF_AN_ADDRESS
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.models import Operator
from cadrin.operators.tries import Counted, forget_tries, give_back, take_try


def sign_in(
    request: HttpRequest, address: str, username: str, password: str, code: str, at: datetime
) -> Operator:
    """Check who wants to come in, and write it down; the caller begins the session. Raises Invalid.

    ``code`` is a one-time code or a recovery code; it is asked for only once the password was
    right. Tries are slowed for the name, and for the address over all names.
    """
    tries = (
        tries_of_name(username),
        Counted("address", address, TRIES_OF_AN_ADDRESS, COUNTED_FOR_AN_ADDRESS),
    )
    take_try(tries, at, "operator.must_wait", "password")
    found = authenticate(request, username=username, password=password)
    operator = found if isinstance(found, Operator) else None
    if operator is None:
        _refuse(username, address, Problem("operator.wrong_password", "password"), at)
    elif has_codes(operator):
        if not code:
            give_back(tries)
            raise Invalid.of("operator.code_needed", "code")
        if not take_code(operator, code, at):
            _refuse(username, address, Problem("operator.wrong_code", "code"), at)
    assert operator is not None  # refused above
    with transaction.atomic():
        forget_tries(tries[0])
        give_back(tries[1:])
        record(
            actor_of(operator, address), at, [Act("session.begun", (About(OPERATOR, operator.pk),))]
        )
    return operator


@transaction.atomic
def _note_refusal(username: str, address: str, code: str, at: datetime) -> None:
    operator = Operator.objects.filter(username=username).first()
    if operator:  # a name that nobody has may be a password, typed in the wrong place
        why = {"why": (None, code)}
        record(Actor(None, str(operator), frozenset(), address=address), at, [
            Act("session.refused", (About(OPERATOR, operator.pk),), why)
        ])  # fmt: skip


def _refuse(username: str, address: str, problem: Problem, at: datetime) -> None:
    _note_refusal(username, address, problem.code, at)
    raise Invalid([problem])


@transaction.atomic
def sign_out(user: Operator | AnonymousUser, address: str, at: datetime) -> None:
    """Write down that an operator left; the caller ends the session."""
    if isinstance(user, Operator):
        record(actor_of(user, address), at, [Act("session.ended", (About(OPERATOR, user.pk),))])


@transaction.atomic
def end_sessions(actor: Actor, operator: Operator, at: datetime) -> None:
    """End every session of an operator, wherever it is."""
    Operator.objects.filter(pk=operator.pk).update(sessions=F("sessions") + 1)
    operator.sessions += 1
    record(
        actor,
        at,
        [Act("operator.sessions_ended", (About(OPERATOR, operator.pk),), _named(operator))],
    )


def _named(operator: Operator) -> dict[str, tuple[str, str]]:
    return {"name": (str(operator), str(operator))}

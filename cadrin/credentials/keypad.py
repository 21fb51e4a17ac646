"""What cardholders type at a desk's keypad, when they choose their PIN themselves: twice, and
nobody sees it.

It is kept only while an operator waits for it, and is that operator's alone: the token that leads
to it cannot be guessed, and is good for nobody else.
"""

import secrets
from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.models import KeypadWait, TypedPin
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal, unseal

KEPT = timedelta(minutes=3)
TOKEN_BYTES = 24


class Typed(NamedTuple):
    """How often something was typed since the cardholder was asked to, and how long the latest is:
    never what.
    """

    times: int
    length: int


def begin_wait(actor: Actor, reader_id: int, at: datetime) -> str:
    """Wait for a cardholder to type at a keypad, and return the token by which it is asked for and
    used.

    Whoever waited there before waits no more. Raises NotPermitted; for a script too, which sits at
    no desk.
    """
    actor.require(Permission.ISSUE)
    if actor.operator_id is None:
        raise NotFound.of("reader.not_found")
    KeypadWait.objects.filter(reader_id=reader_id).delete()
    wait = KeypadWait.objects.create(
        token=secrets.token_urlsafe(TOKEN_BYTES),
        operator_id=actor.operator_id,
        reader_id=reader_id,
        begun_at=at,
    )
    return wait.token


def keep_typed(reader_id: int, digits: str, at: datetime) -> None:
    """Keep what was typed at a keypad, if somebody waits for it there, for as long as they may need
    it.
    """
    forget_typed(at)
    wait = KeypadWait.objects.filter(reader_id=reader_id).first()
    if wait:
        TypedPin.objects.create(wait=wait, sealed=seal(digits), at=at)


def forget_typed(at: datetime) -> int:
    """Forget what is too old to be used."""
    old = KeypadWait.objects.filter(begun_at__lt=at - KEPT)
    return old.delete()[0] if old.exists() else 0


def typed_for(actor: Actor, token: str) -> Typed:
    """Say what was typed for an operator's wait. Raises NotFound when it is over or another's, or
    NotPermitted.
    """
    found = _typed(actor, token)
    return Typed(len(found), len(found[-1]) if found else 0)


def take_typed(actor: Actor, token: str) -> tuple[str, str]:
    """Return what was typed last, and what was typed before it. Raises Invalid when it is gone, or
    NotPermitted.
    """
    try:
        found = _typed(actor, token)
    except NotFound:
        found = []
    if not found:
        raise Invalid.of("pin.typed_is_gone", None)
    return found[-1], found[-2] if len(found) > 1 else ""


def _typed(actor: Actor, token: str) -> list[str]:
    actor.require(Permission.ISSUE)
    wait = KeypadWait.objects.filter(token=token, operator_id=actor.operator_id or 0).first()
    if wait is None:
        raise NotFound.of("keypad.wait_is_over")
    return [unseal(typed.sealed) for typed in wait.typed.order_by("id")]

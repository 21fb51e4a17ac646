"""Turn one-time codes on and off, and take one."""

import hashlib
import secrets
from datetime import datetime
from typing import NamedTuple

import pyotp
from django.db import transaction

from cadrin.accounts.commands.operators import OPERATOR
from cadrin.accounts.commands.passwords import check_own_password
from cadrin.core.errors import Invalid
from cadrin.core.one_time_codes import step_taken
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.models import OneTimeSecret, Operator, RecoveryCode
from cadrin.operators.sealing import seal, unseal

RECOVERY_CODES = 10
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
"""Without those that are mistaken for each other."""


class Proposed(NamedTuple):
    """A secret to be put into an authenticator, as text and as the address that its QR
    code holds.
    """

    secret: str
    uri: str


def has_codes(operator: Operator) -> bool:
    return OneTimeSecret.objects.filter(operator=operator, confirmed_at__isnull=False).exists()


@transaction.atomic
def propose_codes(operator: Operator) -> Proposed:
    """Make a new secret, which counts once a code of it was given. Raises Invalid while codes are
    on.
    """
    if has_codes(operator):
        raise Invalid.of("codes.on_already")
    secret = pyotp.random_base32()
    OneTimeSecret.objects.filter(operator=operator).delete()
    OneTimeSecret.objects.create(operator=operator, sealed=seal(secret))
    return Proposed(
        secret, pyotp.TOTP(secret, name=operator.username, issuer="Cadrin").provisioning_uri()
    )


@transaction.atomic
def confirm_codes(actor: Actor, operator: Operator, code: str, at: datetime) -> list[str]:
    """Turn one-time codes on with the first of them; give the recovery codes, which are shown once.
    Raises Invalid.
    """
    proposed = OneTimeSecret.objects.filter(operator=operator, confirmed_at=None).first()
    if proposed is None:
        raise Invalid.of("codes.not_begun")
    step = step_taken(unseal(proposed.sealed), _plain(code), at, proposed.last_step)
    if step is None:
        raise Invalid.of("operator.wrong_code", "code")
    proposed.confirmed_at, proposed.last_step = at, step
    proposed.save()
    codes = [_new_recovery_code() for _ in range(RECOVERY_CODES)]
    RecoveryCode.objects.filter(operator=operator).delete()
    RecoveryCode.objects.bulk_create(
        RecoveryCode(operator=operator, digest=_digest(code)) for code in codes
    )
    record(actor, at, [_act("operator.codes_on", operator)])
    return codes


def turn_codes_off(actor: Actor, operator: Operator, password: str, at: datetime) -> None:
    """Turn one's own one-time codes off, which takes the password. Raises Invalid."""
    check_own_password(operator, password, "password", at)
    forget_codes(actor, operator, at)


@transaction.atomic
def forget_codes(actor: Actor, operator: Operator, at: datetime) -> None:
    """Let an operator come in by password alone again."""
    had = has_codes(operator)
    OneTimeSecret.objects.filter(operator=operator).delete()
    RecoveryCode.objects.filter(operator=operator).delete()
    if had:
        record(actor, at, [_act("operator.codes_off", operator)])


@transaction.atomic
def take_code(operator: Operator, code: str, at: datetime) -> bool:
    """Say whether a one-time code or a recovery code is right, and take it: it is right no second
    time.
    """
    secret = OneTimeSecret.objects.get(operator=operator, confirmed_at__isnull=False)
    step = step_taken(unseal(secret.sealed), _plain(code), at, secret.last_step)
    if step is not None:
        secret.last_step = step
        secret.save(update_fields=["last_step"])
        return True
    unused = RecoveryCode.objects.filter(operator=operator, digest=_digest(code), used_at=None)
    return unused.update(used_at=at) == 1


def _new_recovery_code() -> str:
    return "-".join("".join(secrets.choice(_LETTERS) for _ in range(5)) for _ in range(5))


def codes_left(operator: Operator) -> int:
    return RecoveryCode.objects.filter(operator=operator, used_at=None).count()


def _plain(code: str) -> str:
    return "".join(code.split())


def _digest(code: str) -> str:
    # 25 letters of 31 carry 123 bits: there is nothing to guess, so a plain hash is enough
    return hashlib.sha256(code.strip().lower().encode()).hexdigest()


def _act(action: str, operator: Operator) -> Act:
    return Act(action, (About(OPERATOR, operator.pk),), {"name": (str(operator), str(operator))})

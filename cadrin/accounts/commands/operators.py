"""Make and change operators: their role, what they are kept to, and whether they may come in."""

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import datetime
from typing import Any, NamedTuple

from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import transaction

from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.naming import names_of
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.models import Operator, Role
from cadrin.operators.permissions import Permission, known
from cadrin.operators.scope import scope_of

OPERATOR = "operator"
LANGUAGES = ("en", "de")
REGIONS = ["", "AT", "AU", "CA", "CH", "DE", "GB", "IE", "NZ", "US"]
"""Countries (ISO 3166-1) whose way of writing days and times can be chosen; empty is the language's own."""
LONGEST = {"username": 150, "first_name": 150, "last_name": 150, "email": 254}
_KEPT_TO = {"sites": "site", "departments": "department", "companies": "company"}
"""Kind of scope to what it is of."""

KeptTo = Mapping[str, Sequence[int]]
"""Kind of scope to ids; one that is not named is not kept."""


class OperatorDraft(NamedTuple):
    """An operator as an administrator wants it. ``version`` is the one it was read at; 0 for a new
    one.
    """

    username: str
    first_name: str
    last_name: str
    role_id: int
    limited_to: KeptTo = {}
    email: str = ""
    language: str = "en"
    is_active: bool = True
    version: int = 0


def get_operator(operator_id: int) -> Operator:
    """Raises NotFound."""
    operator = Operator.objects.filter(pk=operator_id).first()
    if operator is None:
        raise NotFound.of("operator.not_found")
    return operator


def problems_with_operator(draft: OperatorDraft, operator_id: int | None) -> tuple[Problem, ...]:
    """Return everything against saving the operator, each beside its field."""
    problems = [
        Problem("input.too_long", field, {"most": most})
        for field, most in LONGEST.items()
        if len(getattr(draft, field)) > most
    ]
    if not (draft.first_name.strip() or draft.last_name.strip()):
        problems.append(Problem("input.blank", "first_name"))
    try:
        UnicodeUsernameValidator()(draft.username)
    except ValidationError:
        problems.append(
            Problem("operator.username_letters" if draft.username else "input.blank", "username")
        )
    twins = Operator.objects.filter(username__iexact=draft.username).exclude(pk=operator_id or 0)
    if twins.exists():
        problems.append(Problem("operator.username_taken", "username"))
    if not Role.objects.filter(pk=draft.role_id).exists():
        problems.append(Problem("input.no_longer_there", "role"))
    if draft.language not in LANGUAGES:
        problems.append(Problem("input.invalid_choice", "language"))
    return (*problems, *problems_with_scope(draft.limited_to))


def problems_with_scope(limited_to: KeptTo) -> tuple[Problem, ...]:
    """Return the kinds of scope that reach nothing, or something that is not there."""
    problems = []
    for kind, ids in limited_to.items():
        there = names_of(_KEPT_TO[kind], ids)
        if not ids:
            problems.append(Problem("scope.nothing", f"kept_to.{kind}"))
        elif there.keys() != set(ids):
            problems.append(Problem("input.no_longer_there", f"kept_to.{kind}"))
    return tuple(problems)


def scope_words(limited_to: KeptTo) -> dict[str, list[str] | None]:
    """Return names for the ids of a scope, for the journal."""
    return {
        kind: sorted(names_of(named, limited_to[kind]).values()) if kind in limited_to else None
        for kind, named in _KEPT_TO.items()
    }


@transaction.atomic
def save_operator(actor: Actor, operator_id: int | None, draft: OperatorDraft, at: datetime) -> int:
    """Make an operator, or save one, and give its id. One who may not come in any more has no
    session from then on.

    A new operator has no password: it is set by a link. Raises Invalid, Stale, NotFound or
    NotPermitted.
    """
    actor.require(Permission.OPERATORS)
    operator = Operator(version=0) if operator_id is None else get_operator(operator_id)
    if operator.version != draft.version:
        raise Stale(
            operator.version, history_of(OPERATOR, operator.pk, after_version=draft.version)
        )
    if problems := problems_with_operator(draft, operator_id):
        raise Invalid(problems)
    before = {} if operator_id is None else _as_shown(operator)
    for name in ("username", "first_name", "last_name", "email", "language", "is_active"):
        setattr(operator, name, getattr(draft, name))
    operator.role, operator.limited_to = Role.objects.get(pk=draft.role_id), _kept(draft.limited_to)
    operator.version += 1
    if operator_id is None:
        operator.set_unusable_password()
    changes = changes_between(before, _as_shown(operator))
    if not changes:
        return operator.pk
    if not operator.is_active:
        operator.sessions += 1
    with keeping_an_administrator():
        operator.save()
    action = "operator.made" if operator_id is None else "operator.changed"
    record(actor, at, [Act(action, (About(OPERATOR, operator.pk, operator.version),), changes)])
    return operator.pk


def _as_shown(operator: Operator) -> dict[str, Any]:
    own = {
        name: getattr(operator, name)
        for name in ("username", "first_name", "last_name", "email", "language")
    }
    return (
        own
        | {"is_active": operator.is_active, "role": str(operator.role or "")}
        | scope_words(operator.limited_to)
    )


def _kept(limited_to: KeptTo) -> dict[str, list[int]]:
    return {kind: sorted(set(ids)) for kind, ids in limited_to.items()}


@contextmanager
def keeping_an_administrator() -> Iterator[None]:
    """Raise Invalid when what is done within this leaves nobody who may change operators: nobody
    could ever again.

    Where there was nobody before, as in a new house, nothing is lost.
    """
    there_was = has_administrator()
    yield
    if there_was and not has_administrator():
        raise Invalid.of("operator.last_administrator")


def has_administrator() -> bool:
    """Say whether anybody may change operators who can come in: without a password nobody can."""
    return any(
        operator.has_usable_password()
        and operator.role is not None
        and Permission.OPERATORS in known(operator.role.permissions)
        and scope_of(operator.limited_to).is_whole
        for operator in Operator.objects.filter(is_active=True)
    )


class OwnWays(NamedTuple):
    """What operators choose for themselves: their language, the region whose way of writing days
    and times they read, and whether what needs somebody comes by mail as well.
    """

    language: str
    region: str
    notices_by_mail: bool


@transaction.atomic
def set_own_ways(actor: Actor, operator: Operator, ways: OwnWays, at: datetime) -> None:
    """Raises Invalid."""
    if ways.language not in LANGUAGES:
        raise Invalid.of("input.invalid_choice", "language")
    if ways.region not in REGIONS:
        raise Invalid.of("input.invalid_choice", "region")
    before = {name: getattr(operator, name) for name in OwnWays._fields}
    changes = changes_between(before, ways._asdict())
    if not changes:
        return
    for name, value in ways._asdict().items():
        setattr(operator, name, value)
    operator.version += 1
    operator.save(update_fields=[*OwnWays._fields, "version"])
    record(
        actor,
        at,
        [Act("operator.changed", (About(OPERATOR, operator.pk, operator.version),), changes)],
    )

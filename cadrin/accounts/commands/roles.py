"""Make, change and remove roles."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.accounts.commands.operators import keeping_an_administrator
from cadrin.core.errors import Invalid, NotFound, Problem, Stale
from cadrin.core.people.names import fold
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.models import Role
from cadrin.operators.permissions import READY_MADE, Permission

ROLE = "role"
LONGEST_NAME = 40


class RoleDraft(NamedTuple):
    """A role as an administrator wants it. ``version`` is the one it was read at; 0 for
    a new one.
    """

    name: str
    permissions: frozenset[Permission]
    version: int = 0


def get_role(role_id: int) -> Role:
    """Raises NotFound."""
    role = Role.objects.filter(pk=role_id).first()
    if role is None:
        raise NotFound.of("role.not_found")
    return role


def problems_with_role(draft: RoleDraft, role_id: int | None) -> tuple[Problem, ...]:
    """Return everything against saving the role, each beside its field."""
    name = draft.name.strip()
    problems = [] if name else [Problem("input.blank", "name")]
    if len(name) > LONGEST_NAME:
        problems.append(Problem("input.too_long", "name", {"most": LONGEST_NAME}))
    others = Role.objects.exclude(pk=role_id or 0).values_list("name", flat=True)
    if any(fold(other) == fold(name) for other in others):
        problems.append(Problem("listed.taken", "name", {"name": name}))
    if draft.permissions and Permission.SEE not in draft.permissions:
        problems.append(Problem("role.must_see", "permissions"))
    if Permission.OPERATORS in draft.permissions and Permission.JOURNAL not in draft.permissions:
        problems.append(Problem("role.must_read", "permissions"))
    return tuple(problems)


@transaction.atomic
def save_role(actor: Actor, role_id: int | None, draft: RoleDraft, at: datetime) -> int:
    """Make a role, or save one, and give its id; whoever has it may do so much from their next
    request on.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.OPERATORS)
    role = Role(version=0) if role_id is None else get_role(role_id)
    if role.version != draft.version:
        raise Stale(role.version, history_of(ROLE, role.pk, after_version=draft.version))
    if problems := problems_with_role(draft, role_id):
        raise Invalid(problems)
    before = {} if role_id is None else {"name": role.name, "permissions": sorted(role.permissions)}
    role.name, role.permissions = draft.name.strip(), sorted(draft.permissions)
    changes = changes_between(before, {"name": role.name, "permissions": role.permissions})
    if not changes:
        return role.pk
    role.version += 1
    with keeping_an_administrator():
        role.save()
    action = "role.made" if role_id is None else "role.changed"
    record(actor, at, [Act(action, (About(ROLE, role.pk, role.version),), changes)])
    return role.pk


@transaction.atomic
def remove_role(actor: Actor, role_id: int, at: datetime) -> None:
    """Remove a role that nobody has. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.OPERATORS)
    role = get_role(role_id)
    if count := role.operators.count() + role.tokens.count():
        raise Invalid.of("role.in_use", None, count=count)
    changes = {"name": (role.name, None), "permissions": (role.permissions, None)}
    role.delete()
    record(actor, at, [Act("role.removed", (About(ROLE, role_id),), changes)])


def ready_made_roles() -> None:
    """Make the roles that come with Cadrin where there is none of that name."""
    for name, permissions in READY_MADE.items():
        Role.objects.get_or_create(name=name, defaults={"permissions": sorted(permissions)})

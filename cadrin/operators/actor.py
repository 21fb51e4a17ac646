"""Who acts: what a command needs to know of an operator, or of a script."""

from dataclasses import dataclass

from django.contrib.auth.models import AnonymousUser

from cadrin.core.errors import NotPermitted
from cadrin.operators.models import ApiToken, Operator
from cadrin.operators.permissions import HOUSE_WIDE, Permission, known
from cadrin.operators.scope import WHOLE, Scope, scope_of


@dataclass(frozen=True, slots=True)
class Actor:
    """An operator, a script with a token, or a part of Cadrin that acts by itself.

    Only an operator has an ``operator_id``. ``address`` is where the act comes from, as the journal
    says it.
    """

    operator_id: int | None
    name: str
    permissions: frozenset[Permission]
    scope: Scope = WHOLE
    address: str = ""
    language: str = "en"

    def require(self, permission: Permission) -> None:
        """Raise NotPermitted unless the actor may do this."""
        if permission not in self.permissions:
            raise NotPermitted.of("operator.not_permitted", permission=permission.value)


def actor_of(user: "Operator | ApiToken | AnonymousUser", address: str = "") -> Actor:
    """Return the actor behind a request. Raises NotPermitted for nobody."""
    if not isinstance(user, Operator | ApiToken):
        raise NotPermitted.of("operator.not_signed_in")
    scope = scope_of(user.limited_to)
    permissions = known(user.role.permissions) if user.role else frozenset()
    if not scope.is_whole:
        permissions -= HOUSE_WIDE
    if isinstance(user, ApiToken):
        return Actor(None, str(user), permissions, scope, address)
    return Actor(user.pk, str(user), permissions, scope, address, user.language)


def system_actor(name: str) -> Actor:
    """Return the actor for acts that no operator does: loading the demo, ending what has
    expired.
    """
    return Actor(None, name, frozenset(Permission))


def name_of_user(user: "Operator | ApiToken | AnonymousUser") -> str:
    """Return what tells whoever asks from everybody else: an operator or a token by its id."""
    return f"{'token' if isinstance(user, ApiToken) else 'operator'} {user.pk}"

"""Who acts: what a command needs to know of an operator."""

from dataclasses import dataclass

from django.contrib.auth.models import AnonymousUser
from django.core.cache import cache

from cadrin.core.errors import NotPermitted
from cadrin.operators.models import Operator
from cadrin.operators.permissions import Permission

_APP = "operators."
PERMISSIONS_ARE_KEPT_SECONDS = 5
"""How long a permission taken away may still be used; it saves two queries on every request."""


@dataclass(frozen=True, slots=True)
class Actor:
    """An operator, or a part of Cadrin that acts by itself and has no ``operator_id``."""

    operator_id: int | None
    name: str
    permissions: frozenset[Permission]

    def require(self, permission: Permission) -> None:
        """Raise NotPermitted unless the actor may do this."""
        if permission not in self.permissions:
            raise NotPermitted.of("operator.not_permitted", permission=permission.value)


def actor_of(user: Operator | AnonymousUser) -> Actor:
    """Give the actor behind a request. Raises NotPermitted for nobody."""
    if not isinstance(user, Operator):
        raise NotPermitted.of("operator.not_signed_in")
    granted = cache.get_or_set(f"permissions:{user.pk}", user.get_all_permissions, PERMISSIONS_ARE_KEPT_SECONDS) or ()
    return Actor(user.pk, str(user), frozenset(p for p in Permission if _APP + p.value in granted))


def the_house(name: str) -> Actor:
    """Give the actor for acts that no operator does: loading the demo, ending what has expired."""
    return Actor(None, name, frozenset(Permission))

from collections.abc import Mapping
from typing import TYPE_CHECKING

from rest_framework.exceptions import MethodNotAllowed
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from cadrin.operators.actor import actor_of
from cadrin.operators.models import Operator
from cadrin.operators.permissions import Permission

# the framework reads its settings, and so this module, while its views are still loading
if TYPE_CHECKING:
    from rest_framework.views import APIView


class NamesItsPermission(BasePermission):
    """Allow what the view says in ``needs``, method by method; there is no method that it does not
    name.
    """

    def has_permission(self, request: Request, view: "APIView") -> bool:
        if not request.user.is_authenticated:
            return False
        needs: Mapping[str, Permission] = getattr(view, "needs", {})
        # whoever may read something may ask for its head
        needed = needs.get("GET" if request.method == "HEAD" else str(request.method))
        if needed is None:
            raise MethodNotAllowed(str(request.method))
        return needed in actor_of(request.user).permissions


class IsAnOperator(BasePermission):
    """Allow whoever is signed in what is their own account's; a script has none."""

    def has_permission(self, request: Request, view: "APIView") -> bool:
        return isinstance(request.user, Operator)

"""Who acts while nobody waits: the operator who began an intake, as far as they still may."""

from typing import Any

from cadrin.core.errors import NotPermitted
from cadrin.intake.models import Intake
from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.permissions import known
from cadrin.operators.queries import find_operator
from cadrin.operators.scope import KEPT_TO, scope_of


def actor_of_intake(intake: Intake) -> Actor:
    """Return whoever acts for an intake. Raises NotPermitted for an operator who may not sign in any
    more.
    """
    if intake.operator_id is None:
        told = intake.acts_as
        return Actor(
            None,
            intake.operator_name,
            known(told.get("permissions", ())),
            scope_of(told.get("scope", {})),
            intake.address,
        )
    operator = find_operator(intake.operator_id)
    if operator is None or not operator.is_active:
        raise NotPermitted.of("operator.not_signed_in")
    return actor_of(operator, intake.address)


def as_kept(actor: Actor) -> dict[str, Any]:
    """Return what must be kept of an actor who is no operator: a script, or Cadrin itself."""
    if actor.operator_id is not None:
        return {}
    scope = {
        kind: sorted(ids) for kind in KEPT_TO if (ids := getattr(actor.scope, kind)) is not None
    }
    return {"permissions": sorted(p.value for p in actor.permissions), "scope": scope}


def named_actor(intake: Intake) -> Actor:
    """Return whoever the journal names for an intake, who may do nothing by that."""
    return Actor(intake.operator_id, intake.operator_name, frozenset(), address=intake.address)

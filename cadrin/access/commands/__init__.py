"""Write groups, schedules, memberships, and a cardholder's whole file."""

import secrets

from cadrin.access.models import PlanVersion


def move_plan_version() -> None:
    """Say that what is kept of the plan is no longer true. Call it within the transaction of the change."""
    PlanVersion.objects.update_or_create(pk=1, defaults={"token": secrets.token_hex(8)})

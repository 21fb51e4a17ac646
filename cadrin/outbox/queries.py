"""Which version of the plan holds now."""

from cadrin.outbox.models import PlanVersion


def plan_version() -> str:
    """Give the token that every change to doors, schedules, groups and formats moves."""
    return PlanVersion.objects.filter(pk=1).values_list("token", flat=True).first() or ""

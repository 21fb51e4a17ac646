"""Which version of the plan holds now, and what is marked for delivery."""

from cadrin.outbox.models import Mark, PlanVersion
from cadrin.outbox.subjects import Subject


def plan_version() -> str:
    """Return the token that every change to doors, schedules, groups and formats moves."""
    return PlanVersion.objects.filter(pk=1).values_list("token", flat=True).first() or ""


def has_marks() -> bool:
    return Mark.objects.exists()


def count_marks() -> int:
    return Mark.objects.count()


def next_marks(most: int) -> list[Mark]:
    """Return the oldest marks, withdrawals first and by themselves."""
    # what takes something away goes before everything that waits
    withdrawals = list(Mark.objects.filter(is_withdrawal=True).order_by("id")[:most])
    return withdrawals or list(Mark.objects.order_by("id")[:most])


def marks_of_cardholder(cardholder_id: int) -> tuple[bool, bool]:
    """Say whether a cardholder is marked, and whether for something that is taken away."""
    marks = Mark.objects.filter(subject=Subject.CARDHOLDER, subject_id=cardholder_id)
    return marks.exists(), marks.filter(is_withdrawal=True).exists()

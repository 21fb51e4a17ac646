"""Which version of the plan holds now, and what is marked for delivery."""

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.outbox.models import Mark, PlanVersion
from cadrin.outbox.subjects import Subject

_version = RowsByIds(lambda: PlanVersion.objects.filter(pk__among=IDS).values_list("token"))


def plan_version() -> str:
    """Return the token that every change to doors, schedules, groups and formats moves."""
    rows = _version([1])
    return rows[0][0] if rows else ""


def has_marks() -> bool:
    return Mark.objects.exists()


def count_marks() -> int:
    return Mark.objects.count()


def next_marks(most: int) -> list[Mark]:
    """Return the oldest marks, withdrawals first and by themselves."""
    # what takes something away goes before everything that waits
    withdrawals = list(Mark.objects.filter(is_withdrawal=True).order_by("id")[:most])
    return withdrawals or list(Mark.objects.order_by("id")[:most])


def cardholders_marked() -> set[int] | None:
    """Return the cardholders of whom something is marked; None where a group or a controller is, and
    it may be anybody.
    """
    subjects = set(Mark.objects.values_list("subject", flat=True).distinct())
    if subjects & {Subject.GROUP, Subject.CONTROLLER}:
        return None
    marks = Mark.objects.filter(subject=Subject.CARDHOLDER)
    return set(marks.values_list("subject_id", flat=True)) if subjects else set()


def marks_of_cardholder(cardholder_id: int) -> tuple[bool, bool]:
    """Say whether a cardholder is marked, and whether for something that is taken away."""
    marks = Mark.objects.filter(subject=Subject.CARDHOLDER, subject_id=cardholder_id)
    return marks.exists(), marks.filter(is_withdrawal=True).exists()

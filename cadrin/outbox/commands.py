"""Mark for delivery. Call it within the transaction of the change, so that both happen
or neither.
"""

import secrets
from collections.abc import Iterable

from cadrin.config.database.inserting import insert_rows
from cadrin.outbox.models import Mark, PlanVersion
from cadrin.outbox.subjects import Subject


def mark_for_delivery(subject: Subject, ids: Iterable[int], *, is_withdrawal: bool = False) -> None:
    """Say that the records of these may differ from what the controllers hold.

    ``is_withdrawal`` when something is taken away from them: it is sent before everything else that
    waits.
    """
    insert_rows(
        Mark,
        ("subject", "subject_id", "is_withdrawal"),
        ((subject.value, id_, is_withdrawal) for id_ in sorted(set(ids))),
    )


def move_plan_version() -> None:
    """Say that what is kept of the plan is no longer true. Call it within the transaction of the
    change.
    """
    PlanVersion.objects.update_or_create(pk=1, defaults={"token": secrets.token_hex(8)})


def tell_controllers(with_their_people: Iterable[int] = (), *, at_once: bool = False) -> None:
    """Say that formats, doors, readers or the rule for PINs changed: every controller is sent them anew.

    ``with_their_people`` are the controllers at which cardholders' own records change by it.
    ``at_once`` is before everything else that is marked.
    """
    move_plan_version()
    # the plan of every controller is worked out anew with any mark of a group
    mark_for_delivery(Subject.GROUP, [0], is_withdrawal=at_once)
    mark_for_delivery(Subject.CONTROLLER, with_their_people)


def forget_marks(marks: Iterable[Mark]) -> None:
    """Remove marks that were turned into records, in the transaction in which they were."""
    Mark.objects.filter(pk__in=[mark.pk for mark in marks]).delete()

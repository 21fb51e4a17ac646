"""Mark for delivery. Call it within the transaction of the change, so that both happen or neither."""

from collections.abc import Iterable

from cadrin.outbox.models import Mark, Subject


def mark_for_delivery(subject: Subject, ids: Iterable[int], *, is_withdrawal: bool = False) -> None:
    """Say that the records of these may differ from what the controllers hold.

    ``is_withdrawal`` when something is taken away from them: it is sent before everything else that waits.
    """
    Mark.objects.bulk_create(
        Mark(subject=subject, subject_id=id_, is_withdrawal=is_withdrawal) for id_ in sorted(set(ids))
    )

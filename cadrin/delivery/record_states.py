"""Write what becomes of records: what the core's table says of each, many in one go."""

from collections.abc import Callable, Iterable, Mapping
from datetime import datetime
from itertools import islice

from django.db import connection, transaction
from django.db.models.expressions import RawSQL

from cadrin.config.database.conditions import condition_of
from cadrin.core.records.states import RecordAt, RecordState
from cadrin.delivery.models import Record

ROWS_AT_ONCE = 5000
"""So that nobody waits long for the writer's lock."""

Step = Callable[[RecordAt], RecordAt]


def is_not_held() -> RawSQL:
    """Match records that are not at their controller as they should be."""
    return condition_of(Record, "record_not_held")


def state_of(row: Record) -> RecordAt:
    """Return a record as the core takes it."""
    return RecordAt(row.wanted, row.confirmed, RecordState(row.state), row.is_withdrawal)


def advance(
    steps: Mapping[int, Step], at: datetime, refusals: Mapping[int, str] | None = None
) -> None:
    """Take records, by their ids, to their next state; those of which nothing is left to say are
    removed.

    What they are is read within the transaction: it may have changed while the controller was
    answering.
    """
    todo = iter(steps)
    while ids := list(islice(todo, ROWS_AT_ONCE)):
        with transaction.atomic():
            changed, gone = [], []
            columns = ("id", "wanted", "confirmed", "state", "is_withdrawal")
            for id_, wanted, confirmed, state, is_withdrawal in _rows(ids, columns):
                before = RecordAt(wanted, confirmed, RecordState(state), is_withdrawal)
                after = steps[id_](before)
                if after.is_gone:
                    gone.append(id_)
                elif after != before or after.state is not RecordState.HELD:
                    refusal = (
                        (refusals or {}).get(id_, "") if after.state is RecordState.REFUSED else ""
                    )
                    changed.append(
                        (
                            after.wanted,
                            after.confirmed,
                            after.state,
                            after.is_withdrawal,
                            refusal,
                            at,
                            id_,
                        )
                    )
            _write(changed)
            Record.objects.filter(pk__in=gone).delete()


def _rows(ids: list[int], columns: tuple[str, ...]) -> Iterable[tuple[int, str, str, str, bool]]:
    return Record.objects.filter(pk__in=ids).values_list(*columns)


def _write(changed: list[tuple[str, str, RecordState, bool, str, datetime, int]]) -> None:
    # many times as fast as through the models, and the writer's lock is held
    with connection.cursor() as cursor:
        cursor.executemany(
            "UPDATE delivery_record SET wanted = %s, confirmed = %s, state = %s, is_withdrawal = %s, refusal = %s,"
            " changed_at = %s WHERE id = %s",
            [(*row[:2], row[2].value, *row[3:]) for row in changed],
        )

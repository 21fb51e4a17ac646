"""Read how far batches have come."""

from typing import Any

from django.db.models import Count, F, Q

from cadrin.bulk.models import BulkChange, BulkState, BulkTarget
from cadrin.core.bulk import BulkAct
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.queries import display_names

_EXAMPLES = 5


def bulk_changes(actor: Actor, most: int = 20) -> Rows:
    """Return the latest batches, newest first; whoever is kept to a part of the house sees their
    own.
    """
    return [_told(row) for row in _rows().filter(bulk_changes_seen(actor))[:most]]


def bulk_change(bulk_change_id: int) -> Rows:
    """Return one batch, with whom it left alone and why; none if it is not there."""
    return [
        _told(row) | {"left_alone": _left_alone(bulk_change_id)}
        for row in _rows().filter(pk=bulk_change_id)
    ]


def bulk_changes_seen(actor: Actor) -> Q:
    return Q() if actor.scope.is_whole else Q(operator_id=actor.operator_id, operator__isnull=False)


def _rows() -> Any:
    return (
        BulkChange.objects.order_by("-id")
        .annotate(undone=Count("undone_by"))
        .values(
            "id",
            "operator_name",
            "at",
            "act",
            "value",
            "value_name",
            "total",
            "done",
            "changed",
            "state",
            "undone",
            undone_act=F("undoes__act"),
        )
    )


def _told(row: dict[str, Any]) -> dict[str, Any]:
    can_be = row["state"] != BulkState.AT_WORK and row["act"] != BulkAct.UNDO and not row["undone"]
    value = None if row["value"] is None else str(row["value"])
    return row | {"value": value, "can_be_undone": can_be and row["changed"] > 0, "left_alone": []}


def _left_alone(bulk_change_id: int) -> list[dict[str, Any]]:
    alone = BulkTarget.objects.filter(bulk_change_id=bulk_change_id).exclude(left_alone="")
    counts = alone.values_list("left_alone").annotate(Count("id")).order_by()
    return [
        {
            "why": why,
            "count": count,
            "examples": list(
                display_names(
                    alone.filter(left_alone=why)
                    .order_by("id")
                    .values_list("cardholder_id", flat=True)[:_EXAMPLES]
                ).values()
            ),
        }
        for why, count in counts
    ]

"""Read how far batches have come."""

from typing import Any

from django.db.models import Count, F, Q

from cadrin.core.bulk import BatchAct
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.people.queries import display_names
from cadrin.register.models import Batch, BatchState, BatchTarget

_EXAMPLES = 5


def batches(actor: Actor, most: int = 20) -> Rows:
    """Give the latest batches, newest first; whoever is kept to a part of the house sees their own."""
    return [_told(row) for row in _rows().filter(batches_seen(actor))[:most]]


def batch(batch_id: int) -> Rows:
    """Give one batch, with whom it left alone and why; none if it is not there."""
    return [_told(row) | {"left_alone": _left_alone(batch_id)} for row in _rows().filter(pk=batch_id)]


def batches_seen(actor: Actor) -> Q:
    return Q() if actor.scope.is_whole else Q(operator_id=actor.operator_id, operator__isnull=False)


def _rows() -> Any:
    return (
        Batch.objects.order_by("-id")
        .annotate(taken_back=Count("taken_back_by"))
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
            "taken_back",
            taken_back_act=F("takes_back__act"),
        )
    )


def _told(row: dict[str, Any]) -> dict[str, Any]:
    can_be = row["state"] != BatchState.AT_WORK and row["act"] != BatchAct.TAKE_BACK and not row["taken_back"]
    value = None if row["value"] is None else str(row["value"])
    return row | {"value": value, "can_be_taken_back": can_be and row["changed"] > 0, "left_alone": []}


def _left_alone(batch_id: int) -> list[dict[str, Any]]:
    alone = BatchTarget.objects.filter(batch_id=batch_id).exclude(left_alone="")
    counts = alone.values_list("left_alone").annotate(Count("id")).order_by()
    return [
        {
            "why": why,
            "count": count,
            "examples": list(
                display_names(
                    alone.filter(left_alone=why).order_by("id").values_list("cardholder_id", flat=True)[:_EXAMPLES]
                ).values()
            ),
        }
        for why, count in counts
    ]

"""Read how far deliveries have come."""

from collections.abc import Iterable
from typing import Any

from django.db.models import Count, Exists, F, OuterRef, Prefetch, Q

from cadrin.access.models import AccessGroup, Controller, Door, Reader, Schedule
from cadrin.access.scoping import controllers_seen, doors_seen, group_ids_hidden, readers_seen
from cadrin.cards.models import CardFormat
from cadrin.core.delivery import RecordKind
from cadrin.core.errors import NotFound
from cadrin.delivery.models import DeliveryState, Record
from cadrin.operators.actor import Actor
from cadrin.outbox.models import Mark, Subject
from cadrin.people.models import Cardholder
from cadrin.people.queries import get_cardholder
from cadrin.people.scoping import seen_by

NAMED_BY: dict[str, Any] = {
    RecordKind.FORMAT: (CardFormat, "name"),
    RecordKind.SCHEDULE: (Schedule, "name"),
    RecordKind.READER: (Reader, "name"),
    RecordKind.GROUP: (AccessGroup, "name"),
    RecordKind.CARDHOLDER: (Cardholder, "display_name"),
}


def not_held_counts(cardholder_ids: Iterable[int]) -> dict[int, int]:
    """Give, for those who have any, how many of their records are not yet at their controller."""
    rows = Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id__in=list(cardholder_ids))
    rows = rows.exclude(state=DeliveryState.HELD)
    return dict(rows.values_list("subject_id").annotate(Count("id")).order_by())


def has_record_not_held() -> Exists:
    """Match cardholders with a record that is not at its controller."""
    rows = Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id=OuterRef("pk"))
    return Exists(rows.exclude(state=DeliveryState.HELD))


def delivery_of(actor: Actor, cardholder_id: int) -> dict[str, Any]:
    """Give where a cardholder's records are, controller by controller. Raises NotFound.

    ``is_pending`` while a mark waits for the worker: then the records may not yet be those of the last act.
    """
    get_cardholder(actor, cardholder_id)
    seen = Controller.objects.filter(controllers_seen(actor.scope))
    rows = (
        Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id=cardholder_id, controller__in=seen)
        .order_by("controller_id")
        .values(
            "controller_id",
            "state",
            "refusal",
            "changed_at",
            name=F("controller__name"),
            failed_at=F("controller__link__failed_at"),
        )
    )
    records = list(rows)
    return {
        "is_pending": Mark.objects.filter(subject=Subject.CARDHOLDER, subject_id=cardholder_id).exists(),
        "records": records,
        "not_held": sum(1 for record in records if record["state"] != DeliveryState.HELD),
    }


def _records_seen(actor: Actor) -> Q:
    """Match records that are not about people, groups or readers out of the actor's reach."""
    if actor.scope.is_whole:
        return Q()
    people = Cardholder.objects.filter(seen_by(actor)).values("id")
    readers = Reader.objects.filter(readers_seen(actor.scope)).values("id")
    return (
        (~Q(kind=RecordKind.CARDHOLDER) | Q(subject_id__in=people))
        & (~Q(kind=RecordKind.READER) | Q(subject_id__in=readers))
        & ~Q(kind=RecordKind.GROUP, subject_id__in=group_ids_hidden(actor))
    )


def controllers(actor: Actor) -> list[dict[str, Any]]:
    """Give every controller within reach: what it should hold, what it holds, and how the line to it is."""
    counts: dict[int, dict[str, int]] = {}
    rows = (
        Record.objects.filter(_records_seen(actor))
        .values_list("controller_id", "state")
        .annotate(Count("id"))
        .order_by()
    )
    for controller_id, state, count in rows:
        counts.setdefault(controller_id, {})[state] = count
    found = []
    doors = Prefetch("doors", Door.objects.filter(doors_seen(actor.scope)))
    for one in (
        Controller.objects.filter(controllers_seen(actor.scope))
        .select_related("link")
        .order_by("id")
        .prefetch_related(doors)
    ):
        link = getattr(one, "link", None)
        found.append(
            {
                "id": one.pk,
                "name": one.name,
                "is_desk": one.is_desk,
                "doors": sorted(door.name for door in one.doors.all()),
                "counts": {state: counts.get(one.pk, {}).get(state, 0) for state in DeliveryState.values},
                "answered_at": link and link.answered_at,
                "failed_at": link and link.failed_at,
                "failure": link.failure if link else "",
                "clock_off_seconds": link.clock_off_seconds if link else 0,
                "capacity": link and link.capacity,
            }
        )
    return found


def get_controller(actor: Actor, controller_id: int) -> Controller:
    """Raises NotFound, for one that is out of the actor's reach as well."""
    controller = Controller.objects.filter(controllers_seen(actor.scope), pk=controller_id).first()
    if controller is None:
        raise NotFound.of("controller.not_found")
    return controller


def records_not_held(actor: Actor, controller_id: int, most: int = 200) -> list[dict[str, Any]]:
    """Give the records a controller does not hold as it should, oldest first, with the names of their subjects."""
    rows = list(
        Record.objects.filter(_records_seen(actor), controller_id=controller_id)
        .exclude(state=DeliveryState.HELD)
        .order_by("changed_at", "id")
        .values("id", "kind", "subject_id", "wanted", "confirmed", "state", "refusal", "changed_at")[:most]
    )
    names: dict[tuple[str, int], str] = {}
    for kind in {row["kind"] for row in rows}:
        model, field = NAMED_BY[kind]
        ids = [row["subject_id"] for row in rows if row["kind"] == kind]
        names |= {(kind, id_): name for id_, name in model.objects.filter(pk__in=ids).values_list("id", field)}
    return [
        {
            "id": row["id"],
            "kind": row["kind"],
            "subject_id": row["subject_id"],
            "name": names.get((row["kind"], row["subject_id"]), ""),
            "is_to_be_removed": not row["wanted"],
            "is_there": bool(row["confirmed"]),
            "state": row["state"],
            "refusal": row["refusal"],
            "changed_at": row["changed_at"],
        }
        for row in rows
    ]

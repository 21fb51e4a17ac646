"""Read how far deliveries have come."""

from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any

from django.db.models import Count, F, Q

from cadrin.access.plan import holders
from cadrin.access.queries import members_of_any
from cadrin.access.scoping import group_ids_hidden
from cadrin.biometrics.queries import has_template
from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.card.room import ANY_MEMORY, cards_left_out
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.records.cardholders import belongs_at
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.credentials.matching import has_card, has_pin, has_plate
from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.models import Link, Record
from cadrin.delivery.record_states import is_not_held
from cadrin.delivery.wanted import destinations, memories, plans_here
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.outbox.queries import cardholders_marked, marks_of_cardholder
from cadrin.people.queries import get_cardholder, people_matching
from cadrin.people.scoping import people_seen
from cadrin.sites.queries import controller_ids, door_ids, reader_ids

_OF_A_RECORD = ("wanted", "confirmed", "state", "refusal", "changed_at", "is_withdrawal")
_WHOSE_WHERE = ("subject_id", "controller_id")
_states = RowsByIds(
    lambda: Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id__among=IDS).values_list(
        *_WHOSE_WHERE, "state"
    )
)


def not_held_counts(people: Mapping[int, Holder]) -> dict[int, int]:
    """Return, for those who have any, at how many controllers that should hold them something else
    is held.

    Held is what a controller confirmed: where no record was ever sent, or written, none is.
    """
    state_of = {(id_, controller): state for id_, controller, state in _states(people)}
    counts = Counter(id_ for (id_, _), state in state_of.items() if state != RecordState.HELD)
    here, of_group = destinations()
    for id_, holder in people.items():
        expected = {
            controller
            for membership in holder.memberships
            for controller in of_group.get(membership.group_id, ())
        }
        for controller in expected:
            if (id_, controller) not in state_of and belongs_at(holder, here[controller]):
                counts[id_] += 1
    return dict(counts)


def room_at_controllers() -> dict[int, tuple[int, int | None]]:
    """Return, for each controller, how many cardholders it should hold now and how many it has room
    for; None where it does not say.
    """
    held = Record.objects.filter(kind=RecordKind.CARDHOLDER).exclude(wanted="")
    counts = dict(held.values_list("controller_id").annotate(Count("id")).order_by())
    return {
        id_: (counts.get(id_, 0), capacity)
        for id_, capacity in Link.objects.values_list("controller_id", "capacity")
    }


def carrying_at(here: Plan) -> Q:
    """Match whoever carries what a controller with this plan keeps: a card, or a PIN where a reader
    takes them.

    With a group that has a door there, and not departed, these are the people of `belongs_at`; a
    test holds the two together.
    """
    carries = has_card()
    if here.takes(Factor.PIN):
        carries |= has_pin()
    if here.takes(Factor.PLATE):
        carries |= has_plate()
    for factor in BIOMETRIC:
        if here.takes(factor):
            carries |= has_template(factor)
    return carries & ~Q(standing=Standing.DEPARTED)


def has_record_not_held() -> Q:
    """Match cardholders as `people_not_held` names them."""
    return Q(pk__among=people_not_held())


def people_not_held() -> set[int]:
    """Return the cardholders with a record that is not at its controller, or that should be there and
    was never written.
    """
    rows = Record.objects.filter(is_not_held()).values_list("kind", "subject_id")
    not_held = {id_ for kind, id_ in rows if kind == RecordKind.CARDHOLDER}
    return not_held | _people_without_a_record()


def _people_without_a_record() -> set[int]:
    """Return who should be known to a controller and is not yet.

    What was marked and taken has its records: only those of whom something is marked are looked at.
    """
    marked = cardholders_marked()
    if marked is not None and not marked:
        return set()
    found: set[int] = set()
    for controller_id, here in plans_here().items():
        there = Record.objects.filter(controller_id=controller_id, kind=RecordKind.CARDHOLDER)
        if marked is not None:
            there = there.filter(subject_id__among=marked)
        known = set(there.values_list("subject_id", flat=True))
        missing = members_of_any(here.groups, among=marked) - known
        due = people_matching(carrying_at(here) & Q(pk__among=missing))
        found.update(due.values_list("id", flat=True) if missing else ())
    return found


def delivery_of(actor: Actor, cardholder_id: int, at: datetime) -> dict[str, Any]:
    """Return where a cardholder's records are, controller by controller. Raises NotFound.

    ``is_pending`` while a mark waits for the worker: then the records may not yet be those of the
    last act. ``still_works`` where something was taken away that the controller does not know yet:
    until it does, an older record counts at its doors. ``left_out`` are the cards that would work
    and for which the controller has no room.
    """
    get_cardholder(actor, cardholder_id)
    is_pending, is_taking_away = marks_of_cardholder(cardholder_id)
    people, memory = holders([cardholder_id]), memories()
    cards = people[cardholder_id].cards if cardholder_id in people else ()
    records = _records_of(actor, cardholder_id)
    for row in records:
        is_there, takes_away = (
            bool(row.pop("confirmed")),
            row.pop("is_withdrawal") or is_taking_away,
        )
        of_this = memory.get(row["controller_id"], ANY_MEMORY)
        left_out = cards_left_out(cards, of_this, at)
        row |= {
            "still_works": is_there and takes_away,
            "left_out": [card.key for card in left_out],
            "is_without_templates": cardholder_id in of_this.without_templates,
            "keeps": _kept_at(row["controller_id"]) if is_there else [],
        }
    return {
        "is_pending": is_pending,
        "records": records,
        "not_held": not_held_counts(people).get(cardholder_id, 0),
        "worker_stopped_at": worker_stopped_at(at),
    }


def _kept_at(controller_id: int) -> list[str]:
    """Return the factors of which a controller keeps what somebody has: cards always, so that it can
    say whose an unwanted one is.
    """
    here = plans_here().get(controller_id, Plan())
    return [factor for factor in Factor if factor is Factor.CARD or here.takes(factor)]


def _records_of(actor: Actor, cardholder_id: int) -> list[dict[str, Any]]:
    rows = (
        Record.objects.filter(
            kind=RecordKind.CARDHOLDER,
            subject_id=cardholder_id,
            controller_id__in=controller_ids(actor),
        )
        .order_by("controller_id")
        .values(
            "controller_id",
            "state",
            "refusal",
            "changed_at",
            "is_withdrawal",
            "confirmed",
            name=F("controller__name"),
            failed_at=F("controller__link__failed_at"),
        )
    )
    return [dict(row) for row in rows]


def records_seen(actor: Actor) -> Q:
    """Match records that are not about people, groups or readers out of the actor's reach."""
    if actor.scope.is_whole:
        return Q()
    people = people_seen(actor).values("id")
    readers, doors = reader_ids(actor), door_ids(actor)
    return (
        (~Q(kind=RecordKind.CARDHOLDER) | Q(subject_id__in=people))
        & (~Q(kind=RecordKind.READER) | Q(subject_id__in=readers))
        & (~Q(kind=RecordKind.DOOR) | Q(subject_id__in=doors))
        & ~Q(kind=RecordKind.GROUP, subject_id__in=group_ids_hidden(actor))
    )


def records_not_held(actor: Actor, controller_id: int, most: int = 200) -> list[dict[str, Any]]:
    """Return what a controller does not hold as it should, withdrawals first, then the oldest, with
    names.
    """
    rows = list(
        Record.objects.filter(records_seen(actor), controller_id=controller_id)
        .filter(is_not_held())
        .order_by("-is_withdrawal", "changed_at", "id")
        .values("id", "kind", "subject_id", *_OF_A_RECORD)[:most]
    )
    names: dict[tuple[str, int], str] = {}
    for kind in {row["kind"] for row in rows}:  # the rules have no name of their own
        ids = [row["subject_id"] for row in rows if row["kind"] == kind]
        names |= {(kind, id_): name for id_, name in names_of(kind, ids).items()}
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
            "still_works": row["is_withdrawal"] and bool(row["confirmed"]),
        }
        for row in rows
    ]


def count_records_of(cardholder_ids: Iterable[int]) -> int:
    """Count the records of these cardholders, at all controllers together."""
    return Record.objects.filter(
        kind=RecordKind.CARDHOLDER, subject_id__in=list(cardholder_ids)
    ).count()


def state_at_controller(controller_id: int, cardholder_id: int) -> RecordState:
    """Say how far a controller is from holding a cardholder's record."""
    record = Record.objects.filter(
        controller_id=controller_id, kind=RecordKind.CARDHOLDER, subject_id=cardholder_id
    ).first()
    return RecordState(record.state) if record else RecordState.WAITING

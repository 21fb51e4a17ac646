"""From marks to records: what each controller should hold now."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import lru_cache

from django.db import connection, transaction

from cadrin.access.models import Membership
from cadrin.access.plan import holders, plan_version, readers_of_controllers, the_plan
from cadrin.access.queries import member_ids
from cadrin.core.access.plan import Plan
from cadrin.core.delivery import Body, RecordKey, RecordKind, digest, holder_body, plan_bodies, plan_here
from cadrin.delivery.models import DeliveryState, Link, Record
from cadrin.outbox.models import Mark, Subject

CARDHOLDERS_AT_ONCE = 500
"""So that nobody at a desk waits long for the writer's lock."""

Wanted = Mapping[tuple[int, RecordKey], str]
"""Controller and record to the digest it should have there; empty means that it should not be there."""


def plans_here() -> Mapping[int, Plan]:
    """Give, for every controller, the plan cut down to its doors."""
    return _plans_here_at(plan_version())


@lru_cache(maxsize=2)
def _plans_here_at(version: str) -> Mapping[int, Plan]:
    plan = the_plan()
    return {controller_id: plan_here(plan, doors) for controller_id, doors in readers_of_controllers().items()}


def memories() -> dict[int, str]:
    """Give the name of each controller's memory, as uses of cards are counted in it."""
    return {id_: memory_of(id_, store) for id_, store in Link.objects.values_list("controller_id", "store")}


def memory_of(controller_id: int, store: str) -> str:
    return f"{controller_id}:{store}"


def plan_bodies_at(controller_id: int) -> dict[RecordKey, Body]:
    """Give everything but the cardholders that a controller should hold."""
    here = plans_here().get(controller_id)
    return plan_bodies(here) if here else {}


def take_marks(at: datetime, most: int = CARDHOLDERS_AT_ONCE) -> int:
    """Turn the oldest marks into what controllers should hold; give how many marks were taken.

    One transaction: stopped in the middle, the marks are still there.
    """
    if not Mark.objects.exists():
        return 0
    with transaction.atomic():
        marks = list(Mark.objects.order_by("id")[:most])
        ids: dict[str, set[int]] = {}
        for mark in marks:
            ids.setdefault(mark.subject, set()).add(mark.subject_id)
        groups, controllers = ids.get(Subject.GROUP, set()), ids.get(Subject.CONTROLLER, set())
        if groups or controllers:
            _pass_on_to_people(groups, controllers)
            want_plans(at)
        want_cardholders(ids.get(Subject.CARDHOLDER, set()), at)
        Mark.objects.filter(pk__in=[mark.pk for mark in marks]).delete()
    return len(marks)


def _pass_on_to_people(group_ids: Iterable[int], controller_ids: Iterable[int]) -> None:
    """Mark the people whose records depend on these.

    The hours or doors of a group stand in its own record: its people's records differ only at
    controllers that come to know the group, or no longer do.
    """
    people: set[int] = set()
    for group_id in group_ids:
        rows = Record.objects.filter(kind=RecordKind.GROUP, subject_id=group_id).exclude(wanted="")
        before = set(rows.values_list("controller_id", flat=True))
        after = {controller_id for controller_id, here in plans_here().items() if group_id in here.groups}
        if before != after:
            people.update(member_ids(group_id))
    for controller_id in controller_ids:
        here = plans_here().get(controller_id, Plan())
        members = Membership.objects.filter(group_id__in=here.groups)
        people.update(members.values_list("cardholder_id", flat=True))
        held = Record.objects.filter(controller_id=controller_id, kind=RecordKind.CARDHOLDER)
        people.update(held.values_list("subject_id", flat=True))
    Mark.objects.bulk_create(Mark(subject=Subject.CARDHOLDER, subject_id=id_) for id_ in sorted(people))


def want_plans(at: datetime) -> None:
    """Set what all controllers should hold apart from cardholders."""
    wanted = {
        (controller_id, key): digest(key, body)
        for controller_id, here in plans_here().items()
        for key, body in plan_bodies(here).items()
    }
    rows = list(Record.objects.exclude(kind=RecordKind.CARDHOLDER))
    gone = {(row.controller_id, key_of(row)): "" for row in rows}
    _want(gone | wanted, rows, at)


def want_cardholders(cardholder_ids: Iterable[int], at: datetime) -> None:
    """Set what all controllers should hold of these cardholders."""
    ids = list(cardholder_ids)
    found, here, memory = holders(ids), plans_here(), memories()
    wanted = {}
    for id_ in ids:
        key = RecordKey(RecordKind.CARDHOLDER, id_)
        for controller_id, plan in here.items():
            body = holder_body(found[id_], plan, memory.get(controller_id, "")) if id_ in found else None
            wanted[controller_id, key] = "" if body is None else digest(key, body)
    rows = list(Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id__in=ids))
    _want(wanted, rows, at)


def key_of(row: Record) -> RecordKey:
    return RecordKey(RecordKind(row.kind), row.subject_id)


def _want(wanted: Wanted, rows: Iterable[Record], at: datetime) -> None:
    existing = {(row.controller_id, key_of(row)): row for row in rows}
    new, changed = [], []
    for (controller_id, key), one in wanted.items():
        row = existing.get((controller_id, key))
        if row is None and one:
            new.append((controller_id, key.kind.value, key.id, one, DeliveryState.WAITING.value, at))
        elif row is not None and row.wanted != one:
            # what was sent and not confirmed may have arrived: only an answer can tell
            is_held = one == row.confirmed != "" and row.state != DeliveryState.SENT
            changed.append((one, (DeliveryState.HELD if is_held else DeliveryState.WAITING).value, at, row.pk))
    with connection.cursor() as cursor:  # many times as fast as through the models, and the writer's lock is held
        cursor.executemany(
            "INSERT INTO delivery_record"
            " (controller_id, kind, subject_id, wanted, confirmed, state, refusal, changed_at)"
            " VALUES (%s, %s, %s, %s, '', %s, '', %s)",
            new,
        )
        cursor.executemany(
            "UPDATE delivery_record SET wanted = %s, state = %s, refusal = '', changed_at = %s WHERE id = %s", changed
        )

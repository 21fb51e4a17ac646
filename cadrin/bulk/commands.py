"""Begin, stop and take back batches."""

from datetime import datetime

from django.db import connection, transaction

from cadrin.bulk.drafts import BULK_CHANGE, CHOSEN_FROM, BulkDraft, problems_with_batch
from cadrin.bulk.models import BulkChange, BulkState, BulkTarget
from cadrin.bulk.queries import bulk_changes_seen
from cadrin.core.bulk import BulkAct
from cadrin.core.errors import Invalid, NotFound
from cadrin.journal.commands import About, Act, record
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.register.selection import Selection, chosen


def _permission(act: BulkAct) -> Permission:
    return (
        Permission.ACCESS if act in (BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP) else Permission.EDIT
    )


@transaction.atomic
def begin_bulk_change(actor: Actor, draft: BulkDraft, selection: Selection, at: datetime) -> int:
    """Begin an act on many, which the worker then does, and give its id. Raises Invalid or
    NotPermitted.
    """
    actor.require(_permission(draft.act))
    ids = chosen(actor, selection, at)
    if problems := problems_with_batch(actor, draft, len(ids)):
        raise Invalid(problems)
    return _begun(
        actor,
        BulkChange(
            act=draft.act,
            value=draft.value,
            value_name=_name(draft),
            reason=draft.reason,
            activation_at=draft.span.start,
            expiry_at=draft.span.end,
        ),
        ids,
        at,
    )


@transaction.atomic
def undo_bulk_change(actor: Actor, bulk_change_id: int, at: datetime) -> int:
    """Begin to put back whom a batch changed, wherever nothing later stands against it, and give
    the new batch's id.

    Raises Invalid when it is still at work or was taken back already, NotFound or NotPermitted.
    """
    bulk_change = get_bulk_change(actor, bulk_change_id)
    actor.require(_permission(BulkAct(bulk_change.act)))
    if bulk_change.state == BulkState.AT_WORK:
        raise Invalid.of("batch.at_work")
    if bulk_change.act == BulkAct.UNDO or BulkChange.objects.filter(undoes=bulk_change).exists():
        raise Invalid.of("batch.taken_back")
    ids = list(
        bulk_change.targets.filter(is_done=True, left_alone="").values_list(
            "cardholder_id", flat=True
        )
    )
    if not ids:
        raise Invalid.of("batch.nobody")
    return _begun(
        actor,
        BulkChange(act=BulkAct.UNDO, undoes=bulk_change, value_name=bulk_change.value_name),
        ids,
        at,
    )


@transaction.atomic
def stop_bulk_change(actor: Actor, bulk_change_id: int, at: datetime) -> None:
    """Leave a batch where it is: whom it has changed stays changed until it is taken back. Raises
    NotFound.
    """
    bulk_change = get_bulk_change(actor, bulk_change_id)
    actor.require(_permission(BulkAct(bulk_change.act)))
    BulkChange.objects.filter(pk=bulk_change.pk, state=BulkState.AT_WORK).update(
        state=BulkState.STOPPED
    )
    record(actor, at, [Act("batch.stopped", (About(BULK_CHANGE, bulk_change.pk),))])


def get_bulk_change(actor: Actor, bulk_change_id: int) -> BulkChange:
    """Raises NotFound, for one that is not the actor's to see as well."""
    bulk_change = (
        BulkChange.objects.filter(bulk_changes_seen(actor), pk=bulk_change_id)
        .select_related("undoes")
        .first()
    )
    if bulk_change is None:
        raise NotFound.of("batch.not_found")
    return bulk_change


def _name(draft: BulkDraft) -> str:
    kind = CHOSEN_FROM.get(draft.act)
    if kind is None or not isinstance(draft.value, int):
        return ""
    return names_of(kind, [draft.value])[draft.value]


def _begun(actor: Actor, bulk_change: BulkChange, ids: list[int], at: datetime) -> int:
    bulk_change.operator_id, bulk_change.operator_name, bulk_change.address = (
        actor.operator_id,
        actor.name,
        actor.address,
    )
    bulk_change.at, bulk_change.total = at, len(ids)
    bulk_change.save()
    # by hand, as 100,000 objects would keep the writers' turn for seconds
    with connection.cursor() as cursor:
        cursor.executemany(
            f"INSERT INTO {BulkTarget._meta.db_table} (bulk_change_id, cardholder_id, is_done, left_alone)"  # noqa: S608
            " VALUES (%s, %s, FALSE, '')",
            [(bulk_change.pk, id_) for id_ in ids],
        )
    changes = {
        "act": (None, bulk_change.act),
        "value": (None, bulk_change.value_name or bulk_change.value),
        "people": (None, len(ids)),
    }
    record(actor, at, [Act("batch.begun", (About(BULK_CHANGE, bulk_change.pk),), changes)])
    return bulk_change.pk

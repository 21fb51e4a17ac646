"""Begin, stop and take back batches."""

from datetime import datetime

from django.db import connection, transaction

from cadrin.core.bulk import BatchAct
from cadrin.core.errors import Invalid, NotFound
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.register.batches.drafts import BATCH, CHOSEN_FROM, BatchDraft, problems_with_batch
from cadrin.register.models import Batch, BatchState, BatchTarget
from cadrin.register.queries import batches_seen
from cadrin.register.selection import Selection, chosen


def _permission(act: BatchAct) -> Permission:
    return Permission.ACCESS if act in (BatchAct.ADD_GROUP, BatchAct.REMOVE_GROUP) else Permission.EDIT


@transaction.atomic
def begin_batch(actor: Actor, draft: BatchDraft, selection: Selection, at: datetime) -> int:
    """Begin an act on many, which the worker then does, and give its id. Raises Invalid or NotPermitted."""
    actor.require(_permission(draft.act))
    ids = chosen(actor, selection, at)
    if problems := problems_with_batch(actor, draft, len(ids)):
        raise Invalid(problems)
    return _begun(actor, Batch(act=draft.act, value=draft.value, value_name=_name(draft), reason=draft.reason), ids, at)


@transaction.atomic
def take_back_batch(actor: Actor, batch_id: int, at: datetime) -> int:
    """Begin to put back whom a batch changed, wherever nothing later stands against it, and give the new batch's id.

    Raises Invalid when it is still at work or was taken back already, NotFound or NotPermitted.
    """
    batch = get_batch(actor, batch_id)
    actor.require(_permission(BatchAct(batch.act)))
    if batch.state == BatchState.AT_WORK:
        raise Invalid.of("batch.at_work")
    if batch.act == BatchAct.TAKE_BACK or Batch.objects.filter(takes_back=batch).exists():
        raise Invalid.of("batch.taken_back")
    ids = list(batch.targets.filter(is_done=True, left_alone="").values_list("cardholder_id", flat=True))
    if not ids:
        raise Invalid.of("batch.nobody")
    return _begun(actor, Batch(act=BatchAct.TAKE_BACK, takes_back=batch, value_name=batch.value_name), ids, at)


@transaction.atomic
def stop_batch(actor: Actor, batch_id: int, at: datetime) -> None:
    """Leave a batch where it is: whom it has changed stays changed until it is taken back. Raises NotFound."""
    batch = get_batch(actor, batch_id)
    actor.require(_permission(BatchAct(batch.act)))
    Batch.objects.filter(pk=batch.pk, state=BatchState.AT_WORK).update(state=BatchState.STOPPED)
    record(actor, at, [Act("batch.stopped", (About(BATCH, batch.pk),))])


def get_batch(actor: Actor, batch_id: int) -> Batch:
    """Raises NotFound, for one that is not the actor's to see as well."""
    batch = Batch.objects.filter(batches_seen(actor), pk=batch_id).select_related("takes_back").first()
    if batch is None:
        raise NotFound.of("batch.not_found")
    return batch


def _name(draft: BatchDraft) -> str:
    model = CHOSEN_FROM.get(draft.act)
    if model is None or draft.value is None:
        return ""
    return str(model.objects.values_list("name", flat=True).get(pk=draft.value))


def _begun(actor: Actor, batch: Batch, ids: list[int], at: datetime) -> int:
    batch.operator_id, batch.operator_name, batch.address = actor.operator_id, actor.name, actor.address
    batch.at, batch.total = at, len(ids)
    batch.save()
    # by hand, as 100,000 objects would keep the writers' turn for seconds
    with connection.cursor() as cursor:
        cursor.executemany(
            f"INSERT INTO {BatchTarget._meta.db_table} (batch_id, cardholder_id, is_done, left_alone)"  # noqa: S608
            " VALUES (%s, %s, FALSE, '')",
            [(batch.pk, id_) for id_ in ids],
        )
    changes = {"act": (None, batch.act), "value": (None, batch.value_name or batch.value), "people": (None, len(ids))}
    record(actor, at, [Act("batch.begun", (About(BATCH, batch.pk),), changes)])
    return batch.pk

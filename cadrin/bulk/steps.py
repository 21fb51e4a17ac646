"""Do batches in short steps, so that nobody at a desk waits; safe to stop at any point."""

import json
from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import connection, transaction
from django.db.models import F

from cadrin.access.commands.memberships import GROUP, put_into, take_out_of
from cadrin.bulk.drafts import BULK_CHANGE, CHOSEN_FROM, BulkDraft, subjects
from cadrin.bulk.models import BulkChange, BulkState, BulkTarget
from cadrin.core.bulk import (
    FIELDS_OF,
    TOUCHES_DOORS,
    BulkAct,
    BulkOrder,
    LeftAlone,
    Subject,
    changed,
    undone,
)
from cadrin.core.validity import Span, Standing
from cadrin.journal.commands import About, Act, record, take_rights_away
from cadrin.operators.actor import Actor
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject as Marked
from cadrin.people.commands.cardholders import CARDHOLDER
from cadrin.people.models import Cardholder

STEP = 300
"""Cardholders in one transaction: few enough that whoever waits for it does not notice."""


def work_on_bulk_changes(at: datetime) -> int:
    """Do one step of the oldest batch that is at work, and give how many cardholders it was about;
    0 for no work.
    """
    if not BulkChange.objects.filter(state=BulkState.AT_WORK).exists():
        return 0
    return _step(at)


@transaction.atomic
def _step(at: datetime) -> int:
    bulk_change = (
        BulkChange.objects.filter(state=BulkState.AT_WORK)
        .select_related("undoes")
        .order_by("id")
        .first()
    )
    if bulk_change is None:
        return 0
    if not _is_still_there(bulk_change):
        bulk_change.state = BulkState.STOPPED
        bulk_change.save(update_fields=["state"])
        return 1
    targets = list(bulk_change.targets.filter(is_done=False).order_by("id")[:STEP])
    if targets:
        _change(bulk_change, targets, at)
    is_last = len(targets) < STEP
    bulk_change.done += len(targets)
    bulk_change.changed += sum(1 for target in targets if not target.left_alone)
    if is_last:
        bulk_change.state = BulkState.DONE
    bulk_change.save(update_fields=["done", "changed", "state"])
    return max(len(targets), 1)


def _is_still_there(bulk_change: BulkChange) -> bool:
    """Say whether what people are put into, or taken out of, was not removed meanwhile."""
    original = bulk_change.undoes or bulk_change
    model = CHOSEN_FROM.get(BulkAct(original.act))
    goes_back = bulk_change.undoes is not None and original.act not in (
        BulkAct.ADD_GROUP,
        BulkAct.REMOVE_GROUP,
    )
    if model is None or original.value is None or goes_back:
        return True
    return bool(model.objects.filter(pk=original.value).exists())


def _change(bulk_change: BulkChange, targets: list[BulkTarget], at: datetime) -> None:
    original = bulk_change.undoes or bulk_change
    order = BulkDraft(BulkAct(original.act), original.value, original.reason).order
    now = subjects(target.cardholder_id for target in targets)
    befores = _befores(bulk_change.undoes, now) if bulk_change.undoes else {}
    made: dict[int, tuple[Subject, Subject]] = {}
    model = CHOSEN_FROM.get(order.act)
    there = {None, *model.objects.values_list("id", flat=True)} if model else set()
    chosen = FIELDS_OF[order.act] if model else ()
    for target in targets:
        id_ = target.cardholder_id
        subject = now.get(id_)
        after: Subject | LeftAlone = LeftAlone.GONE
        if subject is not None:
            after = (
                undone(subject, befores[id_], order)
                if bulk_change.undoes
                else changed(subject, order)
            )
        if isinstance(after, Subject) and any(getattr(after, name) not in there for name in chosen):
            after = LeftAlone.GONE  # where they were was removed since
        if isinstance(after, LeftAlone) or subject is None:
            target.left_alone = str(after)
        else:
            made[id_] = (subject, after)
            target.before = _kept(subject, order)
    _save(targets)
    _write(bulk_change, order, made, at)


def _save(targets: list[BulkTarget]) -> None:
    """Save what became of targets: by hand, as it is most of what a step does while others wait for
    it.
    """
    with connection.cursor() as cursor:
        cursor.executemany(
            f"UPDATE {BulkTarget._meta.db_table}"  # noqa: S608
            " SET is_done = TRUE, left_alone = %s, before = %s WHERE id = %s",
            [
                (one.left_alone, json.dumps(one.before) if one.before else None, one.pk)
                for one in targets
            ],
        )


def _kept(subject: Subject, order: BulkOrder) -> dict[str, Any]:
    """Return what a batch may change of somebody, to be put back."""
    if order.group_id is not None:
        span = subject.groups.get(order.group_id)
        return {"span": [_plain(end) for end in span] if span else None}
    return {name: _plain(getattr(subject, name)) for name in FIELDS_OF[order.act]}


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def _befores(bulk_change: BulkChange, now: Mapping[int, Subject]) -> dict[int, Subject]:
    """Return people as a batch found them, as far as it may have changed them."""
    found = {}
    kept = bulk_change.targets.filter(cardholder_id__in=now).values_list("cardholder_id", "before")
    for id_, before in kept:
        values = dict(before or {})
        if "span" in values:
            span = values.pop("span")
            at = (
                tuple(datetime.fromisoformat(end) if end else None for end in span)
                if span
                else None
            )
            groups = {int(bulk_change.value): (at[0], at[1])} if at and bulk_change.value else {}
            found[id_] = Subject(groups=groups)
            continue
        for name in ("expiry_at", "suspended_until"):
            if values.get(name):
                values[name] = datetime.fromisoformat(values[name])
        if "standing" in values:
            values["standing"] = Standing(values["standing"])
        found[id_] = Subject(**values)
    return found


def _write(
    bulk_change: BulkChange,
    order: BulkOrder,
    made: Mapping[int, tuple[Subject, Subject]],
    at: datetime,
) -> None:
    """Save what was made of whom, with an entry of the journal for each change that was the same
    for several.
    """
    if not made:
        return
    alike: dict[str, list[int]] = {}
    same_after: dict[str, list[int]] = {}
    for id_, (before, after) in made.items():
        alike.setdefault(repr((_kept(before, order), _kept(after, order))), []).append(id_)
        same_after.setdefault(repr(_kept(after, order)), []).append(id_)
    for ids in same_after.values():
        after = made[ids[0]][1]
        if order.group_id is not None:
            if order.group_id in after.groups:
                put_into(order.group_id, ids, Span(*after.groups[order.group_id]))
            else:
                take_out_of(order.group_id, ids)
        fields = {name: getattr(after, name) for name in FIELDS_OF[order.act]}
        Cardholder.objects.filter(pk__in=ids).update(**fields, version=F("version") + 1)
    versions = dict(Cardholder.objects.filter(pk__in=made).values_list("id", "version"))
    model = CHOSEN_FROM.get(order.act)
    names = dict(model.objects.values_list("id", "name")) if model else {}
    acts = []
    for ids in alike.values():
        before, after = made[ids[0]]
        about = (
            *(About(CARDHOLDER, id_, versions[id_]) for id_ in ids),
            About(BULK_CHANGE, bulk_change.pk),
        )
        acts.append(_act(order, about, _kept(before, order), _kept(after, order), names))
    record(
        Actor(
            bulk_change.operator_id,
            bulk_change.operator_name,
            frozenset(),
            address=bulk_change.address,
        ),
        at,
        acts,
    )
    if order.act in TOUCHES_DOORS:
        mark_for_delivery(Marked.CARDHOLDER, made, is_withdrawal=take_rights_away(acts))


def _act(
    order: BulkOrder,
    about: tuple[About, ...],
    before: Mapping[str, Any],
    after: Mapping[str, Any],
    names: Mapping[int, str],
) -> Act:
    group_id = order.group_id
    if group_id is not None:
        name = names.get(group_id, "")
        action = "membership.added" if after["span"] else "membership.removed"
        pairs = zip(before["span"] or (None, None), after["span"] or (None, None), strict=True)
        spans = dict(zip(("activation_at", "expiry_at"), pairs, strict=True))
        changes = {"group": (name, name)} | {
            field: pair for field, pair in spans.items() if any(pair)
        }
        return Act(
            action, (*about, About(GROUP, group_id)), changes, {"group_id": (group_id, group_id)}
        )
    changes = {name: (before[name], after[name]) for name in after if before[name] != after[name]}
    if not names:
        return Act("cardholder.changed", about, changes)
    (field, ids), *_ = changes.items()
    words = {field.removesuffix("_id"): (names.get(ids[0]), names.get(ids[1]))}
    return Act("cardholder.changed", about, words, changes)

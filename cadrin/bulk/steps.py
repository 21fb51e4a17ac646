"""Do batches in short steps, so that nobody at a desk waits; safe to stop at any point."""

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from typing import Any

from django.db import connection, transaction

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.bulk.drafts import BULK_CHANGE, CHOSEN_FROM, BulkDraft, subjects
from cadrin.bulk.models import BulkChange, BulkState, BulkTarget
from cadrin.core.bulk import (
    FIELDS_OF,
    BulkAct,
    BulkOrder,
    LeftAlone,
    Subject,
    changed,
    undone,
)
from cadrin.core.validity import Span, Standing
from cadrin.enrolment.writer import Writing, write
from cadrin.journal.commands import About
from cadrin.journal.naming import names_of
from cadrin.operators.actor import Actor
from cadrin.people.commands.details import details_of
from cadrin.people.queries import by_id, rules

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
    kind = CHOSEN_FROM.get(BulkAct(original.act))
    goes_back = bulk_change.undoes is not None and original.act not in (
        BulkAct.ADD_GROUP,
        BulkAct.REMOVE_GROUP,
    )
    if kind is None or not isinstance(original.value, int) or goes_back:
        return True
    return original.value in names_of(kind, [original.value])


def _change(bulk_change: BulkChange, targets: list[BulkTarget], at: datetime) -> None:
    original = bulk_change.undoes or bulk_change
    span = Span(original.activation_at, original.expiry_at)
    order = BulkDraft(BulkAct(original.act), original.value, original.reason, span).order
    now = subjects(target.cardholder_id for target in targets)
    befores = _befores(bulk_change.undoes, now) if bulk_change.undoes else {}
    made: dict[int, Subject] = {}
    kind = CHOSEN_FROM.get(order.act)
    chosen = FIELDS_OF[order.act] if kind else ()
    wanted = {getattr(item, name) for item in (*now.values(), *befores.values()) for name in chosen}
    wanted |= {order.value} if isinstance(order.value, int) else set()
    there = {None, *names_of(kind or "", wanted - {None})}
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
            made[id_] = after
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
                (target.left_alone, json.dumps(target.before) if target.before else None, target.pk)
                for target in targets
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
    made: Mapping[int, Subject],
    at: datetime,
) -> None:
    """Save what is made of whom."""
    register_rules = rules()
    cardholders = by_id(made)
    writings = [
        Writing(
            cardholders[id_],
            memberships=tuple(
                MembershipDraft(group, *span) for group, span in after.groups.items()
            ),
        )
        if order.group_id is not None
        else Writing(
            cardholders[id_],
            replace(
                details_of(cardholders[id_], register_rules),
                **{name: getattr(after, name) for name in FIELDS_OF[order.act]},
            ),
        )
        for id_, after in made.items()
    ]
    actor = Actor(
        bulk_change.operator_id,
        bulk_change.operator_name,
        frozenset(),
        address=bulk_change.address,
    )
    write(actor, writings, at, (About(BULK_CHANGE, bulk_change.pk),))

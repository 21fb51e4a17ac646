"""PINs that were generated for many: sealed until they are opened, once."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

import orjson

from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.models import PinList
from cadrin.operators.actor import Actor
from cadrin.operators.sealing import seal, unseal
from cadrin.outbox.rows import Rows


def keep_pin_list(actor: Actor, lines: Sequence[Sequence[str]], at: datetime) -> int:
    """Keep a list, sealed, and give its id."""
    made = PinList.objects.create(
        made_at=at,
        made_by=actor.name,
        operator_id=actor.operator_id,
        count=len(lines),
        sealed=seal(orjson.dumps(lines).decode()),
    )
    return made.pk


def kept_pin_lists(actor: Actor) -> Rows:
    """Return the lists that the actor may open, or opened: their own, and all of them to whoever
    sees the whole house.
    """
    found = PinList.objects.order_by("-id")
    if not actor.scope.is_whole:
        found = found.filter(operator_id=actor.operator_id or 0)
    return list(found.values("id", "made_at", "made_by", "count", "opened_at")[:50])


def take_pin_list(actor: Actor, list_id: int, at: datetime) -> list[list[Any]]:
    """Open a list, once: what was in it is then nowhere any more. Raises Invalid or NotFound."""
    seen = [row["id"] for row in kept_pin_lists(actor)]
    found = PinList.objects.filter(pk__in=seen, pk=list_id).first()
    if found is None:
        raise NotFound.of("pin_list.not_found")
    if found.opened_at or not found.sealed:
        raise Invalid.of("pin_list.opened", None)
    lines: list[list[Any]] = orjson.loads(unseal(found.sealed))
    found.sealed, found.opened_at = "", at
    found.save(update_fields=["sealed", "opened_at"])
    return lines

"""What needs somebody now: an alarm at a door, a controller that does not answer, or one that does
not hold everything.
"""

from collections.abc import Iterator
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Any, NamedTuple

from cadrin.core.records.states import RecordState
from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.controllers import has_trouble, lines_to
from cadrin.desk.queries import alarms, unknown_cards
from cadrin.operators.actor import Actor

SILENT_FOR = timedelta(minutes=1)
"""A line that fails for less is tried again, and tells nobody."""


LEFT_OUT = ("left_out", "schedules_left_out", "without_templates")
"""What a controller has no room for, as `lines_to` tells of it."""


class NoticeKind(StrEnum):
    """Why somebody is needed."""

    DURESS = "duress"
    FORCED = "forced"
    HELD_OPEN = "held"
    SILENT = "silent"
    NOT_HOLDING = "not_holding"


class Notice(NamedTuple):
    """One thing that needs somebody. ``key`` is the same for as long as it lasts."""

    key: str
    kind: NoticeKind
    name: str
    """Of the door's reader, or of the controller."""
    at: datetime | None
    read_id: int | None = None
    controller_id: int | None = None


class Waiting(NamedTuple):
    """The counts that stand beside the sections, what needs somebody now, and whether the worker
    works.
    """

    desk: int
    delivery: int
    notices: list[Notice]
    worker_stopped_at: datetime | None


def waiting(actor: Actor, at: datetime) -> Waiting:
    """Return what waits for the actor: every open page asks for it. Alarms are those of the last
    day, the latest first.
    """
    raised, every = alarms(actor, at), lines_to(actor, at)
    return Waiting(
        desk=unknown_cards(actor, at).total + raised.total,
        delivery=sum(map(has_trouble, every)),
        notices=[*map(_of_alarm, raised.rows), *_of_controllers(every, at)],
        worker_stopped_at=worker_stopped_at(at),
    )


def _of_alarm(read: dict[str, Any]) -> Notice:
    kind = NoticeKind.DURESS if read["is_duress"] else NoticeKind(read["happening"])
    return Notice(f"read {read['id']}", kind, read["reader_name"], read["at"], read_id=read["id"])


def _of_controllers(every: list[dict[str, Any]], at: datetime) -> Iterator[Notice]:
    for one in every:
        id_, name, failed_at = one["id"], one["name"], one["failed_at"]
        if failed_at and failed_at <= at - SILENT_FOR:
            key = f"silent {id_} {failed_at.isoformat()}"
            yield Notice(key, NoticeKind.SILENT, name, failed_at, controller_id=id_)
        if one["counts"][RecordState.REFUSED] or any(one[name] for name in LEFT_OUT):
            key = f"not holding {id_}"
            yield Notice(key, NoticeKind.NOT_HOLDING, name, None, controller_id=id_)

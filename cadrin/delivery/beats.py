"""Whether what should always be at work is: a worker that has ended must not look like a
quiet one.
"""

from datetime import datetime, timedelta

from cadrin.config.database.reading import RowsByIds
from cadrin.delivery.models import Beat

WORKER = "worker"
LATE_AFTER = timedelta(seconds=8)
"""The worker beats every second; a slow moment of the machine is no reason to alarm anybody."""
LINE_IS_LATE_AFTER = timedelta(seconds=20)
"""A round with a controller that does not answer takes six seconds."""


def beat(name: str, at: datetime) -> None:
    """Write down that something is at work. Call it within a transaction."""
    Beat.objects.update_or_create(name=name, defaults={"at": at})


_last_turn = RowsByIds(lambda: Beat.objects.filter(name=WORKER).values_list("at"))


def worker_stopped_at(at: datetime) -> datetime | None:
    """Return when the worker was last at work, if that is too long ago; None while it works.

    One that never was is late since the instant that is asked about.
    """
    last = next((turned_at for (turned_at,) in _last_turn()), None)
    if last is None:
        return at
    return last if at - last > LATE_AFTER else None


def is_line_late(turned_at: datetime | None, at: datetime) -> bool:
    """Say whether nothing was heard of a controller's line for too long, be it answers
    or silence.
    """
    return turned_at is None or at - turned_at > LINE_IS_LATE_AFTER

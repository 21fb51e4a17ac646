"""Whether what should be at work is: told to whoever watches the machine, also when the worker is dead."""

from dataclasses import dataclass
from datetime import datetime

from django.db import DatabaseError

from cadrin.delivery.beats import worker_stopped_at
from cadrin.delivery.models import Link, Record
from cadrin.delivery.record_states import is_not_held
from cadrin.outbox.queries import count_marks
from cadrin.people.queries import cardholder_count


@dataclass(frozen=True, slots=True)
class Health:
    """``worker_stopped_at`` is None while it works; the controllers that do not answer make nobody
    ill: they are away now and then.
    """

    has_database: bool
    worker_stopped_at: datetime | None = None
    controllers: int = 0
    silent_controllers: int = 0

    @property
    def is_well(self) -> bool:
        return self.has_database and self.worker_stopped_at is None


def health(at: datetime) -> Health:
    try:
        links = Link.objects.all()
        return Health(
            True, worker_stopped_at(at), links.count(), links.exclude(failed_at=None).count()
        )
    except DatabaseError:
        return Health(False)


def metrics(at: datetime) -> str:
    """Return the figures in the text format 0.0.4 that Prometheus reads, a gauge a line."""
    now = health(at)
    figures: list[tuple[str, str, float]] = [
        ("database_up", "Whether the database answers", now.has_database),
        ("worker_up", "Whether the worker is at work", now.has_database and now.is_well),
        ("controllers", "Controllers that are set up", now.controllers),
        ("controllers_silent", "Controllers that do not answer", now.silent_controllers),
    ]
    if now.has_database:
        waiting = Record.objects.filter(is_not_held()).count()
        figures += [
            ("records_not_held", "Records that a controller does not hold yet", waiting),
            ("marks_waiting", "Acts that are not records yet", count_marks()),
            ("cardholders", "Cardholders", cardholder_count()),
        ]
    lines = (
        f"# HELP cadrin_{name} {words}.\n# TYPE cadrin_{name} gauge\ncadrin_{name} {float(value):g}\n"
        for name, words, value in figures
    )
    return "".join(lines)

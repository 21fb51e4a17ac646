"""The life of an intake: which state may follow which."""

from django.db import models

INTAKE = "intake"
"""What the journal calls an intake."""


class IntakeState(models.TextChoices):
    """``stopping`` undoes what was applied so far, and the intake is open again; ``undoing`` takes
    the whole of it back for good.
    """

    READING = "reading"
    OPEN = "open"
    APPLYING = "applying"
    STOPPING = "stopping"
    APPLIED = "applied"
    UNDOING = "undoing"
    UNDONE = "undone"
    DISCARDED = "discarded"


S = IntakeState
MAY_BECOME: dict[IntakeState, frozenset[IntakeState]] = {
    S.READING: frozenset({S.OPEN, S.DISCARDED}),
    S.OPEN: frozenset({S.READING, S.APPLYING, S.DISCARDED}),
    S.APPLYING: frozenset({S.APPLIED, S.STOPPING}),
    S.STOPPING: frozenset({S.OPEN}),
    S.APPLIED: frozenset({S.UNDOING}),
    S.UNDOING: frozenset({S.UNDONE}),
    S.UNDONE: frozenset(),
    S.DISCARDED: frozenset(),
}
AT_WORK = (S.APPLYING, S.STOPPING, S.UNDOING)
"""States in which the worker has something to do."""
OVER = (S.APPLIED, S.UNDONE, S.DISCARDED)
"""States after which nothing is decided any more."""

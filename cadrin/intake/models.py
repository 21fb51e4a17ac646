from django.conf import settings
from django.db import models

from cadrin.core.intake.table import FileKind
from cadrin.intake.states import IntakeState

ROWS_IN_A_BLOCK = 60
"""Rows that are read, judged and written together: few enough that nobody waits for them."""


class Intake(models.Model):
    """A list on its way to becoming cardholders, with all that was decided about it."""

    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+"
    )
    operator_name = models.CharField(max_length=310)
    address = models.CharField(max_length=60, blank=True)
    acts_as = models.JSONField(default=dict)  # what a script may do; an operator's role says it
    at = models.DateTimeField()
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=12, choices=[(k.value, k.value) for k in FileKind])
    state = models.CharField(
        max_length=10, choices=IntakeState.choices, default=IntakeState.READING
    )
    # how it was read: encoding, delimiter, sheet, sheets, notes; and what its columns look like
    reading = models.JSONField(default=dict)
    rows = models.PositiveIntegerField(default=0)
    choices = models.JSONField(default=dict)
    # of the choices; what was worked out is true of the one in ``assessed``
    version = models.PositiveIntegerField(default=1)
    assessed = models.PositiveIntegerField(default=0)
    summary = models.JSONField(default=dict)
    # blocks that were judged, written or put back so far
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    result = models.JSONField(default=dict)
    over_at = models.DateTimeField(null=True)
    forgotten_at = models.DateTimeField(null=True)  # when its file and rows were removed
    # applied without a person, once it is judged and nothing is left to decide
    applies_itself = models.BooleanField(default=False)
    # by whom it was decided last, and when
    changed_by = models.CharField(max_length=310, blank=True)
    changed_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["state", "id"], name="intake_by_state")]

    def __str__(self) -> str:
        return self.name


class IntakePiece(models.Model):
    """A piece of a file that was dropped, sealed: the list itself, or an archive of photos."""

    intake = models.ForeignKey(Intake, on_delete=models.CASCADE, related_name="pieces")
    part = models.CharField(max_length=8)
    place = models.PositiveIntegerField()
    sealed = models.TextField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["intake", "part", "place"], name="piece_is_once_in_its_file"
            )
        ]

    def __str__(self) -> str:
        return f"{self.part} {self.place}"


class IntakeBlock(models.Model):
    """Some rows of an intake: as they were read, sealed; what they come to; and, once they were
    written, what was there before, sealed. PINs that were made up for them stay only until the whole is
    written.
    """

    intake = models.ForeignKey(Intake, on_delete=models.CASCADE, related_name="blocks")
    place = models.PositiveIntegerField()
    first_row = models.PositiveIntegerField()
    sealed = models.TextField()
    outcomes = models.TextField(blank=True)
    before = models.TextField(blank=True)
    pins = models.TextField(blank=True)
    is_done = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["intake", "place"], name="block_is_once_in_its_intake")
        ]

    def __str__(self) -> str:
        return f"rows from {self.first_row}"


class IntakeMapping(models.Model):
    """Choices kept under a name, to be offered when the same kind of file comes again."""

    name = models.CharField(max_length=60, unique=True)
    headings = models.JSONField(default=list)
    choices = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name

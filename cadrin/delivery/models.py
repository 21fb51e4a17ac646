from django.db import models
from django.db.models import Q

from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.delivery.incident_kinds import IncidentKind


class Link(models.Model):
    """What is known of a controller from talking to it."""

    controller = models.OneToOneField(
        "sites.Controller", on_delete=models.CASCADE, related_name="link"
    )
    answered_at = models.DateTimeField(null=True)
    failed_at = models.DateTimeField(null=True)  # of the first failure since it last answered
    failure = models.CharField(max_length=200, blank=True)
    clock_off_seconds = models.IntegerField(default=0)
    capacity = models.PositiveIntegerField(null=True)  # in cardholders
    most_cards = models.PositiveIntegerField(null=True)  # of one cardholder
    longest_name = models.PositiveIntegerField(null=True)
    latest = models.PositiveBigIntegerField(null=True)  # the last second of its calendar
    longest_span = models.PositiveBigIntegerField(null=True)  # in seconds
    most_templates = models.PositiveIntegerField(null=True)  # of everybody together
    most_memberships = models.PositiveIntegerField(null=True)  # of one cardholder
    most_schedules = models.PositiveIntegerField(null=True)
    # cardholders whose templates it has no room for, by their ids
    without_templates = models.JSONField(default=list)
    store = models.CharField(max_length=40, blank=True)  # the memory its events are numbered in
    last_event = models.PositiveBigIntegerField(default=0)
    turned_at = models.DateTimeField(null=True)  # of the last round of its line, answered or not
    # everything it holds is to be compared, as somebody asked
    must_compare = models.BooleanField(default=False)
    # its clock is to be set right: once, as somebody asked, or whenever it is off
    must_set_clock = models.BooleanField(default=False)
    is_clock_kept = models.BooleanField(default=False)
    # what people gain is held back: until somebody ends the pause, or the hours of a schedule begin
    is_paused = models.BooleanField(default=False)
    sends_by = models.ForeignKey(
        "sites.Schedule", null=True, on_delete=models.PROTECT, related_name="delivering"
    )
    # messages to it that it refused, as it last told
    forged = models.PositiveIntegerField(default=0)
    replayed = models.PositiveIntegerField(default=0)

    def __str__(self) -> str:
        return f"link to {self.controller_id}"


class Record(models.Model):
    """One record at one controller: the digest it should have there and the one it was confirmed
    with.

    An empty digest means "should not be there" and "is not there"; a row where both are empty is
    removed.
    """

    # without an index of its own: those below begin with it, and of one that gives the order of ids
    # the database thinks too well
    controller = models.ForeignKey(
        "sites.Controller", on_delete=models.CASCADE, related_name="records", db_index=False
    )
    kind = models.CharField(max_length=10, choices=[(k.value, k.value) for k in RecordKind])
    subject_id = models.BigIntegerField()
    wanted = models.CharField(max_length=32, blank=True)
    confirmed = models.CharField(max_length=32, blank=True)
    state = models.CharField(
        max_length=8, choices=[(s.value, s.value) for s in RecordState], default=RecordState.WAITING
    )
    refusal = models.CharField(max_length=40, blank=True)
    changed_at = models.DateTimeField()
    # takes something away, until the controller confirmed it
    is_withdrawal = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["controller", "kind", "subject_id"], name="record_is_once_at_a_controller"
            )
        ]
        indexes = [
            models.Index(fields=["kind", "subject_id"], name="record_of_subject"),
            models.Index(
                # in the order of sending, and with what is counted of them
                fields=["controller", "kind", "id", "state"],
                name="record_not_held",
                condition=~Q(state=RecordState.HELD),
            ),
            models.Index(
                fields=["controller", "kind"],
                name="record_to_withdraw",
                condition=Q(is_withdrawal=True),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind}:{self.subject_id} at {self.controller_id}: {self.state}"


class FoundPerson(models.Model):
    """Somebody whom a controller held and nobody sent: removed there, and written down here, sealed,
    so that they can be enrolled.
    """

    controller = models.ForeignKey("sites.Controller", on_delete=models.CASCADE, related_name="+")
    subject_id = models.BigIntegerField()
    sealed = models.TextField()
    found_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["controller", "subject_id"], name="found_person_is_once_at_a_controller"
            )
        ]

    def __str__(self) -> str:
        return f"{self.subject_id} at {self.controller_id}"


class Incident(models.Model):
    """Something that happened with a controller; what goes on happening is counted, not told again
    and again.
    """

    controller = models.ForeignKey(
        "sites.Controller", on_delete=models.CASCADE, related_name="incidents"
    )
    kind = models.CharField(max_length=10, choices=IncidentKind)
    detail = models.CharField(max_length=200, blank=True)
    count = models.PositiveIntegerField(default=1)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["controller", "last_at"], name="incident_of_controller")]

    def __str__(self) -> str:
        return f"{self.kind} at {self.controller_id}, {self.count} times"


class Beat(models.Model):
    """The last turn of something that should always be at work."""

    name = models.CharField(max_length=20, primary_key=True)
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.name}: {self.at:%F %T}"

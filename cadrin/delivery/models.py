from django.db import models
from django.db.models import Q

from cadrin.core.delivery import RecordKind


class DeliveryState(models.TextChoices):
    """How far a record has come; only held is done."""

    WAITING = "waiting"
    SENT = "sent"
    HELD = "held"
    REFUSED = "refused"
    ADRIFT = "adrift"


class Link(models.Model):
    """What is known of a controller from talking to it."""

    controller = models.OneToOneField("access.Controller", on_delete=models.CASCADE, related_name="link")
    answered_at = models.DateTimeField(null=True)
    failed_at = models.DateTimeField(null=True)  # of the first failure since it last answered
    failure = models.CharField(max_length=200, blank=True)
    clock_off_seconds = models.IntegerField(default=0)
    capacity = models.PositiveIntegerField(null=True)  # in cardholders
    most_cards = models.PositiveIntegerField(null=True)  # of one cardholder
    store = models.CharField(max_length=40, blank=True)  # the memory its events are numbered in
    last_event = models.PositiveBigIntegerField(default=0)

    def __str__(self) -> str:
        return f"link to {self.controller_id}"


class Record(models.Model):
    """One record at one controller: the digest it should have there and the one it was confirmed with.

    An empty digest means "should not be there" and "is not there"; a row where both are empty is removed.
    """

    controller = models.ForeignKey("access.Controller", on_delete=models.CASCADE, related_name="records")
    kind = models.CharField(max_length=10, choices=[(k.value, k.value) for k in RecordKind])
    subject_id = models.BigIntegerField()
    wanted = models.CharField(max_length=32, blank=True)
    confirmed = models.CharField(max_length=32, blank=True)
    state = models.CharField(max_length=8, choices=DeliveryState, default=DeliveryState.WAITING)
    refusal = models.CharField(max_length=40, blank=True)
    changed_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["controller", "kind", "subject_id"], name="record_is_once_at_a_controller")
        ]
        indexes = [
            models.Index(fields=["kind", "subject_id"], name="record_of_subject"),
            models.Index(
                fields=["controller", "kind", "state"], name="record_not_held", condition=~Q(state=DeliveryState.HELD)
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind}:{self.subject_id} at {self.controller_id}: {self.state}"

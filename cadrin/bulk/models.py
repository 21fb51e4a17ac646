from django.conf import settings
from django.db import models

from cadrin.core.bulk import BulkAct, LeftAlone


class BulkState(models.TextChoices):
    AT_WORK = "at_work"
    DONE = "done"
    STOPPED = "stopped"


class BulkChange(models.Model):
    """One act on many cardholders, done in steps by the worker."""

    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+"
    )
    operator_name = models.CharField(max_length=310)
    address = models.CharField(max_length=60, blank=True)  # where it was begun from
    at = models.DateTimeField()
    act = models.CharField(max_length=14, choices=[(a.value, a.value) for a in BulkAct])
    value = models.JSONField(null=True)  # an id, a standing or an instant, as the act takes it
    # for how long people are put into a group
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    value_name = models.CharField(max_length=150, blank=True)
    reason = models.CharField(max_length=200, blank=True)
    undoes = models.OneToOneField(
        "self", null=True, on_delete=models.PROTECT, related_name="undone_by"
    )
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    state = models.CharField(max_length=8, choices=BulkState.choices, default=BulkState.AT_WORK)

    def __str__(self) -> str:
        return f"{self.act} {self.value_name}"


class BulkTarget(models.Model):
    """A cardholder in a batch: not yet done, changed, or left alone and why."""

    bulk_change = models.ForeignKey(BulkChange, on_delete=models.CASCADE, related_name="targets")
    cardholder_id = models.BigIntegerField()  # outlives the cardholder
    is_done = models.BooleanField(default=False)
    left_alone = models.CharField(
        max_length=24, blank=True, choices=[(r.value, r.value) for r in LeftAlone]
    )
    before = models.JSONField(null=True)  # what the batch may have changed, as it was

    class Meta:
        indexes = [models.Index(fields=["bulk_change", "is_done", "id"], name="bulk_target_to_do")]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.bulk_change_id}"

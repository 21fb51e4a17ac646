from django.conf import settings
from django.db import models

from cadrin.core.bulk import BatchAct, LeftAlone


class BatchState(models.TextChoices):
    AT_WORK = "at_work"
    DONE = "done"
    STOPPED = "stopped"


class Batch(models.Model):
    """One act on many cardholders, done in steps by the worker."""

    operator = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    operator_name = models.CharField(max_length=310)
    address = models.CharField(max_length=60, blank=True)  # where it was begun from
    at = models.DateTimeField()
    act = models.CharField(max_length=14, choices=[(a.value, a.value) for a in BatchAct])
    value = models.JSONField(null=True)  # an id, a standing or an instant, as the act takes it
    value_name = models.CharField(max_length=150, blank=True)
    reason = models.CharField(max_length=200, blank=True)
    takes_back = models.OneToOneField("self", null=True, on_delete=models.PROTECT, related_name="taken_back_by")
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    state = models.CharField(max_length=8, choices=BatchState.choices, default=BatchState.AT_WORK)

    def __str__(self) -> str:
        return f"{self.act} {self.value_name}"


class BatchTarget(models.Model):
    """A cardholder in a batch: not yet done, changed, or left alone and why."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="targets")
    cardholder_id = models.BigIntegerField()  # outlives the cardholder
    is_done = models.BooleanField(default=False)
    left_alone = models.CharField(max_length=24, blank=True, choices=[(r.value, r.value) for r in LeftAlone])
    before = models.JSONField(null=True)  # what the batch may have changed, as it was

    class Meta:
        indexes = [models.Index(fields=["batch", "is_done", "id"], name="batch_target_to_do")]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.batch_id}"


class SavedView(models.Model):
    """A list kept under a name: filters, columns and order. One without an operator is everybody's."""

    operator = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=60)
    filters = models.JSONField(default=dict)
    columns = models.JSONField(default=list)
    sort = models.CharField(max_length=20, default="name")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["operator", "name"], name="own_view_has_a_name_of_its_own")]

    def __str__(self) -> str:
        return self.name

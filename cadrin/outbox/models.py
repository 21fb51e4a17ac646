from django.db import models

from cadrin.outbox.subjects import Subject


class Mark(models.Model):
    """Somebody's records may differ now: written in the transaction of the change, taken by the
    worker.
    """

    subject = models.CharField(max_length=12, choices=Subject)
    subject_id = models.BigIntegerField()
    is_withdrawal = models.BooleanField(default=False)

    class Meta:
        indexes = [
            models.Index(
                fields=["id"], name="mark_of_a_withdrawal", condition=models.Q(is_withdrawal=True)
            ),
            models.Index(fields=["subject", "subject_id"], name="mark_of_subject"),
        ]

    def __str__(self) -> str:
        return f"{self.subject} {self.subject_id}"


class PlanVersion(models.Model):
    """One row, moved by every change to doors, schedules, groups and formats: what is read may be
    kept until then.

    A token and not a count, so that one that was rolled back or restored from a copy never comes
    again.
    """

    token = models.CharField(max_length=16)

    def __str__(self) -> str:
        return self.token

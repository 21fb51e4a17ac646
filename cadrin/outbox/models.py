from django.db import models


class Subject(models.TextChoices):
    """What an act may have changed the records of."""

    CARDHOLDER = "cardholder"
    GROUP = "group"
    CONTROLLER = "controller"


class Mark(models.Model):
    """Somebody's records may differ now: written in the transaction of the change, taken by the worker."""

    subject = models.CharField(max_length=12, choices=Subject)
    subject_id = models.BigIntegerField()
    is_withdrawal = models.BooleanField(default=False)

    class Meta:
        indexes = [
            models.Index(fields=["id"], name="mark_of_a_withdrawal", condition=models.Q(is_withdrawal=True)),
            models.Index(fields=["subject", "subject_id"], name="mark_of_subject"),
        ]

    def __str__(self) -> str:
        return f"{self.subject} {self.subject_id}"

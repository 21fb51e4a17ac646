from django.db import models


class MailedNotice(models.Model):
    """That an operator was told by mail of something that needs somebody; it goes once that is over."""

    operator = models.ForeignKey(
        "operators.Operator", on_delete=models.CASCADE, related_name="mailed_notices"
    )
    key = models.CharField(max_length=80)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["operator", "key"], name="told_once_of_a_notice")
        ]

    def __str__(self) -> str:
        return self.key

from django.conf import settings
from django.db import models


class SavedQuestion(models.Model):
    """A question that an operator asks again and again, with what is asked of it."""

    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+"
    )
    name = models.CharField(max_length=60)
    question = models.CharField(max_length=20)
    asked = models.JSONField(default=dict)  # parameter -> text, as in the address of the page

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["operator", "name"], name="question_saved_once")
        ]

    def __str__(self) -> str:
        return self.name

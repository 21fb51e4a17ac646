from django.conf import settings
from django.db import models


class Entry(models.Model):
    """One act of an operator: who, what, when, before and after. Never changed once written."""

    at = models.DateTimeField()
    operator = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    operator_name = models.CharField(max_length=150)
    action = models.CharField(max_length=40)
    changes = models.JSONField(default=dict)  # field -> [before, after], in words
    raw = models.JSONField(default=dict)  # field -> [before, after], where it is kept as an id

    def __str__(self) -> str:
        return f"{self.operator_name}: {self.action}"


class Topic(models.Model):
    """Something an entry is about, and the version it had after the act."""

    entry = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="topics")
    kind = models.CharField(max_length=20)
    object_id = models.BigIntegerField()
    version = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["kind", "object_id", "entry"], name="journal_topic_of_object")]

    def __str__(self) -> str:
        return f"{self.kind} {self.object_id}"

from django.conf import settings
from django.db import models


class Entry(models.Model):
    """One act of an operator: who, from where, what, when, before and after.

    Never changed once written, and never removed: triggers of the database see to it. Only what an
    entry says can go when somebody is erased, and then its salt goes with it (`core.chain`).
    """

    at = models.DateTimeField()
    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+"
    )
    operator_name = models.CharField(max_length=310)
    # where it came from; empty for Cadrin itself
    address = models.CharField(max_length=60, blank=True)
    action = models.CharField(max_length=40)
    # [kind, id, version] of each thing, as it was when it was written
    about = models.JSONField(default=list)
    changes = models.JSONField(default=dict)  # field -> [before, after], in words
    raw = models.JSONField(default=dict)  # field -> [before, after], where it is kept as an id
    salt = models.CharField(max_length=32, blank=True)
    body_digest = models.CharField(max_length=64)
    digest = models.CharField(max_length=64)

    class Meta:
        indexes = [
            models.Index(fields=["action", "id"], name="journal_by_action"),
            models.Index(fields=["operator", "id"], name="journal_by_operator"),
            models.Index(fields=["at"], name="journal_by_time"),
        ]

    def __str__(self) -> str:
        return f"{self.operator_name}: {self.action}"


class Topic(models.Model):
    """Something an entry is about, and the version it had after the act.

    The way from a thing to its history; what the chain covers is the entry's own `about`.
    """

    entry = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="topics")
    kind = models.CharField(max_length=20)
    object_id = models.BigIntegerField()
    version = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [
            models.Index(fields=["kind", "object_id", "entry"], name="journal_topic_of_object")
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.object_id}"

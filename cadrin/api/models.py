from django.db import models


class Answer(models.Model):
    """What a request with an idempotency key was answered, so that it is answered so again.

    The answer is sealed: it may show a PIN that was generated.
    """

    whose = models.CharField(max_length=40)  # the operator or token whose key it is
    key = models.CharField(max_length=200)
    digest = models.CharField(max_length=64)  # of the request
    status = models.PositiveSmallIntegerField()
    sealed = models.TextField()
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["whose", "key"], name="one_answer_to_a_key")]
        indexes = [models.Index(fields=["at"], name="answer_by_time")]

    def __str__(self) -> str:
        return f"{self.status} to {self.key}"

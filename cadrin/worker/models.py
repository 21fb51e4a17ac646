from django.db import models


class JobRun(models.Model):
    """One run of a job, if it did something or failed; of every job the latest run is kept in any
    case.
    """

    job = models.CharField(max_length=40)
    began_at = models.DateTimeField()
    ended_at = models.DateTimeField()
    count = models.PositiveIntegerField()  # of what it did
    failure = models.CharField(max_length=100, blank=True)

    class Meta:
        indexes = [models.Index(fields=["job", "-began_at"], name="run_of_job")]

    def __str__(self) -> str:
        return f"{self.job} at {self.began_at:%F %T}: {self.failure or self.count}"

"""The record of what jobs did, and when each is due again."""

from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Max

from cadrin.worker.models import JobRun

KEPT_FOR = timedelta(days=30)
WRITTEN_EVERY = timedelta(minutes=1)
"""A run that did nothing is written this often at most, so that it is known that the job runs."""


def latest_runs() -> dict[str, JobRun]:
    """Return the latest run of each job that is on record."""
    ids = JobRun.objects.values("job").annotate(latest=Max("id")).values_list("latest", flat=True)
    return {run.job: run for run in JobRun.objects.filter(pk__in=list(ids))}


@transaction.atomic
def record_run(
    job: str, began_at: datetime, ended_at: datetime, count: int, failure: str = ""
) -> None:
    """Write a run down. One that did nothing takes the place of the one before it that did nothing
    either.
    """
    before = JobRun.objects.filter(job=job).order_by("-id").first()
    if before and not (before.count or before.failure or count or failure):
        if began_at - before.began_at >= WRITTEN_EVERY:
            JobRun.objects.filter(pk=before.pk).update(began_at=began_at, ended_at=ended_at)
        return
    JobRun.objects.create(
        job=job, began_at=began_at, ended_at=ended_at, count=count, failure=failure[:100]
    )


@transaction.atomic
def forget_old_runs(at: datetime) -> int:
    """Forget runs of long ago, but for the latest of each job, and return how many."""
    latest = [run.pk for run in latest_runs().values()]
    return JobRun.objects.filter(ended_at__lt=at - KEPT_FOR).exclude(pk__in=latest).delete()[0]

"""Run jobs when they are due. What was run before the worker was started again counts."""

import logging
from collections.abc import Callable, Iterable
from datetime import datetime

from cadrin.worker.jobs import Job
from cadrin.worker.runs import latest_runs, record_run

logger = logging.getLogger("cadrin.worker")


class JobSchedule:
    def __init__(self, jobs: Iterable[Job], now: Callable[[], datetime]) -> None:
        self._jobs, self._now = tuple(jobs), now
        self._began_at = {name: run.began_at for name, run in latest_runs().items()}

    def run_due(self) -> None:
        """Run every job that is due, one after the other; one that fails is recorded, and stops no
        other.
        """
        for job in self._jobs:
            began_at = self._now()
            last = self._began_at.get(job.name)
            # a clock that was set back must not keep a job from running
            if last is None or not last <= began_at < last + job.every:
                self._began_at[job.name] = began_at
                self._run(job, began_at)

    def _run(self, job: Job, began_at: datetime) -> None:
        count, failure = 0, ""
        try:
            count = job.do(began_at)
        except Exception as error:
            logger.exception("the job %s failed and will be tried again", job.name)
            failure = type(error).__name__
        record_run(job.name, began_at, self._now(), count, failure)

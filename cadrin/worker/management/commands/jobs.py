from typing import Any

from django.core.management.base import BaseCommand

from cadrin.worker.jobs import JOBS
from cadrin.worker.runs import latest_runs


class Command(BaseCommand):
    help = "Say of every job of the worker how often it is done, when it was done last, and what came of it."

    def handle(self, *args: Any, **options: Any) -> None:
        runs = latest_runs()
        for job in JOBS:
            run = runs.get(job.name)
            outcome = (
                "never done"
                if run is None
                else f"{run.began_at:%F %T} UTC: {run.failure or run.count}"
            )
            self.stdout.write(f"{job.name:<24} every {job.every!s:>8}   {outcome}")

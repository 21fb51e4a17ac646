from datetime import UTC, datetime, timedelta
from io import StringIO

from django.core.management import call_command
from django.test import TestCase

from cadrin.worker.jobs import JOBS, Job
from cadrin.worker.models import JobRun
from cadrin.worker.runs import forget_old_runs, latest_runs
from cadrin.worker.schedule import JobSchedule

NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)
MINUTE = timedelta(minutes=1)


class Jobs(TestCase):
    def setUp(self) -> None:
        self.now, self.done = NOON, list[str]()
        self.does = {"often": 0, "seldom": 0}

    def job(self, name: str, every: timedelta) -> Job:
        def do(at: datetime) -> int:
            self.done.append(name)
            if self.does[name] < 0:
                raise ValueError("whatever nobody foresaw")
            return self.does[name]

        return Job(name, every, do)

    def schedule(self) -> JobSchedule:
        jobs = [self.job("often", timedelta(seconds=5)), self.job("seldom", timedelta(hours=1))]
        return JobSchedule(jobs, lambda: self.now)

    def after(self, schedule: JobSchedule, *pauses: timedelta) -> list[str]:
        self.done.clear()
        for pause in pauses:
            self.now += pause
            schedule.run_due()
        return self.done

    def test_are_done_at_once_and_then_when_they_are_due(self) -> None:
        schedule = self.schedule()

        self.assertEqual(self.after(schedule, timedelta()), ["often", "seldom"])
        self.assertEqual(self.after(schedule, timedelta(seconds=4)), [])
        self.assertEqual(self.after(schedule, timedelta(seconds=1)), ["often"])
        self.assertEqual(self.after(schedule, timedelta(hours=1)), ["often", "seldom"])

    def test_are_not_done_anew_because_the_worker_was_started_anew(self) -> None:
        self.after(self.schedule(), timedelta())

        self.assertEqual(self.after(self.schedule(), timedelta(minutes=30)), ["often"])
        self.assertEqual(self.after(self.schedule(), timedelta(minutes=30)), ["often", "seldom"])

    def test_go_on_when_the_clock_is_set_back(self) -> None:
        schedule = self.schedule()
        self.after(schedule, timedelta())

        self.assertEqual(self.after(schedule, -timedelta(days=1)), ["often", "seldom"])

    def test_that_fail_are_recorded_and_stop_no_other(self) -> None:
        self.does["often"] = -1
        with self.assertLogs("cadrin.worker", "ERROR"):
            done = self.after(self.schedule(), timedelta())

        self.assertEqual(done, ["often", "seldom"])
        self.assertEqual(
            {name: run.failure for name, run in latest_runs().items()},
            {"often": "ValueError", "seldom": ""},
        )

    def test_that_do_nothing_do_not_fill_the_record(self) -> None:
        schedule = self.schedule()
        self.after(schedule, timedelta(), *[timedelta(seconds=5)] * 40)
        self.assertEqual(JobRun.objects.filter(job="often").count(), 1)
        self.assertGreaterEqual(latest_runs()["often"].began_at, self.now - MINUTE)

        self.does["often"] = 3
        self.after(schedule, timedelta(seconds=5))
        self.assertEqual(
            list(JobRun.objects.filter(job="often").values_list("count", flat=True).order_by("id")),
            [0, 3],
        )

    def test_of_long_ago_are_forgotten_but_for_the_latest_of_each(self) -> None:
        self.does["often"] = 1
        self.after(self.schedule(), timedelta(), timedelta(seconds=5))

        self.assertEqual(forget_old_runs(NOON + timedelta(days=40)), 1)
        self.assertEqual(set(latest_runs()), {"often", "seldom"})

    def test_are_told_by_the_command(self) -> None:
        self.assertEqual(len({job.name for job in JOBS}), len(JOBS))
        JobRun.objects.create(job=JOBS[0].name, began_at=NOON, ended_at=NOON, count=7)
        told = StringIO()

        call_command("jobs", stdout=told)

        self.assertIn("2026-06-01 12:00:00 UTC: 7", told.getvalue())
        self.assertEqual(told.getvalue().count("never done"), len(JOBS) - 1)

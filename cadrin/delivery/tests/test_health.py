"""What whoever watches the machine is told, whether all is well or not."""

from datetime import timedelta
from unittest.mock import patch

from django.db import DatabaseError
from django.test import TestCase, override_settings
from django.utils import timezone

from cadrin.delivery.beats import LATE_AFTER, WORKER, beat
from cadrin.delivery.models import Beat
from tests.house import House


class Health(TestCase):
    def test_is_told_to_anybody_and_tells_of_a_worker_that_has_ended(self) -> None:
        House()
        beat(WORKER, timezone.now())
        well = self.client.get("/healthz")
        self.assertEqual((well.status_code, well.json()["worker"]), (200, "ok"))

        Beat.objects.update(at=timezone.now() - LATE_AFTER - timedelta(seconds=1))
        ill = self.client.get("/healthz")
        self.assertEqual(ill.status_code, 503)
        self.assertIn("stopped since", ill.json()["worker"])

    def test_of_a_database_that_is_away_is_told_all_the_same(self) -> None:
        with patch("cadrin.delivery.health.worker_stopped_at", side_effect=DatabaseError):
            answer = self.client.get("/healthz")

        self.assertEqual((answer.status_code, answer.json()["database"]), (503, "does not answer"))

    def test_in_figures_is_told_where_the_site_wants_it_alone(self) -> None:
        self.assertEqual(self.client.get("/metrics").status_code, 404)
        House().enrol()
        with override_settings(TELLS_METRICS=True):
            answer = self.client.get("/metrics")

        self.assertEqual(answer["Content-Type"], "text/plain; version=0.0.4; charset=utf-8")
        lines = answer.content.decode().splitlines()
        self.assertIn("cadrin_cardholders 1", lines)
        self.assertIn("cadrin_worker_up 0", lines)
        # each sample is told of before it: the exposition format of Prometheus, version 0.0.4
        for about, kind, sample in zip(lines[::3], lines[1::3], lines[2::3], strict=True):
            name = sample.split()[0]
            self.assertTrue(about.startswith(f"# HELP {name} "))
            self.assertEqual(kind, f"# TYPE {name} gauge")

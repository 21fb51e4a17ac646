"""What a request spent its time on is logged when that is asked for, and only then."""

import re
from cProfile import Profile

from django.db import connection
from django.test import override_settings
from django.test.utils import CaptureQueriesContext

from cadrin.config.slow import spent
from cadrin.core.schedules import round_the_clock
from tests.asking import WithAHouse
from tests.house import NOON

TOLD = re.compile(
    r"GET /api/cardholders/ took ([\d.]+) ms: (\d+) statements in ([\d.]+) ms,"
    r" the core ([\d.]+) ms, other rooms ([\d.]+) ms, the framework ([\d.]+) ms"
)


class SlowRequests(WithAHouse):
    def test_are_told_with_their_statements_and_where_their_time_went(self) -> None:
        with (
            override_settings(SLOW_MS=0.0),
            self.assertLogs("cadrin.config.slow") as logged,
            CaptureQueriesContext(connection) as asked,
        ):
            self.assertEqual(self.ask("GET", "/api/cardholders/?text=Reve")[0], 200)

        told = TOLD.search(logged.output[0])
        assert told is not None, logged.output
        took, statements, *parts = map(float, told.groups())
        self.assertEqual(statements, len(asked))
        self.assertGreater(min(parts[0], parts[2], parts[3]), 0)
        self.assertAlmostEqual(sum(parts), took, delta=0.3)
        self.assertNotIn("Reve", logged.output[0])

    def test_are_not_told_below_what_was_asked_for(self) -> None:
        with override_settings(SLOW_MS=600_000.0), self.assertNoLogs("cadrin.config.slow"):
            self.assertEqual(self.ask("GET", "/api/cardholders/")[0], 200)

    def test_what_is_worked_out_in_the_core_is_told_apart(self) -> None:
        schedule = round_the_clock("Europe/London")
        profile = Profile()

        profile.runcall(lambda: [schedule.is_open(NOON) for _ in range(200)])

        core, rooms = spent(profile.getstats())

        self.assertGreater(core, 0)
        self.assertEqual(rooms, 0)

"""Django's test runner: several processes side by side, and a plain last line that a CI can count.

Each process has a folder and a database of its own, and takes the next test from one queue when it
is done with the one before, so that none is idle while another has work left.
"""

import fcntl
import json
import os
import subprocess
import sys
import time
import unittest
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.conf import settings
from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.test.runner import DiscoverRunner
from django.test.utils import iter_test_cases  # type: ignore[attr-defined]

QUEUE = "CADRIN_TEST_QUEUE"
"""The folder of the queue, in the environment of a process that shares the work."""
TEST_KEYS = {
    "CADRIN_SECRET_KEY": "known-to-everybody-and-good-for-tests-alone-0123456789",
    "CADRIN_SEALING_KEYS": "dGVzdHMtYWxvbmUtdGVzdHMtYWxvbmUtdGVzdHMtYWw=",
}
SLOWEST_TOLD = 12


class Runner(DiscoverRunner):
    def run_tests(self, test_labels: list[str], **kwargs: Any) -> int:
        if self.parallel > 1 and QUEUE not in os.environ:
            return self._share(test_labels, self.parallel)
        self.parallel = 1
        return super().run_tests(test_labels, **kwargs)

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        settings.VAR.mkdir(parents=True, exist_ok=True)
        self._images = TemporaryDirectory()
        settings.IMAGES = self._images.name
        os.environ.update(TEST_KEYS)  # for the processes that tests start
        settings.SECRET_KEY, settings.HAS_SECRET_KEY = TEST_KEYS["CADRIN_SECRET_KEY"], True
        settings.SEALING_KEYS = [TEST_KEYS["CADRIN_SEALING_KEYS"]]
        # a hash that is slow on purpose would be most of the time of tests that sign in
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def setup_databases(self, **kwargs: Any) -> Any:
        made = super().setup_databases(**kwargs)
        with connection.cursor() as cursor:
            # a test that commits ends by emptying every table; one test makes the trigger anew and
            # tries it
            on = " ON journal_entry" if connection.vendor == "postgresql" else ""
            cursor.execute(f"DROP TRIGGER IF EXISTS journal_entry_is_never_removed{on}")
        return made

    def teardown_test_environment(self, **kwargs: Any) -> None:
        super().teardown_test_environment(**kwargs)
        self._images.cleanup()

    def build_suite(
        self, test_labels: Sequence[str] | None = None, **kwargs: Any
    ) -> unittest.TestSuite:
        suite: unittest.TestSuite = super().build_suite(test_labels, **kwargs)
        if QUEUE in os.environ:
            return _Claimed(_units(suite), Path(os.environ[QUEUE]))
        return suite

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return _Timed

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        # a test of which several cases failed is one failed test
        told = [test for test, _ in (*result.failures, *result.errors)] + list(
            result.unexpectedSuccesses
        )
        bad = len({getattr(test, "test_case", test).id() for test in told})
        skipped = len(result.skipped)
        counts = {"passed": result.testsRun - bad - skipped, "failed": bad, "skipped": skipped}
        if QUEUE in os.environ:
            told_by = Path(os.environ[QUEUE]) / f"told-{os.getpid()}.json"
            told_by.write_text(json.dumps({**counts, "seconds": result.seconds}))
        else:
            _tell(counts, result.seconds)
        return super().suite_result(suite, result, **kwargs)

    def _share(self, test_labels: Sequence[str], processes: int) -> int:
        """Run the tests in several processes, and say together what became of them."""
        self.parallel = 1  # the framework would make copies for itself
        self.setup_test_environment()
        units = _units(super().build_suite(test_labels))
        expected = sum(map(len, units.values()))
        made = self.setup_databases()
        with TemporaryDirectory() as folder:
            queue = Path(folder)
            (queue / "units").write_text("\n".join(units))
            (queue / "taken").write_text("0")
            running = [self._start(queue, place, test_labels) for place in range(processes)]
            self.teardown_databases(made)
            codes = [process.wait() for process in running]
            told = [json.loads(file.read_text()) for file in queue.glob("told-*.json")]
        self.teardown_test_environment()
        counts = {
            name: sum(item[name] for item in told) for name in ("passed", "failed", "skipped")
        }
        lost = expected - sum(counts.values())
        counts["failed"] += lost  # a process that died took its test with it
        _tell(counts, {name: seconds for item in told for name, seconds in item["seconds"].items()})
        return counts["failed"] or sum(map(abs, codes))

    def _start(
        self, queue: Path, place: int, test_labels: Sequence[str]
    ) -> "subprocess.Popen[bytes]":
        """Start one of the processes, with a copy of the database that was made."""
        var = queue / f"var-{place}"
        var.mkdir()
        creation: Any = connection.creation  # of one of our backends
        more = creation.copy_for(place, var)
        wanted = [
            sys.executable,
            "manage.py",
            "test",
            "--noinput",
            "--keepdb",
            "--parallel",
            "1",
            *test_labels,
        ]
        where = {**os.environ, **more, QUEUE: str(queue), "CADRIN_VAR": str(var)}
        return subprocess.Popen(wanted, env=where, cwd=settings.ROOT)  # noqa: S603 - our own words


class _Timed(unittest.TextTestResult):
    """What became of the tests, and how long each took."""

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        self.seconds: dict[str, float] = {}

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's name
        self._began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's name
        self.seconds[test.id()] = round(time.monotonic() - self._began, 1)
        super().stopTest(test)


class _Claimed(unittest.TestSuite):
    """The tests that this process claims from the queue, until none is left."""

    _cleanup = False  # unittest would look for what it removes among the tests it was given

    def __init__(self, units: Mapping[str, Sequence[unittest.TestCase]], queue: Path) -> None:
        super().__init__()
        self._units, self._queue = units, queue
        self._is_running = False

    def run(self, result: unittest.TestResult, debug: bool = False) -> unittest.TestResult:
        self._is_running = True
        return super().run(result, debug)

    def __iter__(self) -> Iterator[unittest.TestCase]:
        if not self._is_running:  # only looked at
            yield from (test for tests in self._units.values() for test in tests)
            return
        names = (self._queue / "units").read_text().split("\n")
        while (place := self._next()) < len(names):
            yield from self._units[names[place]]

    def _next(self) -> int:
        with (self._queue / "taken").open("r+") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            place = int(file.read())
            file.seek(0)
            file.write(str(place + 1))
        return place


def _units(suite: unittest.TestSuite) -> dict[str, list[unittest.TestCase]]:
    """Part a suite into what one process does in one go: a class with what it sets up once, else a
    test by itself.

    In Django's order (what commits comes after what is rolled back), the longest of those that
    commit first.
    """
    units: dict[str, list[unittest.TestCase]] = {}
    for test in iter_test_cases(suite):
        kind = type(test)
        is_alone = isinstance(test, TransactionTestCase) and not isinstance(test, TestCase)
        units.setdefault(
            test.id() if is_alone else f"{kind.__module__}.{kind.__qualname__}", []
        ).append(test)
    order = {name: _order(name, tests[0]) for name, tests in units.items()}
    return {name: units[name] for name in sorted(units, key=order.__getitem__)}


def _order(name: str, test: unittest.TestCase) -> tuple[int, int]:
    if isinstance(test, TestCase):
        return 0, 0
    return (1, 0 if ".faults." in name else 1) if isinstance(test, TransactionTestCase) else (2, 0)


def _tell(counts: Mapping[str, int], seconds: Mapping[str, float]) -> None:
    slowest = sorted(seconds.items(), key=lambda item: -item[1])[:SLOWEST_TOLD]
    print("The slowest:\n" + "\n".join(f"{took:7.1f} s  {name}" for name, took in slowest))
    print(
        f"{counts['passed']} passed, {counts['failed']} failed, {counts['skipped']} skipped",
        flush=True,
    )

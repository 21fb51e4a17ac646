"""Django's test runner, with a plain last line that a CI can count."""

from tempfile import TemporaryDirectory
from typing import Any

from django.conf import settings
from django.db import connection
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        self._images = TemporaryDirectory()
        settings.IMAGES = self._images.name
        # a hash that is slow on purpose would be most of the time of tests that sign in
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def setup_databases(self, **kwargs: Any) -> Any:
        made = super().setup_databases(**kwargs)
        with connection.cursor() as cursor:
            # a test that commits ends by emptying every table; one test makes the trigger anew and tries it
            cursor.execute("DROP TRIGGER IF EXISTS journal_entry_is_never_removed")
        return made

    def teardown_test_environment(self, **kwargs: Any) -> None:
        super().teardown_test_environment(**kwargs)
        self._images.cleanup()

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        # a test of which several cases failed is one failed test
        told = [test for test, _ in (*result.failures, *result.errors)] + list(result.unexpectedSuccesses)
        bad = len({getattr(test, "test_case", test).id() for test in told})
        skipped = len(result.skipped)
        print(f"{result.testsRun - bad - skipped} passed, {bad} failed, {skipped} skipped", flush=True)
        return super().suite_result(suite, result, **kwargs)

"""One-time codes against their standard, and the waits after wrong passwords."""

from base64 import b32encode
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.one_time_codes import code_of, step_of, step_taken
from cadrin.core.sign_in import LONGEST_WAIT, wait_after

SECRET = b32encode(b"12345678901234567890").decode()
RFC_6238_APPENDIX_B = {
    "1970-01-01 00:00:59": "94287082",
    "2005-03-18 01:58:29": "07081804",
    "2005-03-18 01:58:31": "14050471",
    "2009-02-13 23:31:30": "89005924",
    "2033-05-18 03:33:20": "69279037",
    "2603-10-11 11:33:20": "65353130",
}
"""The SHA-1 rows of the table of test values, eight digits each."""
RFC_4226_APPENDIX_D = (
    "755224",
    "287082",
    "359152",
    "969429",
    "338314",
    "254676",
    "287922",
    "162583",
    "399871",
    "520489",
)


class OneTimeCodes(TestCase):
    def test_are_those_of_the_standard(self) -> None:
        for when, code in RFC_6238_APPENDIX_B.items():
            with self.subTest(when):
                at = datetime.fromisoformat(when).replace(tzinfo=UTC)
                self.assertEqual(code_of(SECRET, step_of(at), digits=8), code)
                self.assertEqual(step_taken(SECRET, code[2:], at, 0), step_of(at))
        self.assertEqual(tuple(code_of(SECRET, count) for count in range(10)), RFC_4226_APPENDIX_D)

    @given(st.integers(4, 10**8), st.integers(-3, 3))
    def test_are_taken_one_step_early_or_late_and_once(self, step: int, off: int) -> None:
        at = datetime.fromtimestamp(step * 30 + 10, UTC)
        code = code_of(SECRET, step + off)
        if any(code_of(SECRET, step + other) == code for other in (-1, 0, 1) if other != off):
            return  # two steps in a million have the same code

        taken = step_taken(SECRET, code, at, 0)

        self.assertEqual(taken, step + off if abs(off) <= 1 else None)
        if taken:
            self.assertIsNone(step_taken(SECRET, code, at, taken))


class Waits(TestCase):
    @given(st.integers(0, 10**9))
    def test_never_shrink_and_never_are_for_good(self, failures: int) -> None:
        self.assertLessEqual(wait_after(failures), wait_after(failures + 1))
        self.assertLessEqual(wait_after(failures), LONGEST_WAIT)

    def test_leave_fewer_than_a_hundred_tries_in_an_hour(self) -> None:
        """OWASP ASVS 4.0.3, 2.2.1: no more than 100 failed tries per hour on one account."""
        elapsed, tries = timedelta(0), 0
        while elapsed < timedelta(hours=1):
            tries += 1
            elapsed += wait_after(tries)

        self.assertLess(tries, 100)

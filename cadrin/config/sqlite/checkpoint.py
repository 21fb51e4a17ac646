"""Bring what was written from the log to its place in the database file, beside those who write."""

from django.db import connection


def checkpoint() -> int:
    """Bring as much as nobody reads to its place, and return how many pages of the log are there.

    It takes no turn to write, so nobody waits for the disk meanwhile. Without it the commit that finds
    the log long would do it, and whoever saves something small would pay for a large list.
    """
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(PASSIVE)")
        _is_busy, _in_log, brought = cursor.fetchone()
    return max(0, int(brought))

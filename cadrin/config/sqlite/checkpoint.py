"""Bring what was written to its place in the database file between transactions, so that nobody who
saves meanwhile pays for it.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection


@contextmanager
def checkpoint_afterwards() -> Iterator[None]:
    """Let transactions within this end without a checkpoint, and do one after them, when the turn to
    write is given back already.

    By default SQLite checkpoints within a commit as soon as the log has 1,000 pages: after a large
    transaction the next small one, of whomever, would wait for all of it.
    """
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_autocheckpoint = 0")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(PASSIVE)")
            cursor.execute("PRAGMA wal_autocheckpoint = 1000")

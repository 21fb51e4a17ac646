"""Django's SQLite backend, made safe for a test database that is a file in WAL mode."""

# mypy: disable-error-code="misc,attr-defined"
import fcntl
from pathlib import Path
from typing import IO

from django.db.backends.sqlite3 import base, creation


class DatabaseCreation(creation.DatabaseCreation):
    """`manage.py test --parallel` clones the test database by copying its main file alone.

    Without this class the copies lack what is still in the -wal file ("no such table"),
    and a -wal left beside a clone by a killed run would be replayed into the new copy."""

    def _clone_test_db(self, suffix: str, verbosity: int, keepdb: bool = False) -> None:
        if not self.is_in_memory_db(self.connection.settings_dict["NAME"]):
            with self.connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            self._remove_side_files(self.get_test_db_clone_settings(suffix)["NAME"])
        super()._clone_test_db(suffix, verbosity, keepdb)

    def _destroy_test_db(self, test_database_name: str, verbosity: int) -> None:
        super()._destroy_test_db(test_database_name, verbosity)
        self._remove_side_files(test_database_name)

    def _remove_side_files(self, name: str) -> None:
        if name and not self.is_in_memory_db(name):
            for end in ("-wal", "-shm", ".turn"):
                Path(f"{name}{end}").unlink(missing_ok=True)


class DatabaseWrapper(base.DatabaseWrapper):
    """Writers take turns: SQLite's own waiting is by chance, and one that works without a pause starves the others.

    A transaction begins with the write lock, so whoever begins one first takes a lock on a file beside
    the database, at which the system lets everybody wait for as long as the others take.
    """

    creation_class = DatabaseCreation
    _turn: IO[bytes] | None = None

    def _start_transaction_under_autocommit(self) -> None:
        self._take_turn()
        try:
            super()._start_transaction_under_autocommit()
        except BaseException:
            self._end_turn()
            raise

    def _commit(self) -> None:
        try:
            super()._commit()
        finally:
            self._end_turn()

    def _rollback(self) -> None:
        try:
            super()._rollback()
        finally:
            self._end_turn()

    def _close(self) -> None:
        try:
            super()._close()
        finally:
            self._end_turn()

    def _take_turn(self) -> None:
        name = self.settings_dict["NAME"]
        if self.is_in_memory_db() or self._turn is not None:
            return
        self._turn = Path(f"{name}.turn").open("ab")  # noqa: SIM115 - held until the turn ends
        fcntl.flock(self._turn, fcntl.LOCK_EX)

    def _end_turn(self) -> None:
        if self._turn is not None:
            self._turn.close()  # which lets go of the lock
            self._turn = None

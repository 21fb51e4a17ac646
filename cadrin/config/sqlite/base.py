"""Django's SQLite backend, made safe for a test database that is a file in WAL mode."""

# mypy: disable-error-code="misc,attr-defined"
import shutil
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import orjson
from django.db.backends.sqlite3 import base, creation

from cadrin.config.sqlite.turn import Turn


class DatabaseCreation(creation.DatabaseCreation):
    """`manage.py test --parallel` clones the test database by copying its main file alone.

    Without this class the copies lack what is still in the -wal file ("no such table"),
    and a -wal left beside a clone by a killed run would be replayed into the new copy."""

    def copy_for(self, place: int, var: Path) -> dict[str, str]:
        """Copy the test database for a process that shares the work, and return what its environment
        says of it.
        """
        with self.connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        shutil.copy(self.connection.settings_dict["NAME"], var / "test.sqlite3")
        return {}

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
            for end in ("-wal", "-shm", ".turn", ".gate"):
                Path(f"{name}{end}").unlink(missing_ok=True)


class DatabaseWrapper(base.DatabaseWrapper):
    """Writers take turns: SQLite's own waiting is by chance, and one that works without a pause
    starves the others.

    A transaction begins with the write lock, so whoever begins one first takes a turn beside the
    database. Waiting for it has an end: then the write is given up with WriterBusy, before it
    began. Reading never waits.
    """

    creation_class = DatabaseCreation
    _turn: Turn | None = None
    patience_seconds: float | None = None  # None: the framework's own timeout

    @contextmanager
    def hurried(self) -> Iterator[None]:
        """Within this, a write that cannot begin at once is given up: for what may be left out."""
        self.ensure_connection()
        self.patience_seconds = 0.0
        self._wait_in_sqlite(0.0)
        try:
            yield
        finally:
            self.patience_seconds = None
            self._wait_in_sqlite(self._longest_seconds)

    def changes_version(self) -> int:
        """Return a number that is another after every change that another connection made. It is
        asked some fifty times a second: without the framework around it.
        """
        self.ensure_connection()
        return int(self.connection.execute("PRAGMA data_version").fetchone()[0])

    def checkpoint(self) -> int:
        """Bring as much as nobody reads from the log to its place, and return how many pages of the
        log are there.

        It takes no turn to write, so nobody waits for the disk meanwhile. Without it the commit that
        finds the log long would do it, and whoever saves something small would pay for a large list.
        """
        with self.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(PASSIVE)")
            _is_busy, _in_log, brought = cursor.fetchone()
        return max(0, int(brought))

    def take_ids(self, table: str, count: int) -> Sequence[int]:
        """Return the ids after the highest that a row ever had: one of a row that is gone is not given
        again.
        """
        with self.cursor() as cursor:
            cursor.execute("SELECT seq FROM sqlite_sequence WHERE name = %s", [table])
            found = cursor.fetchone()
        first = int(found[0]) + 1 if found else 1
        return range(first, first + count)

    def json_as_kept(self, value: Any) -> str:
        return orjson.dumps(value).decode()

    def among(self, left: str) -> str:
        return f"{left} IN (SELECT value FROM json_each(%s))"  # noqa: S608

    def ids_as_parameter(self, ids: Sequence[int]) -> Any:
        return orjson.dumps(ids).decode()

    def holds(self, what: str) -> bool:
        """One worker works on a file, which it locks: everything is its own."""
        return True

    @property
    def _longest_seconds(self) -> float:
        return float(self.settings_dict["OPTIONS"].get("timeout", 5))

    def _wait_in_sqlite(self, seconds: float) -> None:
        self.connection.execute(f"PRAGMA busy_timeout = {int(seconds * 1000)}")

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
        if self.is_in_memory_db():
            return
        name = str(self.settings_dict["NAME"])
        if self._turn is None or (self._turn.database != name and not self._turn.is_held):
            self._turn = Turn(name)
        if not self._turn.is_held:
            self._turn.take(
                self._longest_seconds if self.patience_seconds is None else self.patience_seconds
            )

    def _end_turn(self) -> None:
        if self._turn is not None:
            self._turn.end()

"""Django's PostgreSQL backend with one writer at a time, as with SQLite: what is computed from what
was read stays true until it is written, whatever process does it.
"""

# mypy: disable-error-code="misc,attr-defined,no-untyped-call"
import json
import re
import zlib
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import orjson
from django.db import OperationalError
from django.db.backends.postgresql import base, creation, operations
from psycopg.errors import LockNotAvailable
from psycopg.types.json import Jsonb

from cadrin.config.database.busy import WriterBusy

THE_TURN = zlib.crc32(b"cadrin: whose turn it is to write")
WORK = zlib.crc32(b"cadrin: a piece of work") & 0x7FFFFFFF
LONGEST_WAIT_SECONDS = 10.0


def storable(written: str) -> str:
    """Write the one character that the database cannot keep in JSON as the sign for it."""
    return re.sub(r"(?<!\\)((?:\\\\)*)\\u0000", r"\1\\u2400", written)


class DatabaseCreation(creation.DatabaseCreation):
    def copy_for(self, place: int, var: Path) -> dict[str, str]:
        """Copy the test database for a process that shares the work, and return what its environment
        says of it.
        """
        made = self.connection.settings_dict["NAME"]
        self.connection.close()
        with self._nodb_cursor() as cursor:
            cursor.execute(f'DROP DATABASE IF EXISTS "{made}_{place}"')
            cursor.execute(f'CREATE DATABASE "{made}_{place}" TEMPLATE "{made}"')
        return {"CADRIN_TEST_DATABASE": f"{made}_{place}"}


class DatabaseOperations(operations.DatabaseOperations):
    def adapt_json_value(self, value: Any, encoder: Any) -> Any:
        """Return a value as the database keeps JSON; it has no character of the number 0."""
        return Jsonb(value, dumps=lambda one: storable(json.dumps(one, cls=encoder)))


class DatabaseWrapper(base.DatabaseWrapper):
    """A transaction begins by taking the writers' turn, and gives it back as it ends. The server
    lets those who wait come in their order. Reading, outside of a transaction, never waits.
    """

    ops_class = DatabaseOperations
    creation_class = DatabaseCreation
    patience_seconds: float | None = None
    _held: tuple[Any, set[str]] = (None, set())

    @contextmanager
    def hurried(self) -> Iterator[None]:
        """Within this, a write that cannot begin at once is given up: for what may be left out."""
        self.patience_seconds = 0.0
        try:
            yield
        finally:
            self.patience_seconds = None

    def _set_autocommit(self, autocommit: bool) -> None:
        super()._set_autocommit(autocommit)
        if autocommit:
            return
        try:
            self._take_turn()
        except BaseException:
            self._rollback()
            super()._set_autocommit(True)
            raise

    def _take_turn(self) -> None:
        if self.patience_seconds == 0.0:
            if not self._ask("SELECT pg_try_advisory_xact_lock(%s)", THE_TURN):
                raise WriterBusy("another has been writing")
            return
        try:
            self._ask(
                "SELECT set_config('lock_timeout', %s, true), pg_advisory_xact_lock(%s)",
                f"{LONGEST_WAIT_SECONDS}s",
                THE_TURN,
            )
        except OperationalError as error:
            if isinstance(error.__cause__, LockNotAvailable):
                raise WriterBusy("others have been writing for too long") from error
            raise

    def _ask(self, statement: str, *params: object) -> Any:
        """Return the first value that a statement gives, without the framework around it."""
        with self.wrap_database_errors:
            return self.connection.execute(statement, params).fetchone()[0]

    def changes_version(self) -> int:
        """Return a number that is another after every change that was committed."""
        self.ensure_connection()
        return int(self._ask("SELECT pg_snapshot_xmax(pg_current_snapshot())::text"))

    def checkpoint(self) -> int:
        """The server does this by itself."""
        return 0

    def take_ids(self, table: str, count: int) -> Sequence[int]:
        with self.cursor() as cursor:
            cursor.execute(
                "SELECT nextval(pg_get_serial_sequence(%s, 'id')) FROM generate_series(1, %s)",
                [f'"{table}"', count],
            )
            return [id_ for (id_,) in cursor.fetchall()]

    def json_as_kept(self, value: Any) -> str:
        return storable(orjson.dumps(value).decode())

    def among(self, left: str) -> str:
        return f"{left} = ANY(%s)"

    def ids_as_parameter(self, ids: Sequence[int]) -> Any:
        return list(ids)

    def holds(self, what: str) -> bool:
        self.ensure_connection()
        connection, held = self._held
        if connection is not self.connection:
            self._held = self.connection, held = self.connection, set()
        if what not in held:
            name = zlib.crc32(what.encode()) & 0x7FFFFFFF
            if self._ask("SELECT pg_try_advisory_lock(%s, %s)", WORK, name):
                held.add(what)
        return what in held

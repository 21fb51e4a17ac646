"""What is asked of the database beside SQL, whichever it is; each of its backends answers."""

from collections.abc import Sequence
from contextlib import AbstractContextManager
from typing import Any, Protocol, cast

from django.db import connection


class Database(Protocol):
    """What `config/sqlite/base.py` and `config/postgresql/base.py` have beyond the framework's."""

    def hurried(self) -> AbstractContextManager[None]:
        """Within this, a write that cannot begin at once raises WriterBusy: for what may be left out."""

    def changes_version(self) -> int:
        """Return a number that is another after every change that another connection made."""

    def checkpoint(self) -> int:
        """Bring what was written from the log to its place, and return how many pages are there."""

    def take_ids(self, table: str, count: int) -> Sequence[int]:
        """Return new ids of a table, higher than any that a row ever had. The caller holds the
        writer's turn.
        """

    def json_as_kept(self, value: Any) -> str:
        """Return JSON as the database keeps it."""

    def among(self, left: str) -> str:
        """Return the condition that a column is one of the ids that make one parameter."""

    def ids_as_parameter(self, ids: Sequence[int]) -> Any:
        """Return ids as `among` takes them."""

    def holds(self, what: str) -> bool:
        """Say whether this connection has a piece of work to itself, and take it where nobody has:
        until the connection ends, however it ends.
        """


def database() -> Database:
    """Return the connection of this thread."""
    return cast(Database, connection)

"""The small memory of one controller: a file, so that it outlives a power cut."""

import json
import secrets
import sqlite3
from collections.abc import Iterable, Mapping
from datetime import datetime
from pathlib import Path
from typing import Any

import orjson

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.doors.state import Whereabouts
from cadrin.core.records.keys import Body, RecordKey

Event = dict[str, Any]


class Store:
    def __init__(self, path: Path | None) -> None:
        """Open the memory, or begin an empty one. ``path`` None keeps it in this process alone."""
        self._file = sqlite3.connect(
            path or ":memory:", isolation_level=None, check_same_thread=False
        )
        self._file.executescript(
            """
            PRAGMA journal_mode = WAL;
            PRAGMA synchronous = OFF;
            PRAGMA secure_delete = ON;
            CREATE TABLE IF NOT EXISTS name (name TEXT NOT NULL);
            CREATE TABLE IF NOT EXISTS held (
                place INTEGER PRIMARY KEY AUTOINCREMENT, key TEXT UNIQUE NOT NULL, body TEXT NOT NULL
            );
            CREATE TABLE IF NOT EXISTS use (card TEXT, since INTEGER, count INTEGER, PRIMARY KEY (card, since));
            CREATE TABLE IF NOT EXISTS whereabouts (holder INTEGER PRIMARY KEY, area INTEGER, since TEXT NOT NULL);
            CREATE TABLE IF NOT EXISTS event (number INTEGER PRIMARY KEY AUTOINCREMENT, body TEXT NOT NULL);
            """
        )
        if not self._file.execute("SELECT 1 FROM name").fetchone():
            self.empty()

    @property
    def name(self) -> str:
        """Return the name of this memory: another one after it was emptied."""
        (name,) = self._file.execute("SELECT name FROM name").fetchone()
        return str(name)

    def version(self) -> int:
        """Return a number that moves when anything but this process has changed the memory."""
        (version,) = self._file.execute("PRAGMA data_version").fetchone()
        return int(version)

    def records(self) -> list[tuple[RecordKey, Body]]:
        """Return every record that can be read, in the order in which they came."""
        found = []
        for key, body in self._file.execute("SELECT key, body FROM held ORDER BY place"):
            try:
                found.append((RecordKey.parse(key), orjson.loads(body)))
            except ValueError:
                continue  # as if it were not there: then it is sent again
        return found

    def write(self, put: Mapping[RecordKey, Body], remove: Iterable[RecordKey]) -> None:
        """Take and drop records, all or none."""
        with self._transaction():
            self._file.executemany(
                "DELETE FROM held WHERE key = ?", [(str(key),) for key in (*remove, *put)]
            )
            self._file.executemany(
                "INSERT INTO held (key, body) VALUES (?, ?)",
                [(str(key), orjson.dumps(body).decode()) for key, body in put.items()],
            )

    def uses(self) -> list[tuple[CardKey, int, int]]:
        """Return how often each card with a use limit opened something, and since when."""
        rows = self._file.execute("SELECT card, since, count FROM use")
        return [(CardKey(*json.loads(card)), since, count) for card, since, count in rows]

    def write_use(self, card: CardKey, since: int, count: int) -> None:
        self._file.execute(
            "INSERT OR REPLACE INTO use VALUES (?, ?, ?)", [json.dumps(card), since, count]
        )

    def whereabouts(self) -> dict[int, Whereabouts]:
        """Return where people were seen last."""
        rows = self._file.execute("SELECT holder, area, since FROM whereabouts")
        return {id_: Whereabouts(area, datetime.fromisoformat(at)) for id_, area, at in rows}

    def write_whereabouts(self, people: Mapping[int, Whereabouts]) -> None:
        self._file.executemany(
            "INSERT OR REPLACE INTO whereabouts VALUES (?, ?, ?)",
            [(id_, where.area_id, where.since.isoformat()) for id_, where in people.items()],
        )

    def add_event(self, event: Event) -> int:
        """Keep an event and give its number; numbers rise and never come again."""
        number = self._file.execute(
            "INSERT INTO event (body) VALUES (?)", [json.dumps(event)]
        ).lastrowid
        return number or 0

    def events_after(self, number: int, most: int = 200) -> list[Event]:
        """Return the events after a number, and forget those up to it: they have arrived."""
        self._file.execute("DELETE FROM event WHERE number <= ?", [number])
        rows = self._file.execute("SELECT number, body FROM event ORDER BY number LIMIT ?", [most])
        return [{"number": number, **json.loads(body)} for number, body in rows]

    def empty(self) -> None:
        """Forget everything, as after a factory reset."""
        with self._transaction():
            for table in ("name", "held", "use", "whereabouts", "event"):
                self._file.execute(f"DELETE FROM {table}")  # noqa: S608 - names of our own
            self._file.execute("DELETE FROM sqlite_sequence")
            self._file.execute("INSERT INTO name VALUES (?)", [secrets.token_hex(6)])

    def close(self) -> None:
        self._file.close()

    def _transaction(self) -> sqlite3.Connection:
        self._file.execute("BEGIN IMMEDIATE")
        return self._file

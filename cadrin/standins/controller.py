"""A simulated controller: keeps records, decides reads from them with the core, keeps events until fetched."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from cadrin.core.cards.formats import RawRead
from cadrin.core.decision.decide import decide, opens_next, told
from cadrin.core.delivery import Body, HeldRecords, RecordKey, RecordKind, digest, sum_of
from cadrin.core.errors import Invalid
from cadrin.standins.store import Event, Store

FULL, NOT_READABLE = "full", "not_readable"


@dataclass(frozen=True, slots=True)
class Setup:
    """What a controller is like when it is taken out of its box."""

    id: int
    name: str
    readers: Mapping[int, str]
    capacity: int | None = None
    clock_off_seconds: int = 0
    is_on: bool = True
    is_desk: bool = False


class Controller:
    """``path`` is where its memory lies; None keeps it in this process alone."""

    def __init__(self, setup: Setup, path: Path | None = None) -> None:
        self.setup = setup
        self.is_on = setup.is_on
        self.delay_seconds = 0.0
        self.clock_off_seconds = setup.clock_off_seconds
        self._store = Store(path)
        self._read_store()

    def _read_store(self) -> None:
        self._held = HeldRecords()
        self._digests: dict[RecordKey, str] = {}
        self._sum = sum_of([])
        for key, one, body in self._store.records():
            self._held.put(key, body)
            self._digests[key] = one
        self._sum = sum_of(self._digests.values())

    # -- for Cadrin --------------------------------------------------------------------------

    def state(self) -> dict[str, Any]:
        """Say which memory speaks, the sum of what it holds, and the time on its own clock."""
        return {
            "store": self._store.name,
            "sum": self._sum,
            "held": len(self._digests),
            "capacity": self.setup.capacity,
            "at": self.clock().isoformat(),
        }

    def digests(self) -> dict[str, str]:
        return {str(key): one for key, one in self._digests.items()}

    def take(self, put: Iterable[tuple[str, Body]], remove: Iterable[str]) -> dict[str, Any]:
        """Take and drop records; each that was refused is told with its reason."""
        removed = [key for text in remove if (key := _key(text))]
        for key in removed:
            self._drop(key)
        taken: dict[RecordKey, tuple[str, Body]] = {}
        refused: dict[str, str] = {}
        for text, body in put:
            key = _key(text)
            if key is None or not self._fits(key):
                refused[text] = NOT_READABLE if key is None else FULL
                continue
            try:
                self._held.put(key, body)
            except (Invalid, KeyError, TypeError, ValueError, AttributeError):
                refused[text] = NOT_READABLE
                continue
            taken[key] = digest(key, body), body
            self._set_digest(key, taken[key][0])
        self._store.write(taken, removed)
        held = {str(key): one for key, (one, _) in taken.items()}
        return {"held": held, "removed": [str(key) for key in removed], "refused": refused}

    def _fits(self, key: RecordKey) -> bool:
        if key.kind is not RecordKind.CARDHOLDER or self.setup.capacity is None or self._held.has(key):
            return True
        return self._held.holder_count < self.setup.capacity

    def _drop(self, key: RecordKey) -> None:
        self._held.remove(key)
        self._set_digest(key, None)

    def _set_digest(self, key: RecordKey, one: str | None) -> None:
        old = self._digests.pop(key, None)
        if one is not None:
            self._digests[key] = one
        self._sum = sum_of([self._sum, *filter(None, (old, one))])

    def events(self, store: str, after: int) -> list[Event]:
        """Give the events after a number of this memory; numbers of another memory mean nothing here."""
        return self._store.events_after(after if store == self._store.name else 0)

    # -- for the test bench ------------------------------------------------------------------

    def clock(self) -> datetime:
        """Give the time on its own clock, right or wrong."""
        return datetime.now(UTC) + timedelta(seconds=self.clock_off_seconds)

    def present(self, reader_id: int, read: RawRead) -> dict[str, Any]:
        """Show a card to a reader: decide, keep the event, and tell what happens at the door."""
        at = self.clock()
        event: Event = {
            "at": at.isoformat(),
            "reader": reader_id,
            "reader_name": self.setup.readers[reader_id],
            "raw": str(read),
        }
        if not self.setup.is_desk:
            event |= self.rehearse(reader_id, read, at)
        return {"number": self._store.add_event(event), **event}

    def rehearse(self, reader_id: int, read: RawRead, at: datetime) -> dict[str, Any]:
        """Tell what the controller would decide at another time; nothing is kept."""
        verdict = decide(read, reader_id, at, self._held)
        return told(verdict, opens_next(verdict, reader_id, at, self._held))

    def empty(self) -> None:
        """Forget everything, as after a factory reset."""
        self._store.empty()
        self._read_store()

    def close(self) -> None:
        self._store.close()


def _key(text: str) -> RecordKey | None:
    try:
        return RecordKey.parse(text)
    except (ValueError, AttributeError):
        return None

"""Controllers that are taken out of their box at the test bench: each takes the first key it is given."""

import json
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from cadrin.standins.controller import Plug, Setup

FIRST_NUMBER = 901
MOST = 50
PLUGS = (
    Plug(1, "reader 1"),
    Plug(2, "reader 2"),
    Plug(3, "reader 3", ("keypads",)),
    Plug(4, "reader 4", ("keypads",)),
)
CAPACITY, MOST_CARDS, LONGEST_NAME = 2_000, 4, 30
LATEST = 2_145_916_800  # 1 January 2038, 00:00 UTC


def memory_of(folder: Path | None, number: int) -> Path | None:
    """Return where the memory of a controller lies; None is in this process alone."""
    return folder / f"{number}.sqlite3" if folder else None


def found_as(setup: Setup, *, is_claimed: bool) -> dict[str, Any]:
    """Return what a controller says of itself to whoever looks for it."""
    plugs = [{"number": p.number, "name": p.name, "devices": list(p.devices)} for p in setup.plugs]
    return {"number": setup.id, "name": setup.name, "plugs": plugs, "is_claimed": is_claimed}


class Boxes:
    """``folder`` is where what was unboxed is kept; None keeps it in this process alone."""

    def __init__(self, folder: Path | None) -> None:
        self.folder = folder
        self._file = folder / "boxes.json" if folder else None
        kept = json.loads(self._file.read_text()) if self._file and self._file.exists() else {}
        self._keys: dict[int, str] = {int(number): key for number, key in kept.items()}

    def unbox(self) -> int:
        """Take one more out of its box, and return its number; one that waits is enough."""
        waiting = [number for number, key in self._keys.items() if not key]
        if waiting:
            return waiting[0]
        number = FIRST_NUMBER + len(self._keys) % MOST
        self._keys[number] = ""
        self._keep()
        return number

    def claimed(self) -> Iterable[Setup]:
        return [_setup(number, bytes.fromhex(key)) for number, key in self._keys.items() if key]

    def waiting(self) -> list[dict[str, Any]]:
        """Return what those say of themselves that were given no key yet."""
        return [
            found_as(_setup(number, b""), is_claimed=False)
            for number, key in self._keys.items()
            if not key
        ]

    def claim(self, number: int, key: bytes) -> Setup | None:
        """Let one take the first key that it is given; None for one that does not wait for any."""
        if self._keys.get(number) != "" or not key:
            return None
        self._keys[number] = key.hex()
        self._keep()
        return _setup(number, key)

    def forget_key(self, number: int) -> bool:
        """Let one wait for a key again, and say whether it was one of these."""
        if number not in self._keys:
            return False
        self._keys[number] = ""
        self._keep()
        return True

    def _keep(self) -> None:
        if self._file:
            draft = self._file.with_suffix(".new")
            draft.write_text(json.dumps(self._keys))
            draft.rename(self._file)


def _setup(number: int, key: bytes) -> Setup:
    return Setup(
        number,
        f"Controller {number}",
        {},
        key,
        capacity=CAPACITY,
        most_cards=MOST_CARDS,
        longest_name=LONGEST_NAME,
        latest=LATEST,
        plugs=PLUGS,
    )

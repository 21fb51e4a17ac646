"""A simulated controller: keeps records, decides reads from them with the core, keeps events until
fetched.
"""

from base64 import urlsafe_b64encode
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, NamedTuple

from cryptography.fernet import Fernet
from PIL import Image as Pillow

from cadrin.core.credentials.factors import Evidence, Factor
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.pin.lockout import Keypad
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.decision.events import to_event, went
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.errors import Invalid
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import Body, RecordKey, RecordKind, digest, sum_of
from cadrin.core.signing import Refused
from cadrin.standins.house import HouseHere
from cadrin.standins.room import why_no_room
from cadrin.standins.seen_at_desks import pressed, shown_face
from cadrin.standins.store import Event, Store
from cadrin.standins.talks import Talks

NOT_A_RECORD = (Invalid, KeyError, TypeError, ValueError, AttributeError)
NOT_READABLE, UNKNOWN_FIELD = "not_readable", "unknown_field"
LONGEST_REFUSAL = 40


DEVICES = ("keypads", "cameras", "scanners", "face_readers")
"""What a reader may have beside its antenna: names of lists of readers, and of what a plug has."""


class Plug(NamedTuple):
    """Where a reader is plugged in, what is written there, and which of `DEVICES` it has."""

    number: int
    name: str
    devices: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Setup:
    """What a controller is like when it is taken out of its box. ``most_cards`` and
    ``most_memberships`` are how many of one cardholder it keeps, ``most_schedules`` and
    ``most_templates`` how many of all together, ``longest_name`` how many letters of a name,
    ``latest`` the last second its calendar knows, ``longest_span`` how many seconds may lie between
    two instants; ``keypads``, ``cameras`` and ``scanners`` (of fingers) and ``face_readers`` are the
    readers that have one; of scanners those ``without_pictures`` give templates alone. ``key`` is
    what it and Cadrin know each other by. One with ``plugs`` is told which of Cadrin's readers is
    plugged in where.
    """

    id: int
    name: str
    readers: Mapping[int, str]
    key: bytes
    capacity: int | None = None
    most_cards: int | None = None
    longest_name: int | None = None
    latest: int | None = None
    longest_span: int | None = None
    most_memberships: int | None = None
    most_schedules: int | None = None
    keypads: tuple[int, ...] = ()
    cameras: tuple[int, ...] = ()
    scanners: tuple[int, ...] = ()
    face_readers: tuple[int, ...] = ()
    without_pictures: tuple[int, ...] = ()
    most_templates: int | None = None
    clock_off_seconds: int = 0
    is_on: bool = True
    is_desk: bool = False
    plugs: tuple[Plug, ...] = ()


MAY_LEAVE = (
    "number", "name", "standing", "from", "to", "suspended_until", "cards", "plates", "memberships"
)  # fmt: skip
"""What a controller tells of somebody it holds."""
STRANGERS_FROM = 900_000_000


class Controller:
    """``path`` is where its memory lies; None keeps it in this process alone."""

    def __init__(self, setup: Setup, path: Path | None = None) -> None:
        self.setup = setup
        self.is_on = setup.is_on
        self.delay_seconds = 0.0
        self.clock_off_seconds = setup.clock_off_seconds
        self.talks = Talks(setup.key)
        self._seal = Fernet(urlsafe_b64encode(setup.key))
        self._store = Store(path)
        self.house = HouseHere(HeldRecords(), self._store)
        self._read_store()

    def _read_store(self) -> None:
        self._held = HeldRecords()
        self.house.renew(self._held)
        self._held.know_uses(self._store.uses())
        self._keypads: dict[int, Keypad] = {}
        self._digests: dict[RecordKey, str] = {}
        for key, body in self._store.records():
            with suppress(*NOT_A_RECORD):  # it is there, and decides nothing
                self._held.put(key, body)
            self._digests[key] = digest(key, body)
        self._sum = sum_of(self._digests.values())
        self._version = self._store.version()

    def _see_what_changed(self) -> None:
        """Read the memory anew when it was changed by somebody else: what it says it holds is what
        lies there.
        """
        if self._store.version() != self._version:
            self._read_store()

    def readers(self) -> dict[int, str]:
        """Return its readers by Cadrin's ids: those that it knows by them, and those of its plugs that it
        was told of.
        """
        at_plugs = {plug: id_ for id_, plug in self._held.plan.plugs.items()}
        told = {at_plugs[p.number]: p.name for p in self.setup.plugs if p.number in at_plugs}
        return {**self.setup.readers, **told}

    def has(self, device: str, reader_id: int) -> bool:
        """Say whether a reader has one of `DEVICES`."""
        plug = self._held.plan.plugs.get(reader_id)
        return reader_id in getattr(self.setup, device) or any(
            device in one.devices for one in self.setup.plugs if one.number == plug
        )

    # -- for Cadrin --------------------------------------------------------------------------

    def state(self) -> dict[str, Any]:
        """Say which memory speaks, the sum of what it holds, the time on its own clock, and what it
        refused.
        """
        self._see_what_changed()
        return {
            "store": self._store.name,
            "sum": self._sum,
            "held": len(self._digests),
            "capacity": self.setup.capacity,
            "most_cards": self.setup.most_cards,
            "longest_name": self.setup.longest_name,
            "latest": self.setup.latest,
            "longest_span": self.setup.longest_span,
            "most_templates": self.setup.most_templates,
            "most_memberships": self.setup.most_memberships,
            "most_schedules": self.setup.most_schedules,
            "at": self.clock().isoformat(),
            "forged": self.talks.refused[Refused.FORGED],
            "replayed": self.talks.refused[Refused.REPLAYED],
        }

    def digests(self) -> dict[str, str]:
        """Work out the digest of everything that lies in the memory, whatever was thought to lie
        there.
        """
        self._read_store()
        return {str(key): item for key, item in self._digests.items()}

    def people(self, keys: Iterable[str]) -> dict[str, Body]:
        """Return the records of cardholders that it is asked for, as far as they may leave it: no PIN
        and no template does.
        """
        asked = set(keys)
        return {
            str(key): {name: body[name] for name in MAY_LEAVE if name in body}
            for key, body in self._store.records()
            if key.kind is RecordKind.CARDHOLDER and str(key) in asked
        }

    def put_strangers(self, names: Iterable[str]) -> None:
        """Let it hold people whom nobody sent, as one that was used elsewhere before: for the test
        bench.
        """
        keys = [key for key, _ in self._store.records()]
        groups = [key.id for key in keys if key.kind is RecordKind.GROUP]
        formats = [key.id for key in keys if key.kind is RecordKind.FORMAT] or [1]
        put = {
            RecordKey(RecordKind.CARDHOLDER, STRANGERS_FROM + n): {
                "number": f"X-{n:03}",
                "name": name,
                "cards": [{"format": formats[0], "facility_code": 201, "number": 700 + n}],
                "memberships": [{"group": group} for group in groups[:1]],
            }
            for n, name in enumerate(names, 1)
        }
        self._store.write(put, ())
        self._read_store()

    def take(self, put: Iterable[tuple[str, Body]], remove: Iterable[str]) -> dict[str, Any]:
        """Take and drop records; each that was refused is told with its reason."""
        removed = [key for text in remove if (key := _key(text))]
        for key in removed:
            self._drop(key)
        taken: dict[RecordKey, Body] = {}
        refused: dict[str, str] = {}
        for text, body in put:
            key = _key(text)
            if key is None or (refusal := self._no_room(key, body)):
                refused[text] = NOT_READABLE if key is None else refusal
                continue
            try:
                self._held.put(key, body)
            except NOT_A_RECORD as error:
                refused[text] = _why_not_readable(error)
                continue
            taken[key] = body
            self._set_digest(key, digest(key, body))
        self._store.write(taken, removed)
        held = {str(key): self._digests[key] for key in taken}
        return {"held": held, "removed": [str(key) for key in removed], "refused": refused}

    def _no_room(self, key: RecordKey, body: Body) -> str:
        return why_no_room(self.setup, self._held, key, body, is_new=key not in self._digests)

    def _drop(self, key: RecordKey) -> None:
        self._held.remove(key)
        self._set_digest(key, None)

    def _set_digest(self, key: RecordKey, new: str | None) -> None:
        old = self._digests.pop(key, None)
        if new is not None:
            self._digests[key] = new
        self._sum = sum_of([self._sum, *filter(None, (old, new))])

    def events(self, store: str, after: int) -> list[Event]:
        """Return the events after a number of this memory; numbers of another memory mean nothing
        here.
        """
        return self._store.events_after(after if store == self._store.name else 0)

    # -- for the test bench ------------------------------------------------------------------

    def clock(self) -> datetime:
        """Return the time on its own clock, right or wrong."""
        return datetime.now(UTC) + timedelta(seconds=self.clock_off_seconds)

    def set_clock(self, at: datetime) -> None:
        """Set its own clock. Raises TypeError for an instant without a zone."""
        self.clock_off_seconds = round((at - datetime.now(UTC)).total_seconds())

    def present(
        self,
        reader_id: int,
        evidence: Evidence,
        finger: Picture | None = None,
        face: Pillow.Image | None = None,
    ) -> dict[str, Any]:
        """Present a card, a PIN, a plate or a finger to a reader: decide, keep the event, and tell
        what happens at the door. ``finger`` and ``face`` are pictures that a desk's reader passes
        on; at a door they are compared, and go nowhere.

        ``open_seconds`` is how long it stays open then.

        What is typed at a door is never kept: of a PIN that it does not know it tells the hashes,
        for Cadrin alone. A desk decides nothing: it passes on what is shown and typed there.
        """
        at = self.clock()
        event: Event = {
            "at": at.isoformat(),
            "reader": reader_id,
            "reader_name": self.readers()[reader_id],
            "raw": str(evidence.read) if evidence.read else "",
        }
        if evidence.plate is not None:
            event["plate"] = evidence.plate
        open_seconds, typed = 0, evidence.typed
        if self.setup.is_desk:
            if typed is not None:
                # for Cadrin's eyes alone: nothing that is typed lies in the memory, or is sent, in
                # the clear
                event["typed"] = self._seal.encrypt(typed.encode()).decode()
            told = b""
            if finger is not None:
                is_shown = reader_id not in self.setup.without_pictures
                told = pressed(finger, gives_pictures=is_shown)
            elif face is not None:
                told = shown_face(face)
            if told:
                event["press"] = self._seal.encrypt(told).decode()
        else:
            verdict = self._decide(reader_id, evidence, at)
            self._note(verdict, reader_id, at, typed)
            open_seconds = verdict.open_seconds
            event |= self._event_of(verdict, reader_id, at)
            if there := went(self.house.follow(verdict, reader_id, at, event)):
                event["went"] = there
            if verdict.reason is Reason.PIN_WRONG and verdict.factors == (Factor.PIN,):
                # for Cadrin alone, which may know whose it is
                event["tried"] = self._seal.encrypt(self._hashes(typed or "").encode()).decode()
        return {"number": self._store.add_event(event), **event, "open_seconds": open_seconds}

    def _hashes(self, typed: str) -> str:
        return " ".join(filter(None, self._held.plan.pins.hashes(typed)))

    def rehearse(self, reader_id: int, evidence: Evidence, at: datetime) -> dict[str, Any]:
        """Tell what the controller would decide at another time; nothing is kept."""
        return self._event_of(self._decide(reader_id, evidence, at), reader_id, at)

    def _decide(self, reader_id: int, evidence: Evidence, at: datetime) -> Verdict:
        is_locked = self._keypads.get(reader_id, Keypad()).is_locked(at)
        return decide(evidence, reader_id, at, self._held, self.house, is_locked=is_locked)

    def _event_of(self, verdict: Verdict, reader_id: int, at: datetime) -> dict[str, Any]:
        return to_event(verdict, opens_next(verdict, reader_id, at, self._held))

    def _note(self, verdict: Verdict, reader_id: int, at: datetime, typed: str | None) -> None:
        """Keep count of wrong PINs, and of the uses of a card that works only so many times."""
        if typed is not None and verdict.reason is not Reason.PIN_NOT_TAKEN:
            keypad = self._keypads.get(reader_id, Keypad())
            self._keypads[reader_id] = keypad.after(verdict.reason, at, self._held.plan.pins)
        if verdict.is_granted and verdict.card and (use := self._held.count_use(verdict.card)):
            self._store.write_use(*use)

    def empty(self) -> None:
        """Forget everything, as after a factory reset."""
        self._store.empty()
        self._read_store()

    def close(self) -> None:
        self._store.close()


def _why_not_readable(error: Exception) -> str:
    """Return the reason for a record that was not taken, with the field where it is a field that is
    not known.
    """
    if isinstance(error, Invalid) and error.problems[0].code == "record.unknown_field":
        return f"{UNKNOWN_FIELD}:{error.problems[0].field}"[:LONGEST_REFUSAL]
    return NOT_READABLE


def _key(text: str) -> RecordKey | None:
    try:
        return RecordKey.parse(text)
    except (ValueError, AttributeError):
        return None

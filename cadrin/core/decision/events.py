"""What a controller tells of a read: how it writes it, and how it is understood at the border.

Whatever cannot be understood is kept as it came.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

import orjson

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.factors import Factor, Factors, factors_of
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.passing import Happening
from cadrin.core.doors.state import Change

WRONG_CLOCK_SECONDS = 60
"""A clock that is off by more is said to be wrong."""
LONGEST_RAW = 70
LONGEST_NAME = 310
LONGEST_READER_NAME = 60
LONGEST_SEALED = 2000
LONGEST_PLATE = 20
LONGEST_PRESS = 4_000_000
LONGEST_UNREADABLE = 2000
MOST_TOGETHER = 10
LARGEST_NUMBER = 2**63 - 1
YEARS = range(1970, 2200)
"""A clock that was never set says 1970 (common practice)."""


@dataclass(frozen=True, slots=True)
class Event:
    """One read as a controller saw it. ``reason`` is None at a desk, where nothing is decided.

    ``typed`` is what was typed at a desk's keypad, sealed by the controller for Cadrin alone;
    ``tried``, sealed likewise, are the hashes of a PIN that the controller does not know: it may be
    somebody's who has no group there. ``plate`` is what a camera read, ``press`` what a desk's scanner
    made of a finger, sealed likewise.
    """

    number: int
    at: datetime
    reader_id: int
    reader_name: str
    raw: str = ""
    reason: Reason | None = None
    factors: Factors = (Factor.CARD,)
    card: CardKey | None = None
    cardholder_id: int | None = None
    name: str = ""
    group_id: int | None = None
    opens_at: datetime | None = None
    is_duress: bool = False
    is_watched: bool = False
    typed: str | None = None
    tried: str | None = None
    plate: str = ""
    press: str | None = None
    is_passed_back: bool = False
    went: "Went | None" = None


class Went(NamedTuple):
    """Who went into an area that counts people; 0 is outside."""

    area_id: int
    people: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class DoorEvent:
    """Something that happened at a door beside reads."""

    number: int
    at: datetime
    door_id: int
    happening: Happening


class Unreadable(NamedTuple):
    """Something a controller told that is no event: its number (or the one that was expected), and
    what it said.
    """

    number: int
    text: str


def to_event(verdict: Verdict, opens_at: datetime | None) -> dict[str, object]:
    """Write a verdict as an event carries it, with when the hours begin next."""
    marks = {
        "factors": [factor.value for factor in verdict.factors]
        if verdict.factors != (Factor.CARD,)
        else None,
        "duress": verdict.is_duress or None,
        "watched": verdict.is_watched or None,
        "passed_back": verdict.is_passed_back or None,
    }
    event: dict[str, object] = {
        "reason": verdict.reason.value,
        "card": list(verdict.card) if verdict.card else None,
        "cardholder": verdict.holder.id if verdict.holder else None,
        "name": verdict.holder.display_name if verdict.holder else "",
        "group": verdict.group_id,
        "opens_at": opens_at.isoformat() if opens_at else None,
    }
    return event | {name: mark for name, mark in marks.items() if mark}


Told = Event | DoorEvent | Unreadable


def went(change: Change) -> dict[str, object] | None:
    """Write who went where, as an event carries it; None where nobody did, or no area counts people."""
    areas = [where.area_id for where in change.people.values()]
    return {"area": areas[0], "people": sorted(change.people)} if areas else None


def read_events(told: Iterable[object], after: int) -> list[Told]:
    """Read the events that a controller tells after a number, each by itself: one that cannot be
    read stops no other.

    >>> read_events([{"number": 8, "at": "late"}], 7)
    [Unreadable(number=8, text='{"number":8,"at":"late"}')]
    """
    found: list[Told] = []
    for event_told in told:
        number = after + 1
        if isinstance(event_told, Mapping) and _is_whole(event_told.get("number"), 0):
            number = event_told["number"]
        try:
            event: Told = _event(number, event_told)
        except (AttributeError, KeyError, OverflowError, TypeError, ValueError):
            event = Unreadable(number, _text(event_told))
        found.append(event)
        after = max(after, event.number)
    return found


def _event(number: int, told: Any) -> Event | DoorEvent:
    if told["number"] != number:
        raise ValueError("an event without its number")
    if "happening" in told:
        return DoorEvent(
            number, _instant(told["at"]), _whole(told["door"], 1), Happening(told["happening"])
        )
    event = Event(
        number,
        _instant(told["at"]),
        _whole(told["reader"]),
        _string(told.get("reader_name", ""), LONGEST_READER_NAME),
        _string(told["raw"], LONGEST_RAW),
        Reason(told["reason"]) if told.get("reason") else None,
        factors_of(Factor(name) for name in told.get("factors", [Factor.CARD])),
        CardKey(*(_whole(number, 0) for number in told["card"])) if told.get("card") else None,
        None if told.get("cardholder") is None else _whole(told["cardholder"]),
        _string(told.get("name", ""), LONGEST_NAME),
        None if told.get("group") is None else _whole(told["group"]),
        _instant(told["opens_at"]) if told.get("opens_at") else None,
        bool(told.get("duress")),
        bool(told.get("watched")),
        _string(told["typed"], LONGEST_SEALED) if told.get("typed") is not None else None,
        _string(told["tried"], LONGEST_SEALED) if told.get("tried") is not None else None,
        _string(told.get("plate", ""), LONGEST_PLATE),
        _string(told["press"], LONGEST_PRESS) if told.get("press") is not None else None,
        bool(told.get("passed_back")),
        _went(told["went"]) if told.get("went") else None,
    )
    said = (event.reason, event.raw, event.plate, event.typed, event.press)
    if not any(part is not None and part != "" for part in said):
        raise ValueError("an event that says nothing")
    return event


def _went(told: Mapping[str, Any]) -> Went:
    people = tuple(_whole(id_, 1) for id_ in told["people"])
    if len(people) > MOST_TOGETHER:
        raise ValueError("too many people at once")
    return Went(_whole(told["area"], 0), people)


def _is_whole(value: object, least: int) -> bool:
    return (
        isinstance(value, int) and not isinstance(value, bool) and least <= value <= LARGEST_NUMBER
    )


def _whole(value: Any, least: int = -LARGEST_NUMBER) -> int:
    if not _is_whole(value, least):
        raise ValueError("not a whole number")
    return int(value)


def _string(value: Any, longest: int) -> str:
    if not isinstance(value, str) or len(value) > longest or "\x00" in value:
        raise ValueError("not a text, or too long")
    return value


def _instant(value: Any) -> datetime:
    at = datetime.fromisoformat(value)
    if at.tzinfo is None or at.year not in YEARS:
        raise ValueError("no instant at which anything could happen")
    return at


def _text(told: object) -> str:
    try:
        text = orjson.dumps(told).decode()
    except TypeError:  # nested too deeply, or whole numbers that are too large
        text = f"{type(told).__name__}, nested too deeply or with numbers too large to be shown"
    return text[:LONGEST_UNREADABLE]

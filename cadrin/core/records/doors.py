"""The records of a door, an area that counts people, and where somebody is."""

from datetime import UTC, datetime

from cadrin.core.doors.rules import AreaRules, DoorRules, Ordered, Passback
from cadrin.core.doors.state import Whereabouts
from cadrin.core.records.fields import (
    decode_schedule,
    encode_schedule,
    instant,
    only,
    seconds,
    without_defaults,
)
from cadrin.core.records.keys import Body

_DOOR_FIELDS = (
    "open_seconds", "extended_open_seconds", "held", "forced", "unlocked", "closed", "first_person",
    "second", "interlock", "consent", "button", "from_area", "to_area", "ordered", "ordered_until",
)  # fmt: skip


def encode_door(rules: DoorRules) -> Body:
    """Write what a door does; rules that it has not are not written. Times are in seconds."""
    more = {
        "held": rules.held_seconds,
        "forced": rules.tells_forced,
        "unlocked": rules.unlocked and encode_schedule(rules.unlocked),
        "closed": rules.closed and encode_schedule(rules.closed),
        "first_person": rules.first_person,
        "second": rules.second_seconds,
        "interlock": sorted(rules.interlock),
        "consent": rules.consent_seconds,
        "button": rules.has_exit_button,
        "from_area": rules.from_area,
        "to_area": rules.to_area,
        "ordered": rules.ordered and rules.ordered.value,
        "ordered_until": seconds(rules.ordered_until),
    }
    return {
        "open_seconds": rules.open_seconds,
        "extended_open_seconds": rules.extended_open_seconds,
    } | without_defaults(more)


def decode_door(body: Body) -> DoorRules:
    """Read what a door does. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, _DOOR_FIELDS)
    return DoorRules(
        int(body["open_seconds"]),
        int(body["extended_open_seconds"]),
        _whole(body, "held"),
        bool(body.get("forced")),
        decode_schedule(body["unlocked"]) if "unlocked" in body else None,
        decode_schedule(body["closed"]) if "closed" in body else None,
        bool(body.get("first_person")),
        _whole(body, "second"),
        tuple(int(id_) for id_ in body.get("interlock", ())),
        _whole(body, "consent"),
        bool(body.get("button")),
        _whole(body, "from_area"),
        _whole(body, "to_area"),
        Ordered(body["ordered"]) if "ordered" in body else None,
        instant(_whole(body, "ordered_until")),
    )


def encode_area(rules: AreaRules) -> Body:
    """Write of whom an area keeps count."""
    passback = None if rules.passback is Passback.NONE else rules.passback.value
    return without_defaults(
        {
            "passback": passback,
            "forgiven_after": rules.forgiven_after_seconds,
            "most": rules.most,
        }
    )


def decode_area(body: Body) -> AreaRules:
    """Read of whom an area keeps count. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("passback", "forgiven_after", "most"))
    return AreaRules(
        Passback(body.get("passback", Passback.NONE)),
        _whole(body, "forgiven_after"),
        _whole(body, "most"),
    )


def encode_presence(where: Whereabouts) -> Body:
    """Write where somebody is, and since when, in milliseconds: what comes later counts."""
    return {"area": where.area_id, "since": round(where.since.timestamp() * 1000)}


def decode_presence(body: Body) -> Whereabouts:
    """Read where somebody is. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("area", "since"))
    since = datetime.fromtimestamp(int(body["since"]) / 1000, UTC)
    return Whereabouts(_whole(body, "area"), since)


def _whole(body: Body, name: str) -> int | None:
    value = body.get(name)
    return None if value is None else int(value)

"""The records of a reader, and an access group."""

from typing import NamedTuple

from cadrin.core.access.plan import AccessGroup, Way
from cadrin.core.credentials.factors import ANY_CARD, Factor, Factors, PolicyHours, ReaderPolicy
from cadrin.core.records.fields import decode_schedule, encode_schedule, only, without_defaults
from cadrin.core.records.keys import Body


class ReaderHere(NamedTuple):
    """A reader at its controller: the door it stands at, what it asks for, and its plug, where the
    controller knows it by that.
    """

    door_id: int
    policy: ReaderPolicy
    plug: int | None = None
    is_way_out: bool = False


def encode_reader(
    door_id: int, policy: ReaderPolicy, plug: int | None = None, *, is_way_out: bool = False
) -> Body:
    """Write the door a reader stands at and what it asks for; one that takes any card has nothing
    more to say.
    """
    more = {
        "asks": _encode_alternatives(policy.alternatives)
        if policy.alternatives != ANY_CARD.alternatives
        else None,
        "by_hours": [
            {
                "schedule": encode_schedule(hours.schedule),
                "asks": _encode_alternatives(hours.alternatives),
            }
            for hours in policy.by_hours
        ],
        "out": is_way_out,
    }
    matches = without_defaults(
        {"finger_match": policy.finger_match, "face_match": policy.face_match, "plug": plug}
    )
    formats = {} if policy.formats is None else {"formats": sorted(policy.formats)}
    return {"door": door_id} | without_defaults(more) | matches | formats


def decode_reader(body: Body) -> ReaderHere:
    """Read a reader's door, policy and plug. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("door", "asks", "by_hours", "formats", "finger_match", "face_match", "plug", "out"))
    policy = ReaderPolicy(
        _decode_alternatives(body["asks"]) if "asks" in body else ANY_CARD.alternatives,
        frozenset(body["formats"]) if "formats" in body else None,
        tuple(
            PolicyHours(decode_schedule(hours["schedule"]), _decode_alternatives(hours["asks"]))
            for hours in body.get("by_hours", ())
        ),
        _whole_or_none(body.get("finger_match")),
        _whole_or_none(body.get("face_match")),
    )
    return ReaderHere(
        int(body["door"]),
        ANY_CARD if policy == ANY_CARD else policy,
        _whole_or_none(body.get("plug")),
        bool(body.get("out")),
    )


def _whole_or_none(value: object) -> int | None:
    return None if value is None else int(str(value))


def _encode_alternatives(alternatives: tuple[Factors, ...]) -> list[list[str]]:
    return [[factor.value for factor in alternative] for alternative in alternatives]


def _decode_alternatives(body: list[list[str]]) -> tuple[Factors, ...]:
    return tuple(tuple(Factor(name) for name in alternative) for alternative in body)


_ONE_WAY = (Way.IN, Way.OUT)


def encode_group(group: AccessGroup) -> Body:
    """Write a group: for each of its doors here the schedules in which it opens, and those of them
    that count on the way in or out alone.
    """
    grants = sorted(group.schedules_of_door.items())
    one_way: dict[int, dict[str, list[int]]] = {}
    for (door_id, schedule_id), way in sorted(group.one_way.items()):
        one_way.setdefault(door_id, {}).setdefault(way.value, []).append(schedule_id)
    return {
        "name": group.name,
        "grants": [
            {"door": door_id, "schedules": sorted(schedules)} | one_way.get(door_id, {})
            for door_id, schedules in grants
        ],
    } | without_defaults({"overrides": group.overrides})


def decode_group(id_: int, body: Body) -> AccessGroup:
    """Read a group. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, ("name", "grants", "overrides"))
    grants = [only(grant, ("door", "schedules", *_ONE_WAY)) for grant in body["grants"]]
    return AccessGroup(
        id_,
        body["name"],
        {grant["door"]: tuple(grant["schedules"]) for grant in grants},
        bool(body.get("overrides")),
        {
            (grant["door"], schedule_id): way
            for grant in grants
            for way in _ONE_WAY
            for schedule_id in grant.get(way.value, ())
        },
    )

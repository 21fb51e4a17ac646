"""What a controller should hold, how that is written, and the difference to what it holds."""

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from enum import StrEnum
from typing import Any, NamedTuple

import orjson

from cadrin.core.access.plan import (
    ANY_CARD,
    AccessGroup,
    Card,
    Holder,
    Plan,
    ReaderMode,
    Way,
)
from cadrin.core.cards.formats import BitField, CardFormat, Coding, ParityKind, ParityRule
from cadrin.core.cards.room import ANY_MEMORY, Memory, cards_kept
from cadrin.core.pins import PinAtDoors
from cadrin.core.schedules import Schedule
from cadrin.core.validity import Span, Standing

Body = dict[str, Any]
"""The content of a record, as JSON."""


class RecordKind(StrEnum):
    """The kinds of record, in the order in which they must arrive: each leans on those before it."""

    FORMAT = "format"
    SCHEDULE = "schedule"
    READER = "reader"
    GROUP = "group"
    CARDHOLDER = "cardholder"


KINDS = tuple(RecordKind)


class Stage(NamedTuple):
    """Records that are sent together, before those of the next stage: puts, removals, or (None) both."""

    kind: RecordKind
    is_put: bool | None
    is_withdrawal: bool | None = None


STAGES = (
    # what is taken away goes before everything that waits
    Stage(RecordKind.CARDHOLDER, None, is_withdrawal=True),
    Stage(RecordKind.GROUP, is_put=False),
    # each kind after those it leans on; removing goes the other way round
    *(Stage(kind, is_put=True) for kind in KINDS),
    *(Stage(kind, is_put=False) for kind in reversed(KINDS)),
)
"""The order in which records are sent."""


class RecordKey(NamedTuple):
    """Which record: written ``cardholder:17``."""

    kind: RecordKind
    id: int

    def __str__(self) -> str:
        return f"{self.kind}:{self.id}"

    @classmethod
    def parse(cls, text: str) -> "RecordKey":
        """Read the written form. Raises ValueError when it is none."""
        kind, _, number = text.partition(":")
        return cls(RecordKind(kind), int(number))


def digest(key: RecordKey, body: Body) -> str:
    """Give 32 hexadecimal digits that are the same exactly when key and content are the same."""
    return hashlib.sha256(str(key).encode() + b"\n" + orjson.dumps(body, option=orjson.OPT_SORT_KEYS)).hexdigest()[:32]


def sum_of(digests: Iterable[str]) -> str:
    """Give one digest of many, whatever their order. Adding one and taking it away are the same act."""
    total = 0
    for one in digests:
        total ^= int(one, 16)
    return f"{total:032x}"


# -- writing ---------------------------------------------------------------------------------


def _seconds(at: datetime | None) -> int | None:
    return None if at is None else int(at.timestamp())


def belongs_at(holder: Holder, at_controller: Plan) -> bool:
    """Say whether a controller with this plan should hold a cardholder.

    It holds whoever has a card or a PIN and a group with a door here, in force or not: so it can say why it
    denies. Who has departed is taken away.
    """
    return (
        holder.standing is not Standing.DEPARTED
        and any(membership.group_id in at_controller.groups for membership in holder.memberships)
        and bool(holder.cards or (holder.pins and at_controller.takes_pins))
    )


def holder_body(holder: Holder, at_controller: Plan, memory: Memory = ANY_MEMORY) -> Body | None:
    """Write a cardholder for a controller with this plan and memory; None when it should not hold them.

    PINs go only where a reader takes them, and no more than the memory has room for: what were refused as a whole
    would leave in force what was there before. What its calendar does not know is cut so that nothing opens sooner or
    for longer.
    """
    if not belongs_at(holder, at_controller):
        return None
    latest = memory.latest
    here = ((m.group_id, *_ends(m.span, latest)) for m in holder.memberships)
    # any order will do as long as it is always the same; ends may be None, so their text is compared
    memberships = sorted((one for one in here if one[0] in at_controller.groups), key=str)
    pins = sorted(holder.pins, key=lambda pin: pin.id) if at_controller.takes_pins else []
    start, end = _ends(holder.span, latest)
    body: Body = {
        "number": holder.number,
        "name": holder.display_name[: memory.longest_name],
        "standing": holder.standing.value,
        "from": start,
        "to": end,
        "suspended_until": _until(holder.suspended_until, latest),
        "cards": [_card_body(card, memory) for card in cards_kept(holder.cards, memory)],
        "memberships": [list(membership) for membership in memberships],
    }
    if holder.extended_time:
        body["extended"] = True
    if pins:
        body["pins"] = [[p.id, p.hash, p.opens_alone, *_ends(p.span, latest)] for p in pins]
    return body


class Cut(StrEnum):
    """What a controller cannot express of a cardholder."""

    NAME = "name"
    DATES = "dates"


def what_is_cut(holder: Holder, memory: Memory) -> tuple[Cut, ...]:
    """Say what of a cardholder a memory cannot express: it is written shorter there."""
    spans = [holder.span, *(card.span for card in holder.cards), *(one.span for one in holder.memberships)]
    spans += [pin.span for pin in holder.pins]
    found = [edge for span in spans for edge in (span.start, span.end)]
    found += [holder.suspended_until, *(card.suspended_until for card in holder.cards)]
    edges = [_seconds(edge) or 0 for edge in found]
    is_long = memory.longest_name is not None and len(holder.display_name) > memory.longest_name
    is_late = memory.latest is not None and max(edges) > memory.latest
    return (*([Cut.NAME] if is_long else []), *([Cut.DATES] if is_late else []))


def _ends(span: Span, latest: int | None) -> tuple[int | None, int | None]:
    """Write a span; what begins after the calendar of a controller ends never begins there."""
    start, end = _seconds(span.start), _seconds(span.end)
    if latest is None:
        return start, end
    if start is not None and start > latest:
        return latest, latest
    return start, end if end is None else min(end, latest)


def _until(at: datetime | None, latest: int | None) -> int | None:
    """Write the end of a suspension; one that the calendar does not know lasts until an operator ends it."""
    seconds = _seconds(at)
    return None if seconds is None or (latest is not None and seconds > latest) else seconds


def _card_body(card: Card, memory: Memory) -> list[Any]:
    """Write a card: what a plain one has not, stands in one more place."""
    limit, hours = card.limit, card.hours
    more = {
        "until": _until(card.suspended_until, memory.latest),
        "hours": hours and [hours.zone, _hours_body(hours)],
        "limit": limit and [limit.most, _seconds(limit.since), limit.used_elsewhere(memory.name)],
        "watched": card.is_watched or None,
        "level": card.issue_level,
    }
    more = {name: value for name, value in more.items() if value is not None}
    plain = [*card.key, card.status.value, *_ends(card.span, memory.latest)]
    return [*plain, more] if more else plain


def _hours_body(schedule: Schedule) -> list[list[int]]:
    return [[h.weekday, h.start_minute, h.end_minute] for h in sorted(schedule.hours)]


def plan_here(plan: Plan, doors_here: Mapping[int, int]) -> Plan:
    """Cut a plan down to one controller; ``doors_here`` leads from its readers to its doors."""
    doors = set(doors_here.values())
    groups = {}
    for group in plan.groups.values():
        if schedules_of_door := {d: ids for d, ids in group.schedules_of_door.items() if d in doors}:
            groups[group.id] = AccessGroup(group.id, group.name, schedules_of_door)
    wanted = {id_ for group in groups.values() for ids in group.schedules_of_door.values() for id_ in ids}
    schedules = {id_: schedule for id_, schedule in plan.schedules.items() if id_ in wanted}
    ways = {reader_id: way for reader_id, way in plan.way_of_reader.items() if reader_id in doors_here}
    return Plan(schedules, groups, plan.formats, doors_here, ways, plan.pins)


def plan_bodies(here: Plan) -> dict[RecordKey, Body]:
    """Write everything but the cardholders that a controller with this plan should hold."""
    bodies: dict[RecordKey, Body] = {}
    for id_, card_format in here.formats.items():
        bodies[RecordKey(RecordKind.FORMAT, id_)] = format_body(card_format)
    for id_, schedule in here.schedules.items():
        bodies[RecordKey(RecordKind.SCHEDULE, id_)] = {"zone": schedule.zone, "hours": _hours_body(schedule)}
    for reader_id, door_id in here.door_of_reader.items():
        way = here.way_of_reader.get(reader_id, ANY_CARD)
        if way.mode.takes_pins and not here.pins.is_known:
            continue
        bodies[RecordKey(RecordKind.READER, reader_id)] = {"door": door_id} | _way_body(way, here.pins)
    for id_, group in here.groups.items():
        grants = sorted([door_id, sorted(ids)] for door_id, ids in group.schedules_of_door.items())
        bodies[RecordKey(RecordKind.GROUP, id_)] = {"name": group.name, "grants": grants}
    return bodies


def _way_body(way: Way, pins: PinAtDoors) -> Body:
    """Write what a reader takes; one that takes any card has nothing to say."""
    more: Body = {} if way.mode is ReaderMode.CARD else {"mode": way.mode.value}
    if way.formats is not None:
        more["formats"] = sorted(way.formats)
    if way.mode.takes_pins:
        more["pins"] = [pins.key, pins.tries, pins.rest_seconds, pins.duress.value]
    return more


def format_body(card_format: CardFormat) -> Body:
    """Write a card format; the database keeps it in the same form. What it has not is not written."""
    more = {
        "issue_level": card_format.issue_level and _field_body(card_format.issue_level),
        "others": [[name, _field_body(where)] for name, where in card_format.others],
        "fixed": [list(one) for one in card_format.fixed],
        "reversed": card_format.is_reversed,
        "inverted": card_format.is_inverted,
    }
    return {
        "length": card_format.length_bits,
        "facility_code": card_format.facility_code and _field_body(card_format.facility_code),
        "card_number": _field_body(card_format.card_number),
        "parity": [[rule.bit, rule.kind.value, list(rule.over)] for rule in card_format.parity],
    } | {name: value for name, value in more.items() if value}


def _field_body(where: BitField) -> list[Any]:
    """Write a field: first and last bit, and what a plain one has not, further pieces and a coding."""
    if where.is_plain():
        return [where.first, where.last]
    return [where.first, where.last, [list(piece) for piece in where.more], where.coding.value]


# -- reading a format ------------------------------------------------------------------------


def format_from(body: Body) -> CardFormat:
    """Read a card format as `plan_bodies` writes it."""
    return CardFormat(
        body["length"],
        _field_from(body["facility_code"]) if body["facility_code"] else None,
        _field_from(body["card_number"]),
        tuple(ParityRule(bit, ParityKind(kind), tuple(over)) for bit, kind, over in body["parity"]),
        _field_from(body["issue_level"]) if body.get("issue_level") else None,
        tuple((name, _field_from(where)) for name, where in body.get("others", ())),
        tuple((bit, value) for bit, value in body.get("fixed", ())),
        bool(body.get("reversed")),
        bool(body.get("inverted")),
    )


def _field_from(body: Sequence[Any]) -> BitField:
    first, last, *more = body
    if not more:
        return BitField(first, last)
    pieces, coding = more
    return BitField(first, last, tuple((a, b) for a, b in pieces), Coding(coding))

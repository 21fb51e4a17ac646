"""What a controller should hold, how that is written, and the difference to what it holds."""

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any, NamedTuple

import orjson

from cadrin.core.access.plan import (
    ANY_CARD,
    AccessGroup,
    Card,
    CardKey,
    Holder,
    Membership,
    Pin,
    Plan,
    ReaderMode,
    Way,
)
from cadrin.core.cards.formats import BitField, CardFormat, Coding, ParityKind, ParityRule
from cadrin.core.cards.status import CardStatus
from cadrin.core.cards.use_limit import UseLimit
from cadrin.core.pins import DuressRule, PinAtDoors
from cadrin.core.schedules import Hours, Schedule
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

    @property
    def order(self) -> tuple[int, int]:
        return KINDS.index(self.kind), self.id


def digest(key: RecordKey, body: Body) -> str:
    """Give 32 hexadecimal digits that are the same exactly when key and content are the same."""
    return hashlib.sha256(str(key).encode() + b"\n" + orjson.dumps(body, option=orjson.OPT_SORT_KEYS)).hexdigest()[:32]


def sum_of(digests: Iterable[str]) -> str:
    """Give one digest of many, whatever their order. Adding one and taking it away are the same act."""
    total = 0
    for one in digests:
        total ^= int(one, 16)
    return f"{total:032x}"


class Difference(NamedTuple):
    """What must be put and what removed, in the order in which a controller can take it."""

    put: tuple[RecordKey, ...]
    remove: tuple[RecordKey, ...]


def difference(wanted: Mapping[RecordKey, str], held: Mapping[RecordKey, str]) -> Difference:
    """Compare digests. Applying the difference to what is held gives what is wanted."""
    put = (key for key, one in wanted.items() if held.get(key) != one)
    remove = (key for key in held if key not in wanted)
    return Difference(
        tuple(sorted(put, key=lambda key: key.order)),
        tuple(sorted(remove, key=lambda key: key.order, reverse=True)),
    )


# -- writing ---------------------------------------------------------------------------------


def _seconds(at: datetime | None) -> int | None:
    return None if at is None else int(at.timestamp())


def _instant(seconds: int | None) -> datetime | None:
    return None if seconds is None else datetime.fromtimestamp(seconds, UTC)


def holder_body(holder: Holder, at_controller: Plan, memory: str = "") -> Body | None:
    """Write a cardholder for a controller with this plan and memory; None when it should not hold them.

    It holds whoever has a card or a PIN and a group with a door here, in force or not: so it can say why it
    denies. Who has departed is taken away. PINs go only where a reader takes them.
    """
    here = ((m.group_id, _seconds(m.span.start), _seconds(m.span.end)) for m in holder.memberships)
    # any order will do as long as it is always the same; ends may be None, so their text is compared
    memberships = sorted((one for one in here if one[0] in at_controller.groups), key=str)
    pins = sorted(holder.pins, key=lambda pin: pin.id) if at_controller.takes_pins else []
    if not memberships or not (holder.cards or pins) or holder.standing is Standing.DEPARTED:
        return None
    body: Body = {
        "number": holder.number,
        "name": holder.display_name,
        "standing": holder.standing.value,
        "from": _seconds(holder.span.start),
        "to": _seconds(holder.span.end),
        "suspended_until": _seconds(holder.suspended_until),
        "cards": [_card_body(card, memory) for card in sorted(holder.cards, key=lambda card: card.key)],
        "memberships": [list(membership) for membership in memberships],
    }
    if pins:
        body["pins"] = [[p.id, p.hash, p.opens_alone, _seconds(p.span.start), _seconds(p.span.end)] for p in pins]
    return body


def _card_body(card: Card, memory: str) -> list[Any]:
    """Write a card: what a plain one has not, stands in one more place."""
    limit, hours = card.limit, card.hours
    more = {
        "until": _seconds(card.suspended_until),
        "hours": hours and [hours.zone, _hours_body(hours)],
        "limit": limit and [limit.most, _seconds(limit.since), limit.used_elsewhere(memory)],
        "watched": card.is_watched or None,
        "level": card.issue_level,
    }
    more = {name: value for name, value in more.items() if value is not None}
    plain = [*card.key, card.status.value, _seconds(card.span.start), _seconds(card.span.end)]
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


# -- reading ---------------------------------------------------------------------------------


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


def _span(start: int | None, end: int | None) -> Span:
    return Span(_instant(start), _instant(end))


def _holder_from(id_: int, body: Body) -> Holder:
    return Holder(
        id_,
        body["number"],
        body["name"],
        Standing(body["standing"]),
        _span(body["from"], body["to"]),
        _instant(body["suspended_until"]),
        tuple(_card_from(*card) for card in body["cards"]),
        tuple(Membership(group_id, _span(start, end)) for group_id, start, end in body["memberships"]),
        tuple(
            Pin(id_, hash_, bool(alone), _span(start, end)) for id_, hash_, alone, start, end in body.get("pins", ())
        ),
    )


def _card_from(
    format_id: int,
    facility: int,
    number: int,
    status: str,
    start: int | None,
    end: int | None,
    more: Body | None = None,
) -> Card:
    key, span = CardKey(format_id, facility, number), _span(start, end)
    if not more:
        return Card(key, CardStatus(status), span)
    limit = hours = None
    if "limit" in more:
        most, since, elsewhere = more["limit"]
        limit = UseLimit(most, datetime.fromtimestamp(since, UTC), (("elsewhere", elsewhere),))
    if "hours" in more:
        zone, windows = more["hours"]
        hours = Schedule(zone, tuple(Hours(*window) for window in windows))
    return Card(
        key,
        CardStatus(status),
        span,
        _instant(more.get("until")),
        hours,
        limit,
        bool(more.get("watched")),
        more.get("level"),
    )


def _way_from(body: Body) -> Way | None:
    """Read what a reader takes; None for one that takes any card."""
    way = Way(ReaderMode(body.get("mode", "card")), frozenset(body["formats"]) if "formats" in body else None)
    return None if way == ANY_CARD else way


class HeldRecords:
    """The records a controller holds, read and ready to decide from.

    While a card passes from one cardholder to another, both records may name it for a moment: then
    it is whose record came last.
    """

    def __init__(self) -> None:
        self._schedules: dict[int, Schedule] = {}
        self._groups: dict[int, AccessGroup] = {}
        self._formats: dict[int, CardFormat] = {}
        self._doors: dict[int, int] = {}
        self._ways: dict[int, Way] = {}
        self._pins = PinAtDoors()
        self._holders: dict[int, Holder] = {}
        self.holder_of_pin: dict[str, tuple[Pin, Holder]] = {}
        self._uses: dict[tuple[CardKey, int], int] = {}
        self.holder_of_card: dict[CardKey, tuple[Card, Holder]] = {}
        # whose the card also is, by records that came before; only for cards that stand in two
        self._superseded: dict[CardKey, list[int]] = {}
        self.plan = self._plan()

    def _plan(self) -> Plan:
        return Plan(self._schedules, self._groups, self._formats, self._doors, self._ways, self._pins)

    def put(self, key: RecordKey, body: Body) -> None:
        """Take a record, in place of an older one of the same key.

        Raises KeyError, TypeError, ValueError or Invalid when the body is no such record; then the
        older one stays.
        """
        match key.kind:
            case RecordKind.FORMAT:
                self._formats[key.id] = format_from(body)
            case RecordKind.SCHEDULE:
                self._schedules[key.id] = Schedule(body["zone"], tuple(Hours(*hours) for hours in body["hours"]))
            case RecordKind.READER:
                door_id, way = int(body["door"]), _way_from(body)
                if "pins" in body:
                    hash_key, tries, rest_seconds, duress = body["pins"]
                    self._pins = PinAtDoors(hash_key, tries, rest_seconds, DuressRule(duress))
                    self.plan = self._plan()
                self._doors[key.id] = door_id
                self._ways.pop(key.id, None)
                if way:
                    self._ways[key.id] = way
            case RecordKind.GROUP:
                grants = {door_id: tuple(ids) for door_id, ids in body["grants"]}
                self._groups[key.id] = AccessGroup(key.id, body["name"], grants)
            case RecordKind.CARDHOLDER:
                holder = _holder_from(key.id, body)
                self.remove(key)
                self._holders[key.id] = holder
                for card in holder.cards:
                    if (known := self.holder_of_card.get(card.key)) and known[1].id != holder.id:
                        self._superseded.setdefault(card.key, []).append(known[1].id)
                    self.holder_of_card[card.key] = (card, holder)
                self.holder_of_pin.update({pin.hash: (pin, holder) for pin in holder.pins if pin.opens_alone})

    def remove(self, key: RecordKey) -> None:
        """Drop a record; one that is not held is no error."""
        match key.kind:
            case RecordKind.FORMAT:
                self._formats.pop(key.id, None)
            case RecordKind.SCHEDULE:
                self._schedules.pop(key.id, None)
            case RecordKind.READER:
                self._doors.pop(key.id, None)
                self._ways.pop(key.id, None)
            case RecordKind.GROUP:
                self._groups.pop(key.id, None)
            case RecordKind.CARDHOLDER:
                if holder := self._holders.pop(key.id, None):
                    for card_key in {card.key for card in holder.cards}:
                        self._let_go(card_key, holder.id)
                    for pin in holder.pins:
                        if (known := self.holder_of_pin.get(pin.hash)) and known[1].id == holder.id:
                            del self.holder_of_pin[pin.hash]

    def _let_go(self, card: CardKey, holder_id: int) -> None:
        """Take a card from a holder, and give it back to whoever had it in a record that is still here."""
        others = [id_ for id_ in self._superseded.pop(card, []) if id_ != holder_id]
        if self.holder_of_card[card][1].id == holder_id:
            del self.holder_of_card[card]
            if others:
                holder = self._holders[others.pop()]
                self.holder_of_card[card] = (next(one for one in holder.cards if one.key == card), holder)
        if others:
            self._superseded[card] = others

    def uses_of(self, card: Card) -> int:
        """Give how often a card opened something here since its limit began to count."""
        return self._uses.get(_use_key(card), 0)

    def count_use(self, card: CardKey) -> tuple[CardKey, int, int] | None:
        """Count that a card opened something, if it has a limit: gives it, since when (seconds), and how often."""
        known = self.holder_of_card.get(card)
        if known is None or known[0].limit is None:
            return None
        key = _use_key(known[0])
        self._uses[key] = self._uses.get(key, 0) + 1
        return *key, self._uses[key]

    def know_uses(self, uses: Iterable[tuple[CardKey, int, int]]) -> None:
        """Take the uses that were counted before, as `count_use` gave them."""
        self._uses = {(card, since): count for card, since, count in uses}

    @property
    def holder_count(self) -> int:
        return len(self._holders)

    def has(self, key: RecordKey) -> bool:
        return key.kind is RecordKind.CARDHOLDER and key.id in self._holders


def _use_key(card: Card) -> tuple[CardKey, int]:
    return card.key, int(card.limit.since.timestamp()) if card.limit else 0

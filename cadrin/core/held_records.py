"""The records that a controller holds: read from what it was sent, and ready to decide from."""

from collections.abc import Iterable
from datetime import UTC, datetime

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
from cadrin.core.cards.formats import CardFormat
from cadrin.core.cards.status import CardStatus
from cadrin.core.cards.use_limit import UseLimit
from cadrin.core.delivery import Body, RecordKey, RecordKind, format_from
from cadrin.core.pins import DuressRule, PinAtDoors
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.validity import Span, Standing


def _instant(seconds: int | None) -> datetime | None:
    return None if seconds is None else datetime.fromtimestamp(seconds, UTC)


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
        bool(body.get("extended")),
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
                # a read is tried against formats in the order of their numbers, however they came here
                self._formats = dict(sorted({**self._formats, key.id: format_from(body)}.items()))
                self.plan = self._plan()
            case RecordKind.SCHEDULE:
                self._schedules[key.id] = Schedule(body["zone"], tuple(Hours(*hours) for hours in body["hours"]))
            case RecordKind.READER:
                door_id, way = int(body["door"]), _way_from(body)
                if "pins" in body:
                    hash_key, tries, rest_seconds, duress = body["pins"]
                    self._pins = PinAtDoors(hash_key, tries, rest_seconds, DuressRule(duress))
                self._doors[key.id] = door_id
                self._ways.pop(key.id, None)
                if way:
                    self._ways[key.id] = way
                self.plan = self._plan()
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
                self.plan = self._plan()
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

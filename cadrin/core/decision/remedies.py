"""Everything that stands against what was shown at a reader, and the acts that together would open the door now.

Every remedy was tried: its acts are done to the plan and the cardholder, and the read is decided again with them.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.access.plan import ANY_CARD, Card, CardKey, Holder, Membership, Pin, Plan, ReaderMode, Way
from cadrin.core.access.rights import Reason, judge_card, judge_card_at_any_hour
from cadrin.core.cards.formats import DecodeFault, RawRead
from cadrin.core.cards.room import ANY_MEMORY, Memory, cards_kept, first_to_go
from cadrin.core.cards.status import CardStatus
from cadrin.core.decision.decide import Verdict, bits_of, decide, read_card
from cadrin.core.pins import PinAtDoors
from cadrin.core.validity import ALWAYS, Span, Standing

MOST_ACTS = 9
"""Nearly every act answers one reason, and none comes twice."""
MOST_REMEDIES = 6
_DOORS = PinAtDoors("00" * 32)
_RIGHT, _WRONG = "1", "2"
"""What stands for the digits: which PIN was typed is known, never what it is."""


class Mend(StrEnum):
    """What an operator, or whoever stands at the door, can do."""

    ISSUE_CARD = "issue_card"
    CARD_STATUS = "card_status"
    CARD_DATES = "card_dates"
    CARD_USES = "card_uses"
    CARD_HOURS = "card_hours"
    RETURN_A_CARD = "return_a_card"
    SHOW_CARD = "show_card"
    TYPE_PIN = "type_pin"
    SET_PIN = "set_pin"
    READER_TAKES = "reader_takes"
    READER_FORMATS = "reader_formats"
    STANDING = "standing"
    DATES = "dates"
    ADD_TO_GROUP = "add_to_group"
    GROUP_DATES = "group_dates"


class Mending(NamedTuple):
    """One act; ``group_id`` where it is about a group, ``card`` where about another card than the one shown."""

    mend: Mend
    group_id: int | None = None
    card: CardKey | None = None


Remedy = tuple[Mending, ...]


@dataclass(frozen=True, slots=True)
class Presented:
    """What somebody shows at a reader. ``pin_id`` is the PIN that is typed; None while ``is_typed`` is a wrong one."""

    reader_id: int
    read: RawRead | None = None
    is_typed: bool = False
    pin_id: int | None = None


@dataclass(frozen=True, slots=True)
class Situation:
    """Who would be let in by what, where: everything that a decision is made from, as the house knows it.

    ``holder`` is whose the card or the PIN is, None for nobody's. ``memory`` is that of the controller at the door.
    ``is_free`` says whether the card may be issued as it is.
    """

    presented: Presented
    plan: Plan
    holder: Holder | None
    memory: Memory = ANY_MEMORY
    is_free: bool = True


@dataclass(frozen=True, slots=True)
class _Records:
    """What the controller would hold of one cardholder, for `decide`."""

    plan: Plan
    holder_of_card: Mapping[CardKey, tuple[Card, Holder]] = field(default_factory=dict)
    holder_of_pin: Mapping[str, tuple[Pin, Holder]] = field(default_factory=dict)

    def uses_of(self, card: Card) -> int:
        return 0  # the house's own count is of all memories


class Outlook(NamedTuple):
    """How it would go now: the reason, everything that stands against it, and remedies, the shortest first."""

    reason: Reason
    against: tuple[Reason, ...]
    remedies: tuple[Remedy, ...]

    def without_knowing_the_pin(self) -> "Outlook":
        """Give the same where nobody knows whether the PIN was right: then one is missing, and none was wrong."""
        against = [Reason.PIN_MISSING if one is Reason.PIN_WRONG else one for one in (self.reason, *self.against)]
        return Outlook(against[0], tuple(dict.fromkeys(against[1:])), self.remedies)


def outlook(situation: Situation, at: datetime, groups: Iterable[int] | None = None) -> Outlook:
    """Judge what was shown as if it were shown now. ``groups`` are those that may be offered; None are all.

    ``against`` is along the first remedy; without any, as far as it can be mended.
    """
    offered = frozenset(situation.plan.groups if groups is None else groups)
    reason = verdict_in(situation, at).reason
    if reason is Reason.GRANTED:
        return Outlook(reason, (), ())
    found = sorted(_ways_through(situation, at, offered, (), ()), key=lambda way: len(way[0]))
    opening = [way for way in found if way[2]][:MOST_REMEDIES]
    if not opening:
        return Outlook(reason, max((against for _, against, _ in found), key=len), ())
    return Outlook(reason, opening[0][1], tuple(remedy for remedy, _, _ in opening))


def verdict_in(situation: Situation, at: datetime) -> Verdict:
    """Decide what was shown, with the digits standing for the PIN that was typed."""
    presented, holder = situation.presented, situation.holder
    cards: dict[CardKey, tuple[Card, Holder]] = {}
    pins: dict[str, tuple[Pin, Holder]] = {}
    if holder is not None:
        known = [
            replace(pin, hash=_DOORS.hashes(_RIGHT)[0] if pin.id == presented.pin_id else f"{pin.id}")
            for pin in holder.pins
        ]
        holder = replace(holder, cards=cards_kept(holder.cards, situation.memory), pins=tuple(known))
        cards = {card.key: (card, holder) for card in holder.cards}
        pins = {pin.hash: (pin, holder) for pin in holder.pins if pin.opens_alone}
    typed = (_WRONG if presented.pin_id is None else _RIGHT) if presented.is_typed else None
    records = _Records(replace(situation.plan, pins=_DOORS), cards, pins)
    return decide(presented.read, presented.reader_id, at, records, typed)


_Way = tuple[Remedy, tuple[Reason, ...], bool]
"""What was done, what stood against it on the way, and whether the door opened in the end."""


def _ways_through(
    situation: Situation, at: datetime, groups: frozenset[int], done: Remedy, against: tuple[Reason, ...]
) -> Iterator[_Way]:
    reason = verdict_in(situation, at).reason
    if reason is Reason.GRANTED:
        yield done, against, True
        return
    tried = False
    # room for a card may need more than one act; every other reason is answered by one
    if (reason not in against or reason is Reason.UNKNOWN_CARD) and len(done) < MOST_ACTS:
        for step, after in _mended(situation, reason, at, groups):
            tried = True
            so_far = against if reason in against else (*against, reason)
            yield from _ways_through(after, at, groups, (*done, step), so_far)
    if not tried:
        yield done, (*against, reason), False


def _mended(
    situation: Situation, reason: Reason, at: datetime, groups: frozenset[int]
) -> Iterator[tuple[Mending, Situation]]:
    """Give every act that answers a reason, with the situation after it; none where nothing can."""
    holder = situation.holder
    match reason:
        case Reason.UNKNOWN_CARD:
            yield from _with_the_card(situation, at)
        case Reason.CARD_NOT_TAKEN | Reason.PIN_NOT_TAKEN:
            if holder is not None:
                yield from _otherwise(situation, holder, reason, at)
            yield Mending(Mend.READER_TAKES), _with_way(situation, mode=ReaderMode.CARD_OR_PIN)
        case Reason.FORMAT_NOT_READ:
            yield Mending(Mend.READER_FORMATS), _with_way(situation, formats=None)
        case Reason.PIN_MISSING | Reason.PIN_WRONG | Reason.PIN_EXPIRED if holder is not None:
            yield from _with_a_pin(situation, holder, at)
        case Reason.CARDHOLDER_SUSPENDED | Reason.CARDHOLDER_BARRED | Reason.CARDHOLDER_DEPARTED if holder is not None:
            after = replace(holder, standing=Standing.ACTIVE, suspended_until=None)
            yield Mending(Mend.STANDING), replace(situation, holder=after)
        case Reason.CARDHOLDER_PENDING | Reason.CARDHOLDER_EXPIRED if holder is not None:
            yield Mending(Mend.DATES), replace(situation, holder=replace(holder, span=_with(holder.span, at)))
        case Reason.NO_MEMBERSHIP | Reason.MEMBERSHIP_PENDING | Reason.MEMBERSHIP_EXPIRED | Reason.OUTSIDE_HOURS if (
            holder is not None
        ):
            yield from _with_a_group(situation, holder, at, groups)
        case _ if holder is not None and reason in _MENDED_CARD:
            mend, change = _MENDED_CARD[reason]
            key = verdict_in(situation, at).card
            cards = tuple(change(card, at) if card.key == key else card for card in holder.cards)
            yield Mending(mend), replace(situation, holder=replace(holder, cards=cards))


def _with(span: Span, at: datetime) -> Span:
    """Give a span that holds the instant, as much like it as can be."""
    start = None if span.start is not None and at < span.start else span.start
    end = None if span.end is not None and span.end <= at else span.end
    return Span(start, end)


def _in_force(card: Card, at: datetime) -> Card:
    return replace(card, status=CardStatus.ISSUED, suspended_until=None)


def _in_time(card: Card, at: datetime) -> Card:
    return replace(card, span=_with(card.span, at))


_MENDED_CARD = {
    **dict.fromkeys(
        (
            Reason.CARD_SUSPENDED,
            Reason.CARD_LOST,
            Reason.CARD_STOLEN,
            Reason.CARD_DAMAGED,
            Reason.CARD_NOT_ISSUED,
        ),
        (Mend.CARD_STATUS, _in_force),
    ),
    Reason.CARD_PENDING: (Mend.CARD_DATES, _in_time),
    Reason.CARD_EXPIRED: (Mend.CARD_DATES, _in_time),
    Reason.CARD_USED_UP: (Mend.CARD_USES, lambda card, at: replace(card, limit=None)),
    Reason.CARD_OUTSIDE_HOURS: (Mend.CARD_HOURS, lambda card, at: replace(card, hours=None)),
}


def _keys_of(situation: Situation) -> tuple[CardKey, ...]:
    read = situation.presented.read
    found = read_card(read, situation.plan.formats) if read else ()
    return () if isinstance(found, DecodeFault) else found


def _with_the_card(situation: Situation, at: datetime) -> Iterator[tuple[Mending, Situation]]:
    """Issue a card that is nobody's; where its holder has more than the controller keeps, give up another one."""
    holder, keys = situation.holder, _keys_of(situation)
    mine = next((card for card in holder.cards if card.key in keys), None) if holder else None
    if holder is not None and mine is not None:
        if against := judge_card_at_any_hour(mine, at):  # one that works stays sooner than one that does not
            mend, change = _MENDED_CARD[against]
            cards = tuple(change(card, at) if card == mine else card for card in holder.cards)
            yield Mending(mend), replace(situation, holder=replace(holder, cards=cards))
        else:
            other = first_to_go(holder.cards, situation.memory)
            cards = tuple(card for card in holder.cards if card.key != other.key)
            yield Mending(Mend.RETURN_A_CARD, card=other.key), replace(situation, holder=replace(holder, cards=cards))
    elif holder is None and keys and situation.is_free:
        somebody = Holder(0, "", "", cards=(Card(keys[0]),))
        yield Mending(Mend.ISSUE_CARD), replace(situation, holder=somebody)


def _otherwise(
    situation: Situation, holder: Holder, reason: Reason, at: datetime
) -> Iterator[tuple[Mending, Situation]]:
    """Let them show what this reader takes instead, of what they have: their PIN alone, or a card."""
    way = situation.plan.way_of_reader.get(situation.presented.reader_id, ANY_CARD)
    if reason is Reason.CARD_NOT_TAKEN:
        yield from _typing(situation, holder, at, alone=True)
        return
    shown = next((card for card in holder.cards if card.key in _keys_of(situation)), None)
    others = (card for card in holder.cards if way.reads(card.key.format_id) and judge_card(card, at) is None)
    card = shown if shown and way.reads(shown.key.format_id) else next(others, None)
    if card is not None:  # by itself, as no PIN is taken beside it here, or together where one is
        read = bits_of(card.key, situation.plan.formats, card.issue_level)
        is_typed = way.mode is ReaderMode.CARD_AND_PIN and situation.presented.is_typed
        presented = replace(situation.presented, read=read, is_typed=is_typed)
        yield Mending(Mend.SHOW_CARD, card=card.key), replace(situation, presented=presented)


def _typing(situation: Situation, holder: Holder, at: datetime, *, alone: bool) -> Iterator[tuple[Mending, Situation]]:
    """Let a PIN be typed that they have, and that works."""
    for pin in holder.pins:
        if at in pin.span and (pin.opens_alone or not alone):
            read = None if alone else situation.presented.read
            presented = replace(situation.presented, read=read, is_typed=True, pin_id=pin.id)
            yield Mending(Mend.TYPE_PIN), replace(situation, presented=presented)
            return


def _with_way(situation: Situation, **changes: object) -> Situation:
    plan, reader_id = situation.plan, situation.presented.reader_id
    way: Way = plan.way_of_reader.get(reader_id, ANY_CARD)._replace(**changes)  # type: ignore[arg-type]
    return replace(situation, plan=replace(plan, way_of_reader={**plan.way_of_reader, reader_id: way}))


def _with_a_pin(situation: Situation, holder: Holder, at: datetime) -> Iterator[tuple[Mending, Situation]]:
    """Let the card be shown alone where that is enough, or a PIN typed that they have; else set one."""
    presented, alone = situation.presented, situation.presented.read is None
    mode = situation.plan.way_of_reader.get(presented.reader_id, ANY_CARD).mode
    if not alone and mode is ReaderMode.CARD_OR_PIN:
        shown = next((card.key for card in holder.cards if card.key in _keys_of(situation)), None)
        yield Mending(Mend.SHOW_CARD, card=shown), replace(situation, presented=replace(presented, is_typed=False))
    yield from _typing(situation, holder, at, alone=alone)
    new = Pin(max((pin.id for pin in holder.pins), default=0) + 1, "", opens_alone=alone)
    presented = replace(presented, is_typed=True, pin_id=new.id)
    after = replace(holder, pins=(*holder.pins, new))
    yield Mending(Mend.SET_PIN), replace(situation, holder=after, presented=presented)


def _with_a_group(
    situation: Situation, holder: Holder, at: datetime, groups: frozenset[int]
) -> Iterator[tuple[Mending, Situation]]:
    """Give them a group that opens the door at this instant: one of theirs, by its dates, or another one."""
    plan = situation.plan
    door_id = plan.door_of_reader.get(situation.presented.reader_id)
    for group in plan.groups.values():
        schedule_ids = group.schedules_of_door.get(door_id or 0, ())
        if not any(plan.schedules[id_].is_open(at) for id_ in schedule_ids if id_ in plan.schedules):
            continue
        mine = next((one for one in holder.memberships if one.group_id == group.id), None)
        if mine is not None:
            after = tuple(replace(o, span=_with(o.span, at)) if o == mine else o for o in holder.memberships)
            yield Mending(Mend.GROUP_DATES, group.id), replace(situation, holder=replace(holder, memberships=after))
        elif group.id in groups:
            after = (*holder.memberships, Membership(group.id, ALWAYS))
            yield Mending(Mend.ADD_TO_GROUP, group.id), replace(situation, holder=replace(holder, memberships=after))

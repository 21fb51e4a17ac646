"""The facts about doors and people that every right is derived from.

A plan may be the whole house (on the screen) or what one controller holds (at the door): the
functions that read it are the same.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.cards.formats import CardFormat, CardNumbers
from cadrin.core.cards.status import CardStatus, card_span_in_force
from cadrin.core.cards.use_limit import UseLimit
from cadrin.core.pins import NO_PINS, PinAtDoors
from cadrin.core.schedules import Schedule
from cadrin.core.validity import ALWAYS, Span, Standing


class CardKey(NamedTuple):
    """What makes a card one card: its format, facility code and card number."""

    format_id: int
    facility_code: int
    card_number: int

    @classmethod
    def of(cls, format_id: int, numbers: CardNumbers) -> "CardKey":
        return cls(format_id, numbers.facility_code, numbers.card_number)


@dataclass(frozen=True, slots=True)
class Card:
    """A card in somebody's hands.

    ``hours`` are its own, beside those of its holder's groups. ``issue_level`` is the one it was last issued with,
    None where that is not known; an earlier one is dead.
    """

    key: CardKey
    status: CardStatus = CardStatus.ISSUED
    span: Span = ALWAYS
    suspended_until: datetime | None = None
    hours: Schedule | None = None
    limit: UseLimit | None = None
    is_watched: bool = False
    issue_level: int | None = None

    @property
    def in_force(self) -> Span | None:
        """The time in which it counts, by what is known of its uses; its own hours cut that further."""
        if self.limit and self.limit.is_used_up():
            return None
        return card_span_in_force(self.status, self.span, self.suspended_until)


@dataclass(frozen=True, slots=True)
class Pin:
    """A PIN as doors know it: by its keyed hash. One that opens alone needs no card beside it."""

    id: int
    hash: str
    opens_alone: bool = False
    span: Span = ALWAYS


@dataclass(frozen=True, slots=True)
class Membership:
    """A cardholder in an access group."""

    group_id: int
    span: Span = ALWAYS


@dataclass(frozen=True, slots=True)
class Holder:
    """A cardholder, as far as doors are concerned. With ``extended_time`` a door stays open longer for them."""

    id: int
    number: str
    display_name: str
    standing: Standing = Standing.ACTIVE
    span: Span = ALWAYS
    suspended_until: datetime | None = None
    cards: tuple[Card, ...] = ()
    memberships: tuple[Membership, ...] = ()
    pins: tuple[Pin, ...] = ()
    extended_time: bool = False


class ReaderMode(StrEnum):
    """Which credentials a reader asks for."""

    CARD = "card"
    PIN = "pin"
    CARD_OR_PIN = "card_or_pin"
    CARD_AND_PIN = "card_and_pin"

    @property
    def takes_cards(self) -> bool:
        return self is not ReaderMode.PIN

    @property
    def takes_pins(self) -> bool:
        return self is not ReaderMode.CARD

    @property
    def takes_pins_alone(self) -> bool:
        return self in (ReaderMode.PIN, ReaderMode.CARD_OR_PIN)


class Way(NamedTuple):
    """What a reader takes: its mode, and the formats it can read; None are all of them."""

    mode: ReaderMode = ReaderMode.CARD
    formats: frozenset[int] | None = None

    def reads(self, format_id: int) -> bool:
        return self.mode.takes_cards and (self.formats is None or format_id in self.formats)


ANY_CARD = Way()


@dataclass(frozen=True, slots=True)
class AccessGroup:
    """A named set of grants: for each door, the schedules in which the group opens it."""

    id: int
    name: str
    schedules_of_door: Mapping[int, tuple[int, ...]]


@dataclass(frozen=True, slots=True)
class Plan:
    """Doors, schedules and groups; ``door_of_reader`` leads from a reader to the door beside it.

    ``way_of_reader`` has only the readers that take something else than any card, ``readers_out`` those on the way
    out of their door.
    """

    schedules: Mapping[int, Schedule] = field(default_factory=dict)
    groups: Mapping[int, AccessGroup] = field(default_factory=dict)
    formats: Mapping[int, CardFormat] = field(default_factory=dict)
    door_of_reader: Mapping[int, int] = field(default_factory=dict)
    way_of_reader: Mapping[int, Way] = field(default_factory=dict)
    pins: PinAtDoors = NO_PINS
    readers_out: frozenset[int] = frozenset()
    _ways: dict[tuple[int, bool], tuple[Way, ...]] = field(default_factory=dict, init=False, repr=False, compare=False)

    @property
    def takes_pins(self) -> bool:
        return any(way.mode.takes_pins for way in self.way_of_reader.values())

    def ways_into(self, door_id: int) -> tuple[Way, ...]:
        """Give what the readers on the way into a door take, each way once; none where nobody comes in there."""
        return self._ways_at(door_id, is_out=False)

    def ways_out_of(self, door_id: int) -> tuple[Way, ...]:
        """Give what the readers on the way out of a door take, each way once; none where there is none."""
        return self._ways_at(door_id, is_out=True)

    def _ways_at(self, door_id: int, *, is_out: bool) -> tuple[Way, ...]:
        if not self.way_of_reader and not self.readers_out:
            return () if is_out else (ANY_CARD,)
        if not self._ways:
            found: dict[tuple[int, bool], tuple[Way, ...]] = {}
            for reader_id, door in self.door_of_reader.items():
                way, place = self.way_of_reader.get(reader_id, ANY_CARD), (door, reader_id in self.readers_out)
                if way not in (known := found.get(place, ())):
                    found[place] = (*known, way)
            self._ways.update(found)
        has_any_reader = (door_id, not is_out) in self._ways
        return self._ways.get((door_id, is_out), () if is_out or has_any_reader else (ANY_CARD,))

    def doors_of(self, memberships: tuple[Membership, ...]) -> frozenset[int]:
        """Give every door that one of the groups names, whatever its hours."""
        return frozenset(
            door
            for membership in memberships
            if (group := self.groups.get(membership.group_id))
            for door in group.schedules_of_door
        )

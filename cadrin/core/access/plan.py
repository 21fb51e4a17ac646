"""The facts about doors and people that every right is derived from.

A plan may be the whole house (on the screen) or what one controller holds (at the door): the
functions that read it are the same.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import NamedTuple

from cadrin.core.cards.formats import CardFormat, CardNumbers
from cadrin.core.cards.status import CardStatus
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
    """A card in somebody's hands."""

    key: CardKey
    status: CardStatus = CardStatus.ISSUED
    span: Span = ALWAYS


@dataclass(frozen=True, slots=True)
class Membership:
    """A cardholder in an access group."""

    group_id: int
    span: Span = ALWAYS


@dataclass(frozen=True, slots=True)
class Holder:
    """A cardholder, as far as doors are concerned."""

    id: int
    number: str
    display_name: str
    standing: Standing = Standing.ACTIVE
    span: Span = ALWAYS
    suspended_until: datetime | None = None
    cards: tuple[Card, ...] = ()
    memberships: tuple[Membership, ...] = ()


@dataclass(frozen=True, slots=True)
class AccessGroup:
    """A named set of grants: for each door, the schedules in which the group opens it."""

    id: int
    name: str
    schedules_of_door: Mapping[int, tuple[int, ...]]


@dataclass(frozen=True, slots=True)
class Plan:
    """Doors, schedules and groups; ``door_of_reader`` leads from a reader to the door beside it."""

    schedules: Mapping[int, Schedule] = field(default_factory=dict)
    groups: Mapping[int, AccessGroup] = field(default_factory=dict)
    formats: Mapping[int, CardFormat] = field(default_factory=dict)
    door_of_reader: Mapping[int, int] = field(default_factory=dict)

    def doors_of(self, memberships: tuple[Membership, ...]) -> frozenset[int]:
        """Give every door that one of the groups names, whatever its hours."""
        return frozenset(
            door
            for membership in memberships
            if (group := self.groups.get(membership.group_id))
            for door in group.schedules_of_door
        )

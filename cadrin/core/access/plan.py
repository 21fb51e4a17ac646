"""The facts about doors and people that every right is derived from.

A plan may be that of all sites (on the screen) or what one controller holds (at the door): the
functions that read it are the same.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from cadrin.core.credentials.biometric import Biometric, Consent
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.factors import ANY_CARD, Factor, ReaderPolicy
from cadrin.core.credentials.pin.hashing import NO_PINS, PinAtDoors
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.doors.rules import AreaRules, DoorRules
from cadrin.core.schedules import Schedule
from cadrin.core.validity import ALWAYS, Span, Standing


@dataclass(frozen=True, slots=True)
class Membership:
    """A cardholder in an access group."""

    group_id: int
    span: Span = ALWAYS


@dataclass(frozen=True, slots=True)
class Holder:
    """A cardholder, as far as doors are concerned. With ``extended_time`` a door stays open longer
    for them; in ``card_alone`` a card is enough where a finger or a face is asked.

    ``consents`` never go to a door: templates carry their own time.
    """

    id: int
    number: str
    display_name: str
    standing: Standing = Standing.ACTIVE
    span: Span = ALWAYS
    suspended_until: datetime | None = None
    cards: tuple[Card, ...] = ()
    memberships: tuple[Membership, ...] = ()
    pins: tuple[Pin, ...] = ()
    plates: tuple[Plate, ...] = ()
    extended_time: bool = False
    fingers: tuple[Biometric, ...] = ()
    faces: tuple[Biometric, ...] = ()
    card_alone: Span | None = None
    consents: tuple[Consent, ...] = ()

    def biometrics(self, factor: Factor) -> tuple[Biometric, ...]:
        """Return the templates of their fingers or faces."""
        return self.fingers if factor is Factor.FINGER else self.faces

    def with_biometrics(self, factor: Factor, templates: tuple[Biometric, ...]) -> "Holder":
        """Return the same with other templates of their fingers or faces."""
        if factor is Factor.FINGER:
            return replace(self, fingers=templates)
        return replace(self, faces=templates)

    def is_by_card_alone(self, at: datetime) -> bool:
        """Say whether a card is enough of them at an instant, where a finger or a face is asked."""
        return self.card_alone is not None and at in self.card_alone


class Way(StrEnum):
    """Which way through a door a grant opens."""

    BOTH = "both"
    IN = "in"
    OUT = "out"


@dataclass(frozen=True, slots=True)
class AccessGroup:
    """A named set of grants: for each door, the schedules in which the group opens it. One that
    ``overrides`` opens a door in its closed hours too, and one that an operator keeps shut.

    ``one_way`` has the doors with a schedule, of those above, that count for one way alone.
    """

    id: int
    name: str
    schedules_of_door: Mapping[int, tuple[int, ...]]
    overrides: bool = False
    one_way: Mapping[tuple[int, int], Way] = field(default_factory=dict)

    @classmethod
    def of_grants(
        cls, id_: int, name: str, grants: Iterable[tuple[int, int, Way]], *, overrides: bool = False
    ) -> "AccessGroup":
        """Return a group from its doors, each with a schedule and a way; both ways are what two
        grants of one way each come to.
        """
        ways: dict[tuple[int, int], Way] = {}
        for door_id, schedule_id, way in grants:
            known = ways.setdefault((door_id, schedule_id), way)
            if known is not way:
                ways[door_id, schedule_id] = Way.BOTH
        schedules: dict[int, tuple[int, ...]] = {}
        for door_id, schedule_id in ways:
            schedules[door_id] = (*schedules.get(door_id, ()), schedule_id)
        one_way = {place: way for place, way in ways.items() if way is not Way.BOTH}
        return cls(id_, name, schedules, overrides, one_way)

    @property
    def doors_in(self) -> Iterable[int]:
        """The doors that it opens on the way in."""
        doors = self.schedules_of_door
        return (id_ for id_ in doors if self.schedules_at(id_, is_out=False))

    def schedules_at(self, door_id: int, *, is_out: bool) -> tuple[int, ...]:
        """Return the schedules in which the group opens a door on one of its ways."""
        schedule_ids = self.schedules_of_door.get(door_id, ())
        if not self.one_way:
            return schedule_ids
        other = Way.IN if is_out else Way.OUT
        return tuple(id_ for id_ in schedule_ids if self.one_way.get((door_id, id_)) is not other)

    def opens_as(self, other: "AccessGroup", door_id: int) -> bool:
        """Whether both open a door in the same schedules, on each of its ways."""
        return all(
            set(self.schedules_at(door_id, is_out=is_out))
            == set(other.schedules_at(door_id, is_out=is_out))
            for is_out in (False, True)
        )

    def gives_as(self, other: "AccessGroup") -> bool:
        """Whether both give the same rights: the same doors, in the same schedules."""
        return (
            self.overrides == other.overrides
            and self.schedules_of_door.keys() == other.schedules_of_door.keys()
            and all(self.opens_as(other, door_id) for door_id in self.schedules_of_door)
        )


class Opening(NamedTuple):
    """When one access group opens a door on one of its ways; with what the door itself says of that,
    None where the group overrides it or it says nothing.
    """

    schedules: tuple[Schedule, ...]
    rules: DoorRules | None


@dataclass(frozen=True, slots=True)
class Plan:
    """Doors, schedules and groups; ``door_of_reader`` leads from a reader to the door beside it.

    ``policy_of_reader`` has only the readers that ask for something else than any card,
    ``readers_out`` those on the way out of their door, ``doors`` the doors that have rules of their
    own, ``areas`` those that keep count of people, ``plugs`` where readers are plugged in at
    controllers that know them by that alone.
    """

    schedules: Mapping[int, Schedule] = field(default_factory=dict)
    groups: Mapping[int, AccessGroup] = field(default_factory=dict)
    formats: Mapping[int, CardFormat] = field(default_factory=dict)
    door_of_reader: Mapping[int, int] = field(default_factory=dict)
    policy_of_reader: Mapping[int, ReaderPolicy] = field(default_factory=dict)
    pins: PinAtDoors = NO_PINS
    readers_out: frozenset[int] = frozenset()
    doors: Mapping[int, DoorRules] = field(default_factory=dict)
    plugs: Mapping[int, int] = field(default_factory=dict)
    areas: Mapping[int, AreaRules] = field(default_factory=dict)
    _policies: dict[tuple[int, bool], tuple[ReaderPolicy, ...]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    _groups_at: dict[int, tuple[AccessGroup, ...]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    _openings: dict[tuple[int, bool], Mapping[int, Opening]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    _worked_out: dict[tuple[object, ...], frozenset[int]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    def once(self, what: tuple[object, ...], work: Callable[[], Iterable[int]]) -> frozenset[int]:
        """Return what is worked out of this plan alone: the first time only."""
        if what not in self._worked_out:
            self._worked_out[what] = frozenset(work())
        return self._worked_out[what]

    def openings(self, door_id: int, *, is_out: bool = False) -> Mapping[int, Opening]:
        """Return the groups that open a door on one of its ways, by id; worked out once for each."""
        found = self._openings.get((door_id, is_out))
        if found is None:
            found = self._openings[door_id, is_out] = dict(self._openings_of(door_id, is_out))
        return found

    def _openings_of(self, door_id: int, is_out: bool) -> Iterator[tuple[int, Opening]]:
        rules = self.doors.get(door_id)
        for group in self.groups_at(door_id):
            if schedule_ids := group.schedules_at(door_id, is_out=is_out):
                known = tuple(self.schedules[id_] for id_ in schedule_ids if id_ in self.schedules)
                yield group.id, Opening(known, None if group.overrides else rules)

    def groups_at(self, door_id: int) -> tuple[AccessGroup, ...]:
        """Return the access groups that open a door in some hours."""
        if not self._groups_at and self.groups:
            found: dict[int, list[AccessGroup]] = {}
            for group in self.groups.values():
                for opened in group.schedules_of_door:
                    found.setdefault(opened, []).append(group)
            self._groups_at.update({id_: tuple(groups) for id_, groups in found.items()})
        return self._groups_at.get(door_id, ())

    def takes(self, factor: Factor) -> bool:
        """Say whether any reader asks for a factor."""
        if factor is Factor.CARD and len(self.policy_of_reader) < len(self.door_of_reader):
            return True
        return any(policy.takes(factor) for policy in self.policy_of_reader.values())

    def policies_into(self, door_id: int) -> tuple[ReaderPolicy, ...]:
        """Return what the readers on the way into a door ask for, each policy once; none where
        nobody comes in.
        """
        return self.policies_of(door_id, is_out=False)

    def policies_out_of(self, door_id: int) -> tuple[ReaderPolicy, ...]:
        """Return what the readers on the way out of a door ask for, each policy once; none where
        there is none.
        """
        return self.policies_of(door_id, is_out=True)

    def policies_of(self, door_id: int, *, is_out: bool) -> tuple[ReaderPolicy, ...]:
        """Return what the readers on one of the ways through a door ask for."""
        if not self._policies:
            found: dict[tuple[int, bool], tuple[ReaderPolicy, ...]] = {}
            for reader_id, door in self.door_of_reader.items():
                policy = self.policy_of_reader.get(reader_id, ANY_CARD)
                place = (door, reader_id in self.readers_out)
                if policy not in (known := found.get(place, ())):
                    found[place] = (*known, policy)
            self._policies.update(found)
        return self._policies.get((door_id, is_out), ())

    def ways_differ(self, door_id: int, memberships: tuple[Membership, ...]) -> bool:
        """Say whether a door may open otherwise on its way out than on its way in, for whoever is in
        these groups; never where no reader stands on the way out.
        """
        out = self.policies_out_of(door_id)
        return bool(out) and (
            set(out) != set(self.policies_into(door_id))
            or any(
                place[0] == door_id
                for membership in memberships
                if (group := self.groups.get(membership.group_id))
                for place in group.one_way
            )
        )

    def doors_into(self, memberships: tuple[Membership, ...]) -> frozenset[int]:
        """Return every door that one of the groups names for coming in, whatever its hours."""
        return frozenset(
            door
            for membership in memberships
            if (group := self.groups.get(membership.group_id))
            for door in group.doors_in
        )

    def doors_of(self, memberships: tuple[Membership, ...]) -> frozenset[int]:
        """Return every door that one of the groups names, whatever its hours."""
        return frozenset(
            door
            for membership in memberships
            if (group := self.groups.get(membership.group_id))
            for door in group.schedules_of_door
        )

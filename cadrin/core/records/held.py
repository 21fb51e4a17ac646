"""The records that a controller holds: read from what it was sent, and ready to decide from."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from cadrin.core.access.plan import AccessGroup, Holder, Plan
from cadrin.core.credentials.biometric import Biometric, Sample
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.factors import ANY_CARD, Factor, ReaderPolicy
from cadrin.core.credentials.pin.hashing import NO_PINS, PinAtDoors
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.doors.rules import AreaRules, DoorRules
from cadrin.core.doors.state import Whereabouts
from cadrin.core.records.biometrics import HeldFaces, HeldFingers
from cadrin.core.records.card_formats import decode_format
from cadrin.core.records.cardholders import decode_cardholder
from cadrin.core.records.doors import decode_area, decode_door, decode_presence
from cadrin.core.records.fields import decode_schedule
from cadrin.core.records.keys import OF_PEOPLE, Body, RecordKey, RecordKind
from cadrin.core.records.known_cards import KnownCards
from cadrin.core.records.places import decode_group, decode_reader
from cadrin.core.records.rules import decode_rules
from cadrin.core.schedules import Schedule

DECODE: Mapping[RecordKind, Callable[[int, Body], Any]] = {
    RecordKind.RULES: lambda _, body: decode_rules(body),
    RecordKind.FORMAT: lambda _, body: decode_format(body),
    RecordKind.SCHEDULE: lambda _, body: decode_schedule(body),
    RecordKind.AREA: lambda _, body: decode_area(body),
    RecordKind.DOOR: lambda _, body: decode_door(body),
    RecordKind.READER: lambda _, body: decode_reader(body),
    RecordKind.GROUP: decode_group,
    RecordKind.PRESENCE: lambda _, body: decode_presence(body),
    RecordKind.CARDHOLDER: decode_cardholder,
}


class HeldRecords:
    """The records a controller holds, read and ready to decide from."""

    def __init__(self) -> None:
        self._schedules: dict[int, Schedule] = {}
        self._groups: dict[int, AccessGroup] = {}
        self._formats: dict[int, CardFormat] = {}
        self._doors: dict[int, int] = {}
        self._policies: dict[int, ReaderPolicy] = {}
        self._plugs: dict[int, int] = {}
        self._ways_out: set[int] = set()
        self._areas: dict[int, AreaRules] = {}
        self._door_rules: dict[int, DoorRules] = {}
        self.told: dict[int, Whereabouts] = {}
        """Where people are, as far as the controller was told."""
        self._pins: PinAtDoors = NO_PINS
        self._holders: dict[int, Holder] = {}
        self._uses: dict[tuple[CardKey, int], int] = {}
        self._cards = KnownCards()
        self.holder_of_card = self._cards.by_key
        self.holder_of_bits = self._cards.by_bits
        self.holder_of_pin: dict[str, tuple[Pin, Holder]] = {}
        self.holder_of_plate: dict[str, tuple[Plate, Holder]] = {}
        self._templates: dict[Factor, HeldFingers | HeldFaces] = {
            Factor.FINGER: HeldFingers(),
            Factor.FACE: HeldFaces(),
        }
        self.plan = self._plan()

    def _plan(self) -> Plan:
        return Plan(
            self._schedules,
            self._groups,
            self._formats,
            self._doors,
            self._policies,
            self._pins,
            frozenset(self._ways_out),
            self._door_rules,
            self._plugs,
            self._areas,
        )

    def put(self, key: RecordKey, body: Body) -> None:
        """Take a record, in place of an older one of the same key.

        Raises KeyError, TypeError, ValueError or Invalid when the body is no such record; then the
        older one stays.
        """
        found = DECODE[key.kind](key.id, body)
        self.remove(key)
        match key.kind:
            case RecordKind.RULES:
                self._pins = found
            case RecordKind.FORMAT:
                # a read is tried against formats in the order of their numbers, however they came
                # here
                self._formats = dict(sorted({**self._formats, key.id: found}.items()))
                self._cards.read_in(self._formats)
            case RecordKind.SCHEDULE:
                self._schedules[key.id] = found
            case RecordKind.DOOR:
                self._door_rules[key.id] = found
            case RecordKind.READER:
                self._doors[key.id] = found.door_id
                if found.policy is not ANY_CARD:
                    self._policies[key.id] = found.policy
                if found.plug is not None:
                    self._plugs[key.id] = found.plug
                if found.is_way_out:
                    self._ways_out.add(key.id)
            case RecordKind.AREA:
                self._areas[key.id] = found
            case RecordKind.PRESENCE:
                self.told[key.id] = found
            case RecordKind.GROUP:
                self._groups[key.id] = found
            case RecordKind.CARDHOLDER:
                self._put_holder(found)
        if key.kind not in OF_PEOPLE:
            self.plan = self._plan()

    def _put_holder(self, holder: Holder) -> None:
        self._holders[holder.id] = holder
        self._cards.put(holder)
        self.holder_of_pin.update(
            {pin.hash: (pin, holder) for pin in holder.pins if pin.opens_alone}
        )
        self.holder_of_plate.update({plate.number: (plate, holder) for plate in holder.plates})
        for templates in self._templates.values():
            templates.put(holder)

    def remove(self, key: RecordKey) -> None:
        """Drop a record; one that is not held is no error."""
        match key.kind:
            case RecordKind.RULES:
                self._pins = NO_PINS
            case RecordKind.FORMAT:
                if self._formats.pop(key.id, None):
                    self._cards.read_in(self._formats)
            case RecordKind.SCHEDULE:
                self._schedules.pop(key.id, None)
            case RecordKind.DOOR:
                self._door_rules.pop(key.id, None)
            case RecordKind.READER:
                for known in (self._doors, self._policies, self._plugs):
                    known.pop(key.id, None)
                self._ways_out.discard(key.id)
            case RecordKind.AREA:
                self._areas.pop(key.id, None)
            case RecordKind.PRESENCE:
                self.told.pop(key.id, None)
            case RecordKind.GROUP:
                self._groups.pop(key.id, None)
            case RecordKind.CARDHOLDER:
                self._remove_holder(key.id)
        if key.kind not in OF_PEOPLE:
            self.plan = self._plan()

    def _remove_holder(self, id_: int) -> None:
        holder = self._holders.pop(id_, None)
        if holder is None:
            return
        self._cards.remove(holder)
        for pin in holder.pins:
            if (typed := self.holder_of_pin.get(pin.hash)) and typed[1].id == holder.id:
                del self.holder_of_pin[pin.hash]
        for plate in holder.plates:
            if (driven := self.holder_of_plate.get(plate.number)) and driven[1].id == holder.id:
                del self.holder_of_plate[plate.number]
        for templates in self._templates.values():
            templates.remove(holder)

    def matching(
        self, factor: Factor, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return the template that a finger or a face is most like, and like enough, among
        everybody's or one cardholder's, with its cardholder; None where there is none.
        """
        return self._templates[factor].matching(sample, policy, holder)

    def uses_of(self, card: Card) -> int:
        """Return how often a card opened something here since its limit began to count."""
        return self._uses.get(_use_key(card), 0)

    def count_use(self, card: CardKey) -> tuple[CardKey, int, int] | None:
        """Count that a card opened something, if it has a limit: gives it, since when (seconds),
        and how often.
        """
        known = self.holder_of_card.get(card)
        if known is None or known[0].limit is None:
            return None
        key = _use_key(known[0])
        self._uses[key] = self._uses.get(key, 0) + 1
        return *key, self._uses[key]

    def know_uses(self, uses: Iterable[tuple[CardKey, int, int]]) -> None:
        """Take the uses that were counted before, as `count_use` gave them."""
        self._uses = {(card, since): count for card, since, count in uses}

    def template_count_without(self, holder_id: int) -> int:
        """Return how many templates are held of everybody else."""
        holder = self._holders.get(holder_id)
        templates = (*holder.fingers, *holder.faces) if holder else ()
        theirs = sum(bool(template.record) for template in templates)
        return sum(len(templates) for templates in self._templates.values()) - theirs

    @property
    def schedule_count(self) -> int:
        return len(self.plan.schedules)

    @property
    def holder_count(self) -> int:
        return len(self._holders)

    def has(self, key: RecordKey) -> bool:
        return key.kind is RecordKind.CARDHOLDER and key.id in self._holders


def _use_key(card: Card) -> tuple[CardKey, int]:
    return card.key, int(card.limit.since.timestamp()) if card.limit else 0

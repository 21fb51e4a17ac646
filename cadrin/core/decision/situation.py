"""One read as it stands now: who presents what at which reader, and what Cadrin knows of them."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.biometric import Biometric, Sample
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory, cards_kept
from cadrin.core.credentials.factors import ANY_CARD, Evidence, Factor, ReaderPolicy
from cadrin.core.credentials.pin.hashing import PinAtDoors
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.decide import decide
from cadrin.core.decision.verdict import Verdict
from cadrin.core.doors.state import NOBODY_THERE, Snapshot

_DOORS = PinAtDoors("00" * 32)
_ANOTHER = Holder(-1, "", "")
_RIGHT, _WRONG = "1", "2"
"""What stands for the digits: which PIN was typed is known, never what it is."""
NOBODYS = -1
"""A finger or a face that matches no template."""


@dataclass(frozen=True, slots=True)
class Presented:
    """What somebody presents at a reader. ``pin_id`` is the PIN that is typed; None while it is a
    wrong one. ``finger`` and ``face`` are the id of the template that was matched, `NOBODYS` for
    one that matches none, None where there was none.
    """

    reader_id: int
    read: RawRead | None = None
    is_typed: bool = False
    pin_id: int | None = None
    plate: str | None = None
    finger: int | None = None
    face: int | None = None

    @property
    def is_pin_alone(self) -> bool:
        return (self.read, self.plate, self.finger, self.face) == (None, None, None, None)

    def biometric(self, factor: Factor) -> int | None:
        return self.finger if factor is Factor.FINGER else self.face

    def with_biometric(self, factor: Factor, shown: int | None) -> "Presented":
        """Return the same with another finger or face, or with none."""
        if factor is Factor.FINGER:
            return replace(self, finger=shown)
        return replace(self, face=shown)


@dataclass(frozen=True, slots=True)
class Situation:
    """Who would be let in by what, where: everything that a decision is made from, as Cadrin knows
    it.

    ``holder`` is whose the credentials are, None for nobody's. ``memory`` is that of the controller
    at the door, ``house`` what doors and people did before.
    ``is_free`` says whether the card may be issued as it is, ``is_plate_of_another``
    that the plate is somebody else's.
    """

    presented: Presented
    plan: Plan
    holder: Holder | None
    memory: Memory = ANY_MEMORY
    is_free: bool = True
    is_plate_of_another: bool = False
    house: Snapshot = NOBODY_THERE

    @property
    def policy(self) -> ReaderPolicy:
        return self.plan.policy_of_reader.get(self.presented.reader_id, ANY_CARD)


@dataclass(frozen=True, slots=True)
class _Records:
    """What the controller would hold of one cardholder, for `decide`."""

    plan: Plan
    holder_of_card: Mapping[CardKey, tuple[Card, Holder]] = field(default_factory=dict)
    holder_of_pin: Mapping[str, tuple[Pin, Holder]] = field(default_factory=dict)
    holder_of_plate: Mapping[str, tuple[Plate, Holder]] = field(default_factory=dict)

    holder: Holder | None = None
    holder_of_bits: Mapping[int, tuple[Card, Holder]] = field(default_factory=dict)

    def matching(
        self, factor: Factor, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return whose template it is: which one was matched is known, never what it looks like."""
        if self.holder is None:
            return None
        for template in self.holder.biometrics(factor):
            if template.id == sample and not template.is_suspended:  # doors do not hold such a one
                return template, self.holder
        return None

    def uses_of(self, card: Card) -> int:
        return 0  # Cadrin's own count is of all memories


def verdict_in(situation: Situation, at: datetime) -> Verdict:
    """Decide what was presented, with digits that stand for the PIN that was typed."""
    presented, holder = situation.presented, situation.holder
    plan = replace(situation.plan, pins=_DOORS)
    records = _Records(plan)
    if holder is not None:
        known = tuple(
            replace(
                pin, hash=_DOORS.hashes(_RIGHT)[0] if pin.id == presented.pin_id else f"{pin.id}"
            )
            for pin in holder.pins
        )
        holder = replace(holder, cards=cards_kept(holder.cards, situation.memory), pins=known)
        if holder.id in situation.memory.without_templates:
            holder = replace(holder, fingers=(), faces=())
        records = _Records(
            plan,
            {card.key: (card, holder) for card in holder.cards},
            {pin.hash: (pin, holder) for pin in holder.pins if pin.opens_alone},
            {plate.number: (plate, holder) for plate in holder.plates},
            holder,
        )
    if situation.is_plate_of_another and presented.plate:
        another = (Plate(presented.plate), _ANOTHER)
        records = replace(
            records, holder_of_plate={presented.plate: another, **records.holder_of_plate}
        )
    typed = (_WRONG if presented.pin_id is None else _RIGHT) if presented.is_typed else None
    return decide(
        Evidence(presented.read, typed, presented.plate, presented.finger, presented.face),
        presented.reader_id,
        at,
        records,
        situation.house,
    )

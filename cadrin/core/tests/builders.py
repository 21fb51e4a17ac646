"""Valid things with one name each; a test says only what it is about."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from itertools import product
from random import Random

from hypothesis import strategies as st

from cadrin.core.access.plan import AccessGroup, Holder, Membership, Plan, Way
from cadrin.core.credentials.biometric import AGAINST_A_FINGER, Biometric
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers, RawRead
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import Evidence, Factor, Factors, PolicyHours, ReaderPolicy
from cadrin.core.credentials.finger.iso_record import FingerView
from cadrin.core.credentials.finger.minutiae import Minutia, MinutiaKind
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.hashing import PinAtDoors
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.situation import NOBODYS
from cadrin.core.doors.rules import DoorRules, Ordered
from cadrin.core.holidays import Holiday, SpecialHours
from cadrin.core.records.biometrics import record_of_finger, sample_of
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.schedules import MINUTES_A_DAY, Hours, Schedule, round_the_clock
from cadrin.core.validity import ALWAYS, Span, Standing

LONDON = "Europe/London"
MONDAY_NOON = datetime(2026, 6, 1, 12, 0, tzinfo=UTC)
"""13:00 on the wall in London."""

OFFICE = Schedule(LONDON, tuple(Hours(day, 8 * 60, 18 * 60) for day in range(5)))
ALWAYS_OPEN, OFFICE_HOURS = 1, 2
EVERYWHERE, LAB, NOWHERE = 1, 2, 3
FRONT, LAB_DOOR, STORE = 10, 11, 12
FRONT_READER, LAB_READER, STORE_READER = 100, 101, 102


class Asks:
    """What readers ask for."""

    CARD: tuple[Factors, ...] = ((Factor.CARD,),)
    PIN: tuple[Factors, ...] = ((Factor.PIN,),)
    CARD_OR_PIN: tuple[Factors, ...] = (*CARD, *PIN)
    CARD_AND_PIN: tuple[Factors, ...] = ((Factor.CARD, Factor.PIN),)
    PLATE: tuple[Factors, ...] = ((Factor.PLATE,),)
    CARD_OR_PLATE: tuple[Factors, ...] = (*CARD, *PLATE)
    PLATE_AND_PIN: tuple[Factors, ...] = ((Factor.PLATE, Factor.PIN),)
    CARD_AND_PLATE: tuple[Factors, ...] = ((Factor.CARD, Factor.PLATE),)
    PIN_OR_CARD_AND_PLATE: tuple[Factors, ...] = (*PIN, *CARD_AND_PLATE)
    FINGER: tuple[Factors, ...] = ((Factor.FINGER,),)
    CARD_AND_FINGER: tuple[Factors, ...] = ((Factor.CARD, Factor.FINGER),)
    FINGER_AND_PIN: tuple[Factors, ...] = ((Factor.FINGER, Factor.PIN),)
    TWO_OF_THREE: tuple[Factors, ...] = (
        (Factor.CARD, Factor.FINGER),
        (Factor.CARD, Factor.PIN),
        (Factor.FINGER, Factor.PIN),
    )
    EVERY = (
        CARD, PIN, CARD_OR_PIN, CARD_AND_PIN, PLATE, CARD_OR_PLATE, PLATE_AND_PIN, CARD_AND_PLATE,
        PIN_OR_CARD_AND_PLATE, FINGER, CARD_AND_FINGER, FINGER_AND_PIN, TWO_OF_THREE,
    )  # fmt: skip


PINS = PinAtDoors("5a" * 32, max_attempts=3, lockout_seconds=60, duress=DuressRule.LAST_DIGIT_UP)
TYPED = {1: "481509", 2: "270613"}
"""What a PIN of each id is."""


def a_plan(policies: dict[int, ReaderPolicy] | None = None) -> Plan:
    """Three doors; group EVERYWHERE opens the front always, LAB two doors in office hours, NOWHERE
    none.

    Their readers take any card, unless ``policies`` says otherwise.
    """
    return Plan(
        schedules={ALWAYS_OPEN: round_the_clock(LONDON), OFFICE_HOURS: OFFICE},
        groups={
            EVERYWHERE: AccessGroup(EVERYWHERE, "Everywhere", {FRONT: (ALWAYS_OPEN,)}),
            LAB: AccessGroup(LAB, "Lab", {LAB_DOOR: (OFFICE_HOURS,), FRONT: (OFFICE_HOURS,)}),
            NOWHERE: AccessGroup(NOWHERE, "Nowhere", {}),
        },
        formats={1: STANDARD_26_BIT},
        door_of_reader={FRONT_READER: FRONT, LAB_READER: LAB_DOOR, STORE_READER: STORE},
        policy_of_reader=policies or {},
        pins=PINS,
    )


def a_card(number: int = 4751, status: CardStatus = CardStatus.ISSUED, span: Span = ALWAYS) -> Card:
    return Card(CardKey(1, 12, number), status, span)


def a_pin(id_: int = 1, *, opens_alone: bool = False, span: Span = ALWAYS) -> Pin:
    return Pin(id_, PINS.hashes(TYPED[id_])[0], opens_alone, span)


def _random_minutiae(seed: int) -> tuple[Minutia, ...]:
    random = Random(f"finger {seed}")
    return tuple(
        Minutia(
            MinutiaKind.ENDING,
            random.randrange(100, 300),
            random.randrange(100, 350),
            n * 37 % 256,
            80,
        )
        for n in range(40)
    )


LAID = {id_: FingerTemplate(400, 500, _random_minutiae(id_), 80) for id_ in (1, 2, NOBODYS)}
"""What a finger of each id is, and one that is nobody's."""
SAMPLES = {id_: sample_of(template) for id_, template in LAID.items()}


def a_finger(
    id_: int = 1,
    *,
    agreed: Span = ALWAYS,
    span: Span = ALWAYS,
    is_suspended: bool = False,
    is_duress: bool = False,
) -> Biometric:
    record = record_of_finger(FingerView(Finger.RIGHT_INDEX, LAID[id_]))
    return Biometric(
        id_, "" if is_suspended else record, AGAINST_A_FINGER, agreed, span, is_suspended, is_duress
    )


def a_holder(
    *,
    id_: int = 1,
    standing: Standing = Standing.ACTIVE,
    span: Span = ALWAYS,
    suspended_until: datetime | None = None,
    cards: tuple[Card, ...] = (a_card(),),
    memberships: tuple[Membership, ...] = (Membership(EVERYWHERE), Membership(LAB)),
    pins: tuple[Pin, ...] = (),
    plates: tuple[Plate, ...] = (),
    fingers: tuple[Biometric, ...] = (),
    card_alone: Span | None = None,
) -> Holder:
    return Holder(
        id_,
        f"S-{id_}",
        f"Holder {id_}",
        standing,
        span,
        suspended_until,
        cards,
        memberships,
        pins,
        plates,
        fingers=fingers,
        card_alone=card_alone,
    )


def a_read(card: Card) -> RawRead:
    return STANDARD_26_BIT.encode(CardNumbers(card.key.facility_code, card.key.card_number))


def held(plan: Plan, *holders: Holder) -> HeldRecords:
    """Return what a controller holds after it was sent all of this."""
    records = HeldRecords()
    for key, body in plan_records(plan).items():
        records.put(key, body)
    for holder in holders:
        if body_of_holder := encode_cardholder(holder, plan):
            records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), body_of_holder)
    return records


def instants(around: datetime = MONDAY_NOON, days: int = 12) -> st.SearchStrategy[datetime]:
    seconds = days * 24 * 3600
    return st.integers(-seconds, seconds).map(lambda s: around + timedelta(seconds=s))


def spans(around: datetime = MONDAY_NOON) -> st.SearchStrategy[Span]:
    edge = st.none() | instants(around)
    return st.builds(Span, edge, edge)


@st.composite
def schedules(draw: st.DrawFn, zone: str = LONDON) -> Schedule:
    """Up to five windows that do not overlap: cut from one another's neighbourhood by sorting
    edges.
    """
    edges = sorted(
        draw(st.lists(st.integers(0, 7 * MINUTES_A_DAY - 1), min_size=2, max_size=10, unique=True))
    )
    pairs = list(zip(edges[::2], edges[1::2], strict=False))
    hours = []
    for start, end in pairs:
        day, minute = divmod(start, MINUTES_A_DAY)
        hours.append(Hours(day, minute, minute + min(end - start, MINUTES_A_DAY)))
    return Schedule(zone, tuple(hours))


def holiday_hours() -> st.SearchStrategy[SpecialHours]:
    """Holidays about the Monday at noon, whole days and parts of them, that close or open."""
    days = st.builds(
        lambda first, length, kind, part: Holiday(
            first, first + timedelta(days=length), kind, False, *part
        ),
        st.dates(date(2026, 5, 20), date(2026, 6, 12)),
        st.integers(0, 3),
        st.integers(1, 2),
        st.sampled_from([(0, MINUTES_A_DAY), (0, 780), (780, MINUTES_A_DAY)]),
    )
    open_hours = st.sampled_from([(), ((0, MINUTES_A_DAY),), ((600, 840),)])
    kinds = st.dictionaries(st.integers(1, 2), open_hours, min_size=1)
    return st.builds(SpecialHours, st.lists(days, max_size=3).map(tuple), kinds)


def schedules_with_holidays() -> st.SearchStrategy[Schedule]:
    return st.builds(
        lambda plain, special: Schedule(plain.zone, plain.hours, special),
        schedules(),
        st.none() | holiday_hours(),
    )


def cards() -> st.SearchStrategy[Card]:
    """Cards of three numbers, some with hours of their own, a use limit, or an end of their
    suspension.
    """
    return st.builds(
        replace,
        st.builds(a_card, st.integers(1, 3), st.sampled_from(CardStatus), spans()),
        suspended_until=st.none() | instants(),
        hours=st.none() | schedules_with_holidays(),
        limit=st.none()
        | st.builds(UseLimit, st.integers(1, 3), instants(), st.just((("north", 2),))),
    )


def pins() -> st.SearchStrategy[Pin]:
    return st.builds(a_pin, st.sampled_from([*TYPED]), opens_alone=st.booleans(), span=spans())


def policies() -> st.SearchStrategy[dict[int, ReaderPolicy]]:
    """What the three readers ask for, some by the hour, and all formats, the one there is, or
    another.
    """
    formats = st.sampled_from([None, frozenset({1}), frozenset({2})])
    asked = st.sampled_from(Asks.EVERY)
    hours = st.lists(st.builds(PolicyHours, schedules_with_holidays(), asked), max_size=1).map(
        tuple
    )
    policy = st.builds(ReaderPolicy, asked, formats, hours)
    return st.dictionaries(st.sampled_from([FRONT_READER, LAB_READER, STORE_READER]), policy)


def plans() -> st.SearchStrategy[Plan]:
    """The house with readers of every kind, doors that are closed at times or kept shut or open, and a
    group that may override that.
    """

    def built(
        policies: dict[int, ReaderPolicy], doors: dict[int, DoorRules], lab: AccessGroup
    ) -> Plan:
        plan = a_plan(policies)
        return replace(plan, doors=doors, groups={**plan.groups, LAB: lab})

    closing = st.builds(
        DoorRules,
        closed=st.none() | schedules_with_holidays(),
        ordered=st.none() | st.sampled_from(Ordered),
        ordered_until=st.none() | instants(),
    )
    doors = st.dictionaries(st.sampled_from([FRONT, LAB_DOOR]), closing)
    return st.builds(built, policies(), doors, groups())


def groups() -> st.SearchStrategy[AccessGroup]:
    """Group LAB, which may override what doors do, and open some of them on one way alone."""
    lab = a_plan().groups[LAB]
    places = st.sampled_from([(door_id, OFFICE_HOURS) for door_id in (FRONT, LAB_DOOR)])
    ways = st.dictionaries(places, st.sampled_from([Way.IN, Way.OUT]))
    return st.builds(
        lambda overrides, one_way: replace(lab, overrides=overrides, one_way=one_way),
        st.booleans(),
        ways,
    )


def everything_shown(holder: Holder) -> list[Evidence]:
    """Return whatever a cardholder could present, alone and together."""
    reads = [None, *(a_read(card) for card in holder.cards)]
    typed = [None, *(TYPED[pin.id] for pin in holder.pins)]
    driven = [None, *(plate.number for plate in holder.plates)]
    laid = [None, *(SAMPLES[finger.id] for finger in holder.fingers)]
    found = [Evidence(*parts) for parts in product(reads, typed, driven, laid)]
    return [evidence for evidence in found if evidence.factors]


def fingers() -> st.SearchStrategy[Biometric]:
    return st.builds(
        a_finger,
        st.sampled_from([1, 2]),
        agreed=st.builds(Span, st.none(), st.none() | instants()),
        span=spans(),
        is_suspended=st.booleans(),
        is_duress=st.booleans(),
    )


def holders(id_: int = 1) -> st.SearchStrategy[Holder]:
    return st.builds(
        a_holder,
        id_=st.just(id_),
        standing=st.sampled_from(Standing),
        span=spans(),
        suspended_until=st.none() | instants(),
        plates=st.sampled_from([(), (Plate(f"SK{id_}"),)]),
        cards=st.lists(cards(), max_size=2, unique_by=lambda card: card.key).map(tuple),
        memberships=st.lists(
            st.builds(Membership, st.sampled_from([EVERYWHERE, LAB, NOWHERE]), spans()), max_size=3
        ).map(tuple),
        pins=st.lists(pins(), max_size=2, unique_by=lambda pin: pin.id).map(tuple),
        fingers=st.lists(fingers(), max_size=2, unique_by=lambda item: item.id).map(tuple),
        card_alone=st.none() | spans(),
    )

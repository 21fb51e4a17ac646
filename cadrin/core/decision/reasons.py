"""Why a read is granted or denied: one table gives each reason, the check that failed, and the
remedies for it.
"""

from collections.abc import Mapping
from enum import StrEnum
from typing import NamedTuple


class Reason(StrEnum):
    """Why a read was granted or denied: exactly one for each verdict."""

    GRANTED = "granted"
    UNKNOWN_READER = "unknown_reader"
    NO_WAY_IN = "no_way_in"
    CARD_NOT_TAKEN = "card_not_taken"
    PIN_NOT_TAKEN = "pin_not_taken"
    PLATE_NOT_TAKEN = "plate_not_taken"
    FINGER_NOT_TAKEN = "finger_not_taken"
    FACE_NOT_TAKEN = "face_not_taken"
    KEYPAD_LOCKED = "keypad_locked"
    FORMAT_NOT_READ = "format_not_read"
    WRONG_LENGTH = "wrong_length"
    WRONG_PARITY = "wrong_parity"
    CARD_MISSING = "card_missing"
    UNKNOWN_CARD = "unknown_card"
    CARD_PENDING = "card_pending"
    CARD_EXPIRED = "card_expired"
    CARD_SUSPENDED = "card_suspended"
    CARD_LOST = "card_lost"
    CARD_STOLEN = "card_stolen"
    CARD_DAMAGED = "card_damaged"
    CARD_NOT_ISSUED = "card_not_issued"
    CARD_SUPERSEDED = "card_superseded"
    CARD_USED_UP = "card_used_up"
    CARD_OUTSIDE_HOURS = "card_outside_hours"
    UNKNOWN_PLATE = "unknown_plate"
    PLATE_MISSING = "plate_missing"
    PLATE_OF_ANOTHER = "plate_of_another"
    UNKNOWN_FINGER = "unknown_finger"
    FINGER_MISSING = "finger_missing"
    FINGER_OF_ANOTHER = "finger_of_another"
    FINGER_WITHOUT_CONSENT = "finger_without_consent"
    FINGER_SUSPENDED = "finger_suspended"
    FINGER_PENDING = "finger_pending"
    FINGER_EXPIRED = "finger_expired"
    UNKNOWN_FACE = "unknown_face"
    FACE_MISSING = "face_missing"
    FACE_OF_ANOTHER = "face_of_another"
    FACE_WITHOUT_CONSENT = "face_without_consent"
    FACE_SUSPENDED = "face_suspended"
    FACE_PENDING = "face_pending"
    FACE_EXPIRED = "face_expired"
    PIN_MISSING = "pin_missing"
    PIN_WRONG = "pin_wrong"
    PIN_EXPIRED = "pin_expired"
    CARDHOLDER_PENDING = "cardholder_pending"
    CARDHOLDER_EXPIRED = "cardholder_expired"
    CARDHOLDER_SUSPENDED = "cardholder_suspended"
    CARDHOLDER_BARRED = "cardholder_barred"
    CARDHOLDER_DEPARTED = "cardholder_departed"
    NO_MEMBERSHIP = "no_membership"
    MEMBERSHIP_PENDING = "membership_pending"
    MEMBERSHIP_EXPIRED = "membership_expired"
    OUTSIDE_HOURS = "outside_hours"
    DOOR_CLOSED = "door_closed"
    DOOR_KEPT_SHUT = "door_kept_shut"
    PASSED_BACK = "passed_back"
    AREA_FULL = "area_full"
    INTERLOCKED = "interlocked"
    SECOND_PERSON_AWAITED = "second_person_awaited"
    CONSENT_AWAITED = "consent_awaited"


class Check(StrEnum):
    """The questions a decision asks, in this order. The first that fails ends it."""

    READER = "reader"
    TAKEN = "taken"
    READ = "read"
    CARD_KNOWN = "card_known"
    CARD_IN_FORCE = "card_in_force"
    PLATE = "plate"
    FINGER = "finger"
    FACE = "face"
    PIN = "pin"
    CARDHOLDER_IN_FORCE = "cardholder_in_force"
    MEMBERSHIP = "membership"
    HOURS = "hours"
    DOOR_LETS_IN = "door_lets_in"
    PASSBACK = "passback"
    ROOM = "room"
    INTERLOCK = "interlock"
    SECOND_PERSON = "second_person"
    CONSENT = "consent"


OF_A_DOORS_OWN = frozenset(
    {
        Check.DOOR_LETS_IN,
        Check.PASSBACK,
        Check.ROOM,
        Check.INTERLOCK,
        Check.SECOND_PERSON,
        Check.CONSENT,
    }
)
"""Asked only at doors that have such a rule."""


class Act(StrEnum):
    """What an operator, or whoever stands at the door, can do about a denied read."""

    ISSUE_CARD = "issue_card"
    CARD_STATUS = "card_status"
    CARD_DATES = "card_dates"
    CARD_USES = "card_uses"
    CARD_HOURS = "card_hours"
    RETURN_A_CARD = "return_a_card"
    SHOW_CARD = "show_card"
    TYPE_PIN = "type_pin"
    SET_PIN = "set_pin"
    SHOW_PLATE = "show_plate"
    SET_PLATE = "set_plate"
    LAY_FINGER = "lay_finger"
    ENROL_FINGER = "enrol_finger"
    FINGER_TERMS = "finger_terms"
    SHOW_FACE = "show_face"
    ENROL_FACE = "enrol_face"
    FACE_TERMS = "face_terms"
    BY_CARD_ALONE = "by_card_alone"
    READER_POLICY = "reader_policy"
    READER_FORMATS = "reader_formats"
    STANDING = "standing"
    DATES = "dates"
    ADD_TO_GROUP = "add_to_group"
    GROUP_DATES = "group_dates"
    CLOSED_HOURS = "closed_hours"
    END_ORDER = "end_order"
    FORGIVE = "forgive"
    MAKE_ROOM = "make_room"
    SHUT_OTHER_DOORS = "shut_other_doors"
    SECOND_PERSON = "second_person"
    LET_IN = "let_in"


class ReasonFacts(NamedTuple):
    """The check that fails, what may be done about it, and whether a controller whose clock is
    wrong says it too.
    """

    check: Check
    remedies: tuple[Act, ...] = ()
    is_of_a_clock: bool = False


_FINGER = (Act.LAY_FINGER, Act.ENROL_FINGER, Act.BY_CARD_ALONE)
_FACE = (Act.SHOW_FACE, Act.ENROL_FACE, Act.BY_CARD_ALONE)
_ANOTHER_FACTOR = (
    Act.SHOW_CARD,
    Act.TYPE_PIN,
    Act.SHOW_PLATE,
    Act.LAY_FINGER,
    Act.SHOW_FACE,
    Act.READER_POLICY,
)
_PIN = (Act.SHOW_CARD, Act.TYPE_PIN, Act.SET_PIN)
_GROUP = (Act.GROUP_DATES, Act.ADD_TO_GROUP)


def _another_than(act: Act, *also: Act) -> tuple[Act, ...]:
    return (*also, *(other for other in _ANOTHER_FACTOR if other is not act))


REASONS: Mapping[Reason, ReasonFacts] = {
    Reason.UNKNOWN_READER: ReasonFacts(Check.READER),
    Reason.NO_WAY_IN: ReasonFacts(Check.READER),
    Reason.CARD_NOT_TAKEN: ReasonFacts(
        Check.TAKEN, _another_than(Act.SHOW_CARD, Act.BY_CARD_ALONE)
    ),
    Reason.PIN_NOT_TAKEN: ReasonFacts(Check.TAKEN, _another_than(Act.TYPE_PIN)),
    Reason.PLATE_NOT_TAKEN: ReasonFacts(Check.TAKEN, _another_than(Act.SHOW_PLATE)),
    Reason.FINGER_NOT_TAKEN: ReasonFacts(Check.TAKEN, _another_than(Act.LAY_FINGER)),
    Reason.FACE_NOT_TAKEN: ReasonFacts(Check.TAKEN, _another_than(Act.SHOW_FACE)),
    Reason.KEYPAD_LOCKED: ReasonFacts(Check.TAKEN),
    Reason.FORMAT_NOT_READ: ReasonFacts(Check.READ, (Act.READER_FORMATS,)),
    Reason.WRONG_LENGTH: ReasonFacts(Check.READ),
    Reason.WRONG_PARITY: ReasonFacts(Check.READ),
    Reason.CARD_MISSING: ReasonFacts(Check.CARD_KNOWN, (Act.SHOW_CARD, Act.READER_POLICY)),
    Reason.UNKNOWN_CARD: ReasonFacts(
        Check.CARD_KNOWN,
        (
            Act.ISSUE_CARD,
            Act.CARD_STATUS,
            Act.CARD_DATES,
            Act.CARD_USES,
            Act.RETURN_A_CARD,
            Act.SHOW_PLATE,
        ),
    ),
    Reason.CARD_PENDING: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_DATES,), is_of_a_clock=True),
    Reason.CARD_EXPIRED: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_DATES,), is_of_a_clock=True),
    Reason.CARD_SUSPENDED: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_STATUS,)),
    Reason.CARD_LOST: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_STATUS,)),
    Reason.CARD_STOLEN: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_STATUS,)),
    Reason.CARD_DAMAGED: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_STATUS,)),
    Reason.CARD_NOT_ISSUED: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_STATUS,)),
    Reason.CARD_SUPERSEDED: ReasonFacts(Check.CARD_IN_FORCE),
    Reason.CARD_USED_UP: ReasonFacts(Check.CARD_IN_FORCE, (Act.CARD_USES,)),
    Reason.CARD_OUTSIDE_HOURS: ReasonFacts(
        Check.CARD_IN_FORCE, (Act.CARD_HOURS,), is_of_a_clock=True
    ),
    Reason.UNKNOWN_PLATE: ReasonFacts(Check.PLATE, (Act.SHOW_PLATE, Act.SHOW_CARD, Act.SET_PLATE)),
    Reason.PLATE_MISSING: ReasonFacts(Check.PLATE, (Act.SHOW_PLATE, Act.SET_PLATE)),
    Reason.PLATE_OF_ANOTHER: ReasonFacts(Check.PLATE, (Act.SHOW_PLATE, Act.SHOW_CARD)),
    Reason.UNKNOWN_FINGER: ReasonFacts(Check.FINGER, (*_FINGER, Act.SHOW_CARD)),
    Reason.FINGER_MISSING: ReasonFacts(Check.FINGER, _FINGER),
    Reason.FINGER_OF_ANOTHER: ReasonFacts(Check.FINGER, _FINGER),
    Reason.FINGER_WITHOUT_CONSENT: ReasonFacts(Check.FINGER, _FINGER, is_of_a_clock=True),
    Reason.FINGER_SUSPENDED: ReasonFacts(Check.FINGER, (Act.FINGER_TERMS, *_FINGER)),
    Reason.FINGER_PENDING: ReasonFacts(
        Check.FINGER, (Act.FINGER_TERMS, *_FINGER), is_of_a_clock=True
    ),
    Reason.FINGER_EXPIRED: ReasonFacts(
        Check.FINGER, (Act.FINGER_TERMS, *_FINGER), is_of_a_clock=True
    ),
    Reason.UNKNOWN_FACE: ReasonFacts(Check.FACE, (*_FACE, Act.SHOW_CARD)),
    Reason.FACE_MISSING: ReasonFacts(Check.FACE, _FACE),
    Reason.FACE_OF_ANOTHER: ReasonFacts(Check.FACE, _FACE),
    Reason.FACE_WITHOUT_CONSENT: ReasonFacts(Check.FACE, _FACE, is_of_a_clock=True),
    Reason.FACE_SUSPENDED: ReasonFacts(Check.FACE, (Act.FACE_TERMS, *_FACE)),
    Reason.FACE_PENDING: ReasonFacts(Check.FACE, (Act.FACE_TERMS, *_FACE), is_of_a_clock=True),
    Reason.FACE_EXPIRED: ReasonFacts(Check.FACE, (Act.FACE_TERMS, *_FACE), is_of_a_clock=True),
    Reason.PIN_MISSING: ReasonFacts(Check.PIN, _PIN),
    Reason.PIN_WRONG: ReasonFacts(Check.PIN, _PIN),
    Reason.PIN_EXPIRED: ReasonFacts(Check.PIN, _PIN, is_of_a_clock=True),
    Reason.CARDHOLDER_PENDING: ReasonFacts(
        Check.CARDHOLDER_IN_FORCE, (Act.DATES,), is_of_a_clock=True
    ),
    Reason.CARDHOLDER_EXPIRED: ReasonFacts(
        Check.CARDHOLDER_IN_FORCE, (Act.DATES,), is_of_a_clock=True
    ),
    Reason.CARDHOLDER_SUSPENDED: ReasonFacts(Check.CARDHOLDER_IN_FORCE, (Act.STANDING,)),
    Reason.CARDHOLDER_BARRED: ReasonFacts(Check.CARDHOLDER_IN_FORCE, (Act.STANDING,)),
    Reason.CARDHOLDER_DEPARTED: ReasonFacts(Check.CARDHOLDER_IN_FORCE, (Act.STANDING,)),
    Reason.NO_MEMBERSHIP: ReasonFacts(Check.MEMBERSHIP, _GROUP),
    Reason.MEMBERSHIP_PENDING: ReasonFacts(Check.MEMBERSHIP, _GROUP, is_of_a_clock=True),
    Reason.MEMBERSHIP_EXPIRED: ReasonFacts(Check.MEMBERSHIP, _GROUP, is_of_a_clock=True),
    Reason.OUTSIDE_HOURS: ReasonFacts(Check.HOURS, _GROUP, is_of_a_clock=True),
    Reason.DOOR_CLOSED: ReasonFacts(
        Check.DOOR_LETS_IN, (Act.ADD_TO_GROUP, Act.CLOSED_HOURS), is_of_a_clock=True
    ),
    Reason.DOOR_KEPT_SHUT: ReasonFacts(Check.DOOR_LETS_IN, (Act.ADD_TO_GROUP, Act.END_ORDER)),
    Reason.PASSED_BACK: ReasonFacts(Check.PASSBACK, (Act.FORGIVE,)),
    Reason.AREA_FULL: ReasonFacts(Check.ROOM, (Act.MAKE_ROOM,)),
    Reason.INTERLOCKED: ReasonFacts(Check.INTERLOCK, (Act.SHUT_OTHER_DOORS,)),
    Reason.SECOND_PERSON_AWAITED: ReasonFacts(Check.SECOND_PERSON, (Act.SECOND_PERSON,)),
    Reason.CONSENT_AWAITED: ReasonFacts(Check.CONSENT, (Act.LET_IN,)),
}
"""Every reason but granted, which no check ends with."""

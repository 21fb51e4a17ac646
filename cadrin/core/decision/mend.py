"""Where a denial is mended: the part of the work that would have to change."""

from enum import StrEnum

from cadrin.core.access.rights import Reason


class Mend(StrEnum):
    NOTHING = "nothing"
    SHOW_AGAIN = "show_again"
    USE_CARD = "use_card"
    CARDS = "cards"
    PINS = "pins"
    READERS = "readers"
    STANDING = "standing"
    VALIDITY = "validity"
    ACCESS = "access"
    DELIVERY = "delivery"


MEND_OF_REASON = {
    Reason.GRANTED: Mend.NOTHING,
    Reason.UNKNOWN_READER: Mend.DELIVERY,
    Reason.NO_WAY_IN: Mend.READERS,
    Reason.WRONG_LENGTH: Mend.SHOW_AGAIN,
    Reason.WRONG_PARITY: Mend.SHOW_AGAIN,
    Reason.UNKNOWN_CARD: Mend.USE_CARD,
    Reason.CARD_PENDING: Mend.CARDS,
    Reason.CARD_EXPIRED: Mend.CARDS,
    Reason.CARD_SUSPENDED: Mend.CARDS,
    Reason.CARD_LOST: Mend.CARDS,
    Reason.CARD_STOLEN: Mend.CARDS,
    Reason.CARD_DAMAGED: Mend.CARDS,
    Reason.CARD_NOT_ISSUED: Mend.CARDS,
    Reason.CARD_SUPERSEDED: Mend.CARDS,
    Reason.CARD_USED_UP: Mend.CARDS,
    Reason.CARD_OUTSIDE_HOURS: Mend.CARDS,
    Reason.CARD_NOT_TAKEN: Mend.READERS,
    Reason.FORMAT_NOT_READ: Mend.READERS,
    Reason.PIN_NOT_TAKEN: Mend.READERS,
    Reason.PIN_MISSING: Mend.PINS,
    Reason.PIN_WRONG: Mend.PINS,
    Reason.PIN_EXPIRED: Mend.PINS,
    Reason.KEYPAD_RESTS: Mend.SHOW_AGAIN,
    Reason.CARDHOLDER_PENDING: Mend.VALIDITY,
    Reason.CARDHOLDER_EXPIRED: Mend.VALIDITY,
    Reason.CARDHOLDER_SUSPENDED: Mend.STANDING,
    Reason.CARDHOLDER_BARRED: Mend.STANDING,
    Reason.CARDHOLDER_DEPARTED: Mend.STANDING,
    Reason.NO_MEMBERSHIP: Mend.ACCESS,
    Reason.MEMBERSHIP_PENDING: Mend.ACCESS,
    Reason.MEMBERSHIP_EXPIRED: Mend.ACCESS,
    Reason.OUTSIDE_HOURS: Mend.ACCESS,
}

"""The state of a record at a controller, and what becomes of it: one table for each thing that can
happen.
"""

from collections.abc import Mapping
from enum import StrEnum
from typing import NamedTuple


class RecordState(StrEnum):
    """How far a record has come; only held is done."""

    WAITING = "waiting"
    SENT = "sent"
    HELD = "held"
    REFUSED = "refused"
    ADRIFT = "adrift"


TO_BE_SENT = (RecordState.WAITING, RecordState.SENT, RecordState.ADRIFT)


class RecordAt(NamedTuple):
    """A record at one controller: the digest it should have there and the one it was confirmed
    with; empty is none.

    ``is_withdrawal`` says that it takes something away, until the controller confirmed it.
    """

    wanted: str
    confirmed: str
    state: RecordState
    is_withdrawal: bool = False

    @property
    def is_gone(self) -> bool:
        """Whether it neither should be there nor is: nothing is left to say of it."""
        return self.state is RecordState.HELD and not self.wanted


def after_change(record: RecordAt, wanted: str, *, is_withdrawal: bool) -> RecordAt:
    """Return a record of which another content is wanted now.

    What was sent and not confirmed may have arrived: only an answer can tell, so it is sent again.
    """
    is_held = bool(wanted) and wanted == record.confirmed and record.state is not RecordState.SENT
    takes_away = not is_held and (is_withdrawal or record.is_withdrawal or not wanted)
    return RecordAt(
        wanted, record.confirmed, RecordState.HELD if is_held else RecordState.WAITING, takes_away
    )


def after_answer(record: RecordAt, confirmed: str) -> RecordAt:
    """Return a record of which the controller said what it holds after it was sent; empty when it
    was removed.
    """
    is_held = record.wanted == confirmed
    state = RecordState.HELD if is_held else RecordState.WAITING
    return RecordAt(record.wanted, confirmed, state, record.is_withdrawal and not is_held)


def after_refusal(record: RecordAt, sent: str) -> RecordAt:
    """Return a record that the controller did not take; one that was changed since it was sent
    waits anyway.
    """
    return record._replace(state=RecordState.REFUSED) if record.wanted == sent else record


def without_place(record: RecordAt) -> RecordAt:
    """Return a record for which the controller has no room, as others are more important; an older
    one that is there goes on opening doors until it is removed.
    """
    return record._replace(state=RecordState.REFUSED, is_withdrawal=bool(record.confirmed))


def with_place(record: RecordAt) -> RecordAt:
    """Return a record for which there is room now."""
    return record._replace(state=RecordState.WAITING)


AMISS: Mapping[RecordState, RecordState] = {
    RecordState.WAITING: RecordState.WAITING,
    RecordState.SENT: RecordState.WAITING,
    RecordState.HELD: RecordState.ADRIFT,
    RecordState.REFUSED: RecordState.WAITING,
    RecordState.ADRIFT: RecordState.WAITING,
}
"""What a record is that is not there as it should be: it was, and drifted, or it is still on its
way.
"""


def after_comparison(record: RecordAt, held: str) -> RecordAt:
    """Return a record of which a comparison of everything said what is there; empty when it is not.

    What is there in place of what should be may open doors: it is withdrawn before everything that
    waits.
    """
    if held and held == record.wanted:
        return RecordAt(record.wanted, held, RecordState.HELD)
    state = AMISS[record.state]
    opens = bool(held) and state is RecordState.ADRIFT
    takes_away = (record.is_withdrawal or opens) and held != record.wanted
    return RecordAt(record.wanted, held, state, takes_away)


def found_astray(held: str) -> RecordAt:
    """Return a record that a controller holds and nobody sent: it may open doors that nobody meant
    to open.
    """
    return RecordAt("", held, RecordState.ADRIFT, is_withdrawal=True)

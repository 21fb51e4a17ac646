"""In what order records are sent: withdrawals first, then each kind after those it leans on."""

from typing import NamedTuple

from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import TO_BE_SENT, RecordState

KINDS = tuple(RecordKind)


class Stage(NamedTuple):
    """Records that are sent together, before those of the next stage: puts, removals, or (None)
    both.
    """

    kind: RecordKind
    states: tuple[RecordState, ...] = TO_BE_SENT
    is_put: bool | None = None
    is_withdrawal: bool | None = None
    is_there: bool | None = None
    """Whether the controller holds an older one."""

    @property
    def may_wait(self) -> bool:
        """Say whether these may be held back: people's records that give something. What takes away
        never waits, nor do doors, hours and groups, which others may lose by.
        """
        return self.kind is RecordKind.CARDHOLDER and self.is_put is True


ORDER_OF_SENDING = (
    # refused, and takes something away: the older one that is there is removed, as it would go on
    # opening doors
    Stage(RecordKind.CARDHOLDER, (RecordState.REFUSED,), is_withdrawal=True, is_there=True),
    # what is taken away goes before everything that waits
    Stage(RecordKind.CARDHOLDER, is_withdrawal=True),
    Stage(RecordKind.GROUP, is_put=False),
    # each kind after those it leans on; removing goes the other way round
    *(Stage(kind, is_put=True) for kind in KINDS),
    *(Stage(kind, is_put=False) for kind in reversed(KINDS)),
)
"""The stages, in order; the first that has any records is sent next."""

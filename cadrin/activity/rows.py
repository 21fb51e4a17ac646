"""Rows of the record of reads, as many as controllers tell at once."""

from collections.abc import Iterable
from dataclasses import dataclass, fields
from datetime import datetime
from operator import attrgetter

from cadrin.activity.models import Read
from cadrin.config.database.inserting import insert_rows
from cadrin.core.credentials.factors import Factor


@dataclass(slots=True, kw_only=True)
class ReadRow:
    """A read that is to be written; each field is a column of `Read`, whose object takes ten times as
    long to make.
    """

    at: datetime
    controller_id: int
    store: str
    event_number: int
    reader_id: int | None = None
    reader_name: str
    door_id: int | None = None
    raw: str = ""
    format_id: int | None = None
    facility_code: int | None = None
    card_number: int | None = None
    reason: str = ""
    factors: str = Factor.CARD.value
    plate: str = ""
    is_duress: bool = False
    is_watched: bool = False
    is_passed_back: bool = False
    happening: str = ""
    group_name: str = ""
    opens_at: datetime | None = None
    cardholder_id: int | None = None
    cardholder_name: str = ""
    clock_off_seconds: int | None = None
    unreadable: str = ""


_COLUMNS = tuple(one.name for one in fields(ReadRow))


def write_reads(rows: Iterable[ReadRow]) -> None:
    """Write reads in this order; one that was written before is passed over. The caller holds the
    transaction.
    """
    insert_rows(Read, _COLUMNS, map(attrgetter(*_COLUMNS), rows), but_known=True)

"""A house whose controllers hold everything: as it is on every day but the first."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

_RECORDS = """
    INSERT INTO delivery_record
        (controller_id, kind, subject_id, wanted, confirmed, state, refusal, changed_at, is_withdrawal)
    SELECT controller_id, 'cardholder', cardholder_id, digest, digest, 'held', '', :at, 0
    FROM (SELECT controller_id, cardholder_id, printf('%032x', cardholder_id) AS digest
          FROM (SELECT DISTINCT door.controller_id, member.cardholder_id
                FROM access_membership member
                JOIN access_grant granted ON granted.group_id = member.group_id
                JOIN sites_door door ON door.id = granted.door_id
                JOIN credentials_card card ON card.holder_id = member.cardholder_id))
    """
_LINKS = """
    INSERT INTO delivery_link (controller_id, answered_at, turned_at, failure, clock_off_seconds, capacity,
        without_templates, store, last_event, must_compare, must_set_clock, is_clock_kept, is_paused,
        forged, replayed)
    SELECT id, :at, :at, '', 0, 200000, '[]', 'memory', 0, 0, 0, 0, 0, 0, 0
    FROM sites_controller WHERE NOT is_desk
    """


def hold_everything(database: Path) -> Path:
    """Write down that every controller holds everybody who belongs there: digests by number, as only
    their being there is asked for.
    """
    at = {"at": datetime.now(UTC).strftime("%Y-%m-%d %H:%M:%S")}
    with closing(sqlite3.connect(database)) as connection, connection:
        connection.execute(_RECORDS, at)
        connection.execute(_LINKS, at)
    return database

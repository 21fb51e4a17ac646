"""Bring a database from before the rooms had their names (November 2026) to where the migrations
begin.

Until then the tables of what is now `sites`, `credentials`, `enrolment` and `bulk` lay in `access`,
`cards` and `register`, and a reader had one of four modes. All of it is done in one transaction, or
nothing. Controllers are sent everything anew afterwards, as records are written otherwise now.
"""

import json
from collections.abc import Callable, Iterable
from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.migrations.loader import MigrationLoader

OLD, NEW = "cards_card", "credentials_card"
"""A table that is there exactly before, and one that is there exactly afterwards."""
TABLES = {
    "access_site": "sites_site",
    "access_area": "sites_area",
    "access_controller": "sites_controller",
    "access_door": "sites_door",
    "access_reader": "sites_reader",
    "access_reader_formats": "sites_reader_formats",
    "access_schedule": "sites_schedule",
    "access_planversion": "outbox_planversion",
    "access_keptdraft": "enrolment_keptdraft",
    "cards_cardformat": "credentials_cardformat",
    "cards_card": "credentials_card",
    "cards_carduse": "credentials_carduse",
    "cards_pin": "credentials_pin",
    "cards_formerpin": "credentials_formerpin",
    "cards_pinlist": "credentials_pinlist",
    "cards_cardsettings": "credentials_cardsettings",
    "cards_box": "credentials_box",
    "cards_keypadwait": "credentials_keypadwait",
    "cards_typedpin": "credentials_typedpin",
    "cards_letter": "credentials_letter",
    "register_batch": "bulk_bulkchange",
    "register_batchtarget": "bulk_bulktarget",
    "register_savedview": "register_savedlist",
    "people_ownfield": "people_customfield",
    "people_ownkey": "people_customfieldkey",
}
COLUMNS = (
    ("bulk_bulkchange", "takes_back_id", "undoes_id"),
    ("bulk_bulktarget", "batch_id", "bulk_change_id"),
    ("operators_operator", "kept_to", "limited_to"),
    ("operators_apitoken", "kept_to", "limited_to"),
)
STATEMENTS = (
    # what a reader asks for, instead of one of four modes
    """ALTER TABLE sites_reader ADD COLUMN policy TEXT NOT NULL DEFAULT '[["card"]]'"""
    """ CHECK ((JSON_VALID("policy") OR "policy" IS NULL))""",
    """UPDATE sites_reader SET policy = CASE mode WHEN 'pin' THEN '[["pin"]]'"""
    """ WHEN 'card_or_pin' THEN '[["card"], ["pin"]]' WHEN 'card_and_pin' THEN '[["card", "pin"]]'"""
    """ ELSE '[["card"]]' END""",
    "ALTER TABLE sites_reader DROP COLUMN mode",
    "ALTER TABLE sites_reader ADD COLUMN has_camera bool NOT NULL DEFAULT 0",
    "CREATE TABLE credentials_plate (id integer NOT NULL PRIMARY KEY AUTOINCREMENT,"
    " number varchar(12) NOT NULL UNIQUE,"
    " holder_id bigint NOT NULL REFERENCES people_cardholder (id) DEFERRABLE INITIALLY DEFERRED)",
    "CREATE INDEX credentials_plate_holder_id ON credentials_plate (holder_id)",
    # what was presented, instead of one of three words
    "ALTER TABLE activity_read ADD COLUMN factors varchar(40) NOT NULL DEFAULT 'card'",
    "UPDATE activity_read SET factors = 'pin' WHERE shown = 'pin'",
    "UPDATE activity_read SET factors = 'card,pin' WHERE shown = 'card_and_pin'",
    "ALTER TABLE activity_read DROP COLUMN shown",
    "ALTER TABLE activity_read ADD COLUMN plate varchar(20) NOT NULL DEFAULT ''",
    "UPDATE activity_read SET reason = 'keypad_locked' WHERE reason = 'keypad_rests'",
    "UPDATE bulk_bulkchange SET act = 'undo' WHERE act = 'take_back'",
    "DROP INDEX batch_target_to_do",
    "CREATE INDEX bulk_target_to_do ON bulk_bulktarget (bulk_change_id, is_done, id)",
    # every record is written otherwise now
    "INSERT INTO outbox_mark (subject, subject_id, is_withdrawal)"
    " SELECT 'controller', id, 0 FROM sites_controller",
    "INSERT INTO outbox_mark (subject, subject_id, is_withdrawal) VALUES ('group', 0, 0)",
    "UPDATE delivery_link SET must_compare = 1",
)


def _renamed(names: dict[str, str]) -> Callable[[Any], Any]:
    """Return a function that renames the fields of a value, however deep they stand."""

    def change(value: Any) -> Any:
        if isinstance(value, dict):
            return {names.get(name, name): change(inner) for name, inner in value.items()}
        return [change(inner) for inner in value] if isinstance(value, list) else value

    return change


def _with_plates(draft: Any) -> Any:
    renamed = _renamed({"is_made_up": "is_generated"})(draft)
    return {"plates": [], **renamed} if isinstance(renamed, dict) else renamed


VALUES: tuple[tuple[str, str, Callable[[Any], Any]], ...] = (
    (
        "credentials_cardsettings",
        "pin_rule",
        _renamed({"tries": "max_attempts", "rest_seconds": "lockout_seconds"}),
    ),
    (
        "register_savedlist",
        "filters",
        _renamed({"own_field": "custom_field", "own_value": "custom_value"}),
    ),
    ("enrolment_keptdraft", "base", _with_plates),
    ("enrolment_keptdraft", "draft", _with_plates),
)
"""Table and column of JSON values, and what becomes of them."""


def upgrade(connection: BaseDatabaseWrapper) -> bool:
    """Bring an old database to the present tables, and say whether it was one."""
    tables = set(connection.introspection.table_names())
    if OLD not in tables or NEW in tables:
        return False
    with connection.constraint_checks_disabled(), transaction.atomic(using=connection.alias):
        with connection.cursor() as cursor:
            for old, new in TABLES.items():
                cursor.execute(f'ALTER TABLE "{old}" RENAME TO "{new}"')
            for table, old, new in COLUMNS:
                cursor.execute(f'ALTER TABLE "{table}" RENAME COLUMN "{old}" TO "{new}"')
            for statement in STATEMENTS:
                cursor.execute(statement)
            for table, column, change in VALUES:
                cursor.execute(f'SELECT id, "{column}" FROM "{table}"')  # noqa: S608 - names of our own
                changed = [
                    (json.dumps(change(json.loads(value))), id_) for id_, value in cursor.fetchall()
                ]
                cursor.executemany(f'UPDATE "{table}" SET "{column}" = %s WHERE id = %s', changed)  # noqa: S608
            _begin_with(cursor)
        connection.check_constraints()
    return True


def _begin_with(cursor: Any) -> None:
    """Say of the first migrations of every room that they are done: the tables are as they leave
    them.
    """
    ours = [key for key in MigrationLoader(None).disk_migrations if _is_ours(key)]
    labels = {label for label, _ in ours} | {"cards"}
    cursor.executemany(
        "DELETE FROM django_migrations WHERE app = %s", [(label,) for label in sorted(labels)]
    )
    rows: Iterable[tuple[str, str, datetime]] = [
        (label, name, datetime.now(UTC)) for label, name in sorted(ours)
    ]
    cursor.executemany(
        "INSERT INTO django_migrations (app, name, applied) VALUES (%s, %s, %s)", rows
    )


ROOMS = (
    "outbox", "operators", "journal", "people", "photos", "credentials", "sites", "access",
    "activity", "enrolment",
    "delivery", "register", "bulk",
)  # fmt: skip
"""Those that begin with the tables that were there; what came later is made by its own migrations.
"""
BEGINNING = ("0001_initial", "0002_initial", "0003_never_removed_or_changed")


def _is_ours(key: tuple[str, str]) -> bool:
    label, name = key
    return label in ROOMS and name in BEGINNING

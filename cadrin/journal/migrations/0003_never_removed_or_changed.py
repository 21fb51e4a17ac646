"""The database refuses to remove entries of the journal, or to change them.

A later migration that remakes the table (SQLite does for most changes) must make the triggers again.
"""

from typing import Any

from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

CHANGED = "id, at, operator_id, operator_name, address, action, about, body_digest, digest"
"""What an entry says, and its salt, can be taken out: erasing does it, and the chain knows of it."""
ON_SQLITE = """
CREATE TRIGGER {name} BEFORE {what} ON journal_entry
BEGIN SELECT RAISE(ABORT, '{message}'); END
"""
ON_POSTGRESQL = """
CREATE OR REPLACE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS
$$ BEGIN RAISE integrity_constraint_violation USING MESSAGE = '{message}'; END $$;
CREATE TRIGGER {name} BEFORE {what} ON journal_entry FOR EACH ROW EXECUTE FUNCTION {name}();
"""


def _trigger(vendor: str, name: str, what: str, message: str) -> str:
    words = ON_POSTGRESQL if vendor == "postgresql" else ON_SQLITE
    return words.format(name=name, what=what, message=message)


def never_removed(vendor: str) -> str:
    return _trigger(
        vendor,
        "journal_entry_is_never_removed",
        "DELETE",
        "entries of the journal are never removed",
    )


def never_changed(vendor: str) -> str:
    return _trigger(
        vendor,
        "journal_entry_is_never_changed",
        f"UPDATE OF {CHANGED}",
        "entries of the journal are never changed",
    )


def make_triggers(apps: Any, schema_editor: BaseDatabaseSchemaEditor) -> None:
    for words in (never_removed, never_changed):
        schema_editor.execute(words(schema_editor.connection.vendor), params=None)


class Migration(migrations.Migration):
    dependencies = [("journal", "0002_initial")]
    operations = [migrations.RunPython(make_triggers)]

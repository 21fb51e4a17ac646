"""The database refuses to remove entries of the journal, or to change them.

A later migration that remakes the table (SQLite does for most changes) must make the triggers again.
"""

from django.db import migrations

NEVER_REMOVED = """
CREATE TRIGGER journal_entry_is_never_removed BEFORE DELETE ON journal_entry
BEGIN SELECT RAISE(ABORT, 'entries of the journal are never removed'); END
"""
NEVER_CHANGED = """
CREATE TRIGGER journal_entry_is_never_changed
BEFORE UPDATE OF id, at, operator_id, operator_name, address, action, about, body_digest, digest ON journal_entry
BEGIN SELECT RAISE(ABORT, 'entries of the journal are never changed'); END
"""
"""What an entry says, and its salt, can be taken out: erasing does it, and the chain knows of it."""


class Migration(migrations.Migration):
    dependencies = [("journal", "0002_initial")]
    operations = [
        migrations.RunSQL(NEVER_REMOVED, "DROP TRIGGER journal_entry_is_never_removed"),
        migrations.RunSQL(NEVER_CHANGED, "DROP TRIGGER journal_entry_is_never_changed"),
    ]

from pathlib import Path
from typing import Any

from django.apps import apps
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.core.management.color import no_style
from django.db import connection, connections, models, transaction
from django.db.migrations.recorder import MigrationRecorder

from cadrin.config.database.inserting import insert_rows
from cadrin.people.queries import cardholder_count

FILE = "file"
NOT_CARRIED = {"sessions", "contenttypes", "auth"}
"""What is made anew: whoever was signed in signs in again."""
ROWS_AT_ONCE = 5_000


class Command(BaseCommand):
    help = (
        "Copy everything from a database file of Cadrin into the database that CADRIN_DATABASE names, which has no"
        " cardholders yet. Stop everything that works on either first."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        if not file.is_file():
            raise CommandError(f"{file} is not there.")
        if cardholder_count():
            raise CommandError("There are cardholders in the database already; it is left alone.")
        _open(file)
        try:
            self._carry_over(file)
        finally:
            connections[FILE].close()

    def _carry_over(self, file: Path) -> None:
        there, here = (
            MigrationRecorder(one).applied_migrations() for one in (connections[FILE], connection)
        )
        if there.keys() != here.keys():
            raise CommandError(
                f"{file} is of another version: run `manage.py prepare` on it first."
            )
        carried = [
            model
            for model in apps.get_models(include_auto_created=True)
            if model._meta.app_label not in NOT_CARRIED and model._meta.managed
        ]
        with transaction.atomic():  # keys to rows that come later are looked at when it ends
            for model in reversed(carried):
                model._base_manager.all()._raw_delete(connection.alias)
            for model in carried:
                self.stdout.write(f"{model._meta.db_table}: {_copy(model)}")
            with connection.cursor() as cursor:
                for statement in connection.ops.sequence_reset_sql(no_style(), carried):
                    cursor.execute(statement)


def _open(file: Path) -> None:
    """Make the file a second database of this process, which is only read."""
    told: dict[str, Any] = {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": f"file:{file.resolve()}?mode=ro",
        "OPTIONS": {"uri": True},
    }
    connections.settings[FILE] = connections.configure_settings(
        {"default": connection.settings_dict, FILE: told}
    )[FILE]


def _copy(model: type[models.Model]) -> int:
    """Copy the rows of a table, with their ids, and return how many they are."""
    names = [field.attname for field in model._meta.concrete_fields]
    rows = model._base_manager.using(FILE).order_by("pk").values_list(*names)
    count, waiting = 0, []
    for row in rows.iterator(ROWS_AT_ONCE):
        waiting.append(row)
        if len(waiting) == ROWS_AT_ONCE:
            insert_rows(model, names, waiting)
            count, waiting = count + len(waiting), []
    insert_rows(model, names, waiting)
    return count + len(waiting)

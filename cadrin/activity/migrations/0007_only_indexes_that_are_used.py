import django.db.models.deletion
from django.db import migrations, models

UNUSED = (
    "activity_read_cardholder_id_95d461dd",
    "activity_read_controller_id_d66bd8c2",
    "activity_read_door_id_7589d519",
    "activity_read_format_id_a508f93e",
    "activity_read_reader_id_4779a89d",
)
"""The framework's indexes of foreign keys; what is asked of reads has indexes of its own."""


def _key(name: str, to: str, *, is_needed: bool = False) -> migrations.AlterField:
    on_delete = django.db.models.deletion.PROTECT if is_needed else django.db.models.deletion.SET_NULL
    field = models.ForeignKey(
        to, db_index=False, null=not is_needed, on_delete=on_delete, related_name="+"
    )
    return migrations.AlterField("read", name, field)


class Migration(migrations.Migration):
    dependencies = [
        ("activity", "0006_cards_put_aside_and_reads_by_time"),
        ("credentials", "0003_what_letters_are_about"),
        ("people", "0003_external_id"),
        ("sites", "0009_areas_drawn"),
    ]

    operations = [
        # altered one by one, the whole table would be written anew five times
        migrations.SeparateDatabaseAndState(
            [migrations.RunSQL(f'DROP INDEX IF EXISTS "{name}"', "") for name in UNUSED],
            [
                _key("cardholder", "people.cardholder"),
                _key("controller", "sites.controller", is_needed=True),
                _key("door", "sites.door"),
                _key("format", "credentials.cardformat"),
                _key("reader", "sites.reader"),
            ],
        ),
        migrations.AddIndex(
            "read",
            models.Index(
                condition=models.Q(("reason__in", ("", "unknown_card"))),
                fields=["reason", "at"],
                name="read_of_nobody",
            ),
        ),
    ]

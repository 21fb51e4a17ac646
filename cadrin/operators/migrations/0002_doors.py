"""Whoever may set up doors may also act on them; other roles are given it where a house wants that."""

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def give(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    for role in apps.get_model("operators", "Role").objects.all():
        if "set_up" in role.permissions and "doors" not in role.permissions:
            role.permissions = [*role.permissions, "doors"]
            role.save(update_fields=["permissions"])


class Migration(migrations.Migration):
    dependencies = [("operators", "0001_initial")]
    operations = [migrations.RunPython(give, migrations.RunPython.noop)]

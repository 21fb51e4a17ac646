from django.db import migrations, models

import cadrin.access.models


def give_each_a_key(apps, schema_editor):
    for controller in apps.get_model("access", "Controller").objects.filter(sealed_key=""):
        controller.sealed_key = cadrin.access.models.new_sealed_key()
        controller.save(update_fields=["sealed_key"])


class Migration(migrations.Migration):
    dependencies = [("access", "0003_what_readers_take")]

    operations = [
        # first without the default, which would give all of them the same key
        migrations.AddField("controller", "sealed_key", models.TextField(default="", editable=False)),
        migrations.RunPython(give_each_a_key, migrations.RunPython.noop),
        migrations.AlterField(
            "controller",
            "sealed_key",
            models.TextField(default=cadrin.access.models.new_sealed_key, editable=False),
        ),
    ]

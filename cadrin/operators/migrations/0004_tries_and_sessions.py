from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("operators", "0003_roles_and_accounts"),
        ("sessions", "0001_initial"),
    ]

    operations = [
        migrations.DeleteModel(name="SignInTries"),
        migrations.CreateModel(
            name="Tries",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("subject_digest", models.CharField(max_length=64, unique=True)),
                ("failures", models.PositiveIntegerField()),
                ("last_at", models.DateTimeField()),
            ],
        ),
        # their keys stood in the clear: everybody signs in once more
        migrations.RunSQL("DELETE FROM django_session", migrations.RunSQL.noop),
    ]

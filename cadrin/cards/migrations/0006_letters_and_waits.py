from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("cards", "0005_cards_by_number"),
        ("people", "0002_the_register"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        # what was typed is kept for three minutes: nothing is lost
        migrations.DeleteModel(name="TypedPin"),
        migrations.CreateModel(
            name="KeypadWait",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("token", models.CharField(max_length=50, unique=True)),
                ("reader_id", models.BigIntegerField()),
                ("begun_at", models.DateTimeField()),
                (
                    "operator",
                    models.ForeignKey(
                        on_delete=models.deletion.CASCADE, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="TypedPin",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("sealed", models.TextField()),
                ("at", models.DateTimeField()),
                (
                    "wait",
                    models.ForeignKey(
                        on_delete=models.deletion.CASCADE, related_name="typed", to="cards.keypadwait"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="Letter",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("sealed", models.TextField(blank=True)),
                (
                    "state",
                    models.CharField(
                        choices=[("waiting", "Waiting"), ("sent", "Sent"), ("cancelled", "Cancelled")],
                        default="waiting",
                        max_length=10,
                    ),
                ),
                ("made_at", models.DateTimeField()),
                ("ended_at", models.DateTimeField(null=True)),
                ("tries", models.PositiveIntegerField(default=0)),
                ("next_try_at", models.DateTimeField()),
                ("failure", models.CharField(blank=True, max_length=100)),
                (
                    "holder",
                    models.ForeignKey(
                        on_delete=models.deletion.CASCADE, related_name="letters", to="people.cardholder"
                    ),
                ),
                (
                    "pin",
                    models.ForeignKey(
                        null=True, on_delete=models.deletion.SET_NULL, related_name="letters", to="cards.pin"
                    ),
                ),
            ],
            options={
                "indexes": [
                    models.Index(
                        condition=models.Q(("state", "waiting")), fields=["next_try_at"], name="letter_that_waits"
                    )
                ],
            },
        ),
    ]

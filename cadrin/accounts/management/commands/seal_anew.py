from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from cadrin.operators.sealing import sealed_anew, sealed_columns


class Command(BaseCommand):
    help = "Seal every secret in the database with the newest of the sealing keys, so that the older can go."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        count = 0
        for model, field in sealed_columns():
            for row in model._default_manager.exclude(**{field: ""}):
                setattr(row, field, sealed_anew(getattr(row, field)))
                row.save(update_fields=[field])
                count += 1
        self.stdout.write(f"{count} secrets sealed anew.")

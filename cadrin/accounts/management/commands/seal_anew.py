from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from cadrin.operators.models import OneTimeSecret
from cadrin.operators.sealing import sealed_anew


class Command(BaseCommand):
    help = "Seal every secret in the database with the newest of the sealing keys, so that the older can go."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        count = 0
        for secret in OneTimeSecret.objects.all():
            secret.sealed = sealed_anew(secret.sealed)
            secret.save(update_fields=["sealed"])
            count += 1
        self.stdout.write(f"{count} secrets sealed anew.")

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

from cadrin.accounts.sealed import has_sealed, problem_with_keys
from cadrin.config.keys import SEALING, SECRET, close_to_others, kept_key, make_key
from cadrin.config.upgrade import upgrade


class Command(BaseCommand):
    help = "Make the folder private, the keys where none were ever made, and the database what the code expects."

    def handle(self, *args: Any, **options: Any) -> None:
        var = Path(settings.VAR)
        close_to_others(var)
        if not settings.HAS_SECRET_KEY:
            make_key(var, SECRET)
            settings.SECRET_KEY, settings.HAS_SECRET_KEY = kept_key(var, SECRET), True
        if connection.vendor == "sqlite":
            upgrade(connection)
        if not settings.SEALING_KEYS and not has_sealed():
            make_key(var, SEALING)
            settings.SEALING_KEYS = [kept_key(var, SEALING)]
        if problem := problem_with_keys():
            raise CommandError(problem)
        call_command("migrate", verbosity=0)
        call_command("createcachetable", verbosity=0)

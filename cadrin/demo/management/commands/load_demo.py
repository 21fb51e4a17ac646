from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from cadrin.demo.loading import OPERATORS, PASSWORD, is_loaded, load_demo
from cadrin.demo.places import write_standins


class Command(BaseCommand):
    help = "Load the demo into an empty database; one that holds cardholders is left as it is."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--sign-in", action="store_true", help="only tell how the demo's operators sign in"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        if options["sign_in"]:
            for username, (first, last, role, language, limited_to) in OPERATORS.items():
                more = f", limited to {limited_to}" if limited_to else ""
                more += ", in German" if language == "de" else ""
                self.stdout.write(f"  {username:7} {PASSWORD}   ({first} {last}, {role}{more})")
            return
        if settings.HTTPS:
            raise CommandError(
                "The passwords of the demo are known to everybody: it does not load in production."
            )
        if not is_loaded():
            load_demo(timezone.now())
        write_standins(settings.VAR / "standins.json")

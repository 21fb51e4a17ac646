from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from cadrin.core.errors import CadrinError
from cadrin.credentials.letters import can_mail
from cadrin.intake.unattended import bring_in, mail_report
from cadrin.operators.actor import system_actor


class Command(BaseCommand):
    help = (
        "Bring in a list. It is applied only with --apply, and only if there is nothing to decide; "
        "otherwise it waits among the lists on the screen."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--mapping", default="", help="the saved mapping to decide by")
        parser.add_argument(
            "--apply", action="store_true", help="apply if nothing is to be decided"
        )
        parser.add_argument("--report-to", default="", metavar="ADDRESS", help="mail the report")

    def handle(self, *args: Any, **options: Any) -> None:
        path: Path = options["file"]
        try:
            data = path.read_bytes()
        except OSError as error:
            raise CommandError(f"{path}: {error.strerror}") from error
        try:
            report = bring_in(
                system_actor("Nightly list"),
                path.name,
                data,
                options["mapping"],
                timezone.now(),
                applies=options["apply"],
            )
        except CadrinError as error:
            raise CommandError(f"{path.name}: {error}") from error
        self.stdout.write(report.text)
        if options["report_to"]:
            if not can_mail():
                raise CommandError("No mail server is named: the report was not mailed.")
            mail_report(report, options["report_to"])
        if report.why:
            # whoever runs it by a schedule sees that it was not applied
            raise CommandError("It waits for a decision." if options["apply"] else "It has faults.")

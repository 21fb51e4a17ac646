from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from cadrin.journal.checking import check_journal

SENTENCES = {
    "body": "what it says was changed",
    "chain": "it was changed or put in, or the entry before it is gone",
    "erased": "something was taken out of it that no entry says was erased",
    "topics": "it is no longer found by what it is about",
    "gone": "it is not there as it was noted",
}


class Command(BaseCommand):
    help = "Check that no entry of the journal was changed, put in, left out or moved; name the first that was."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--noted",
            metavar="NUMBER:DIGEST",
            help="an entry as an earlier check told it: it must still be there",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        noted = None
        if options["noted"]:
            number, _, digest = options["noted"].partition(":")
            if not number.isdecimal() or len(digest) != 64:
                raise CommandError("Give what an earlier check told: NUMBER:DIGEST.")
            noted = int(number), digest
        found = check_journal(noted)
        if found.broken:
            raise CommandError(
                f"Entry {found.broken.number} is broken: {SENTENCES[found.broken.what]}."
            )
        self.stdout.write(f"{found.entries} entries, none broken.")
        self.stdout.write(
            f"Note the last, and give it to a later check: {found.last_number}:{found.last_digest}"
        )

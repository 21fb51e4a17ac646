from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone

from cadrin.accounts.commands.operators import OperatorDraft, save_operator
from cadrin.accounts.commands.passwords import make_link
from cadrin.accounts.commands.roles import ready_made_roles
from cadrin.operators.actor import system_actor
from cadrin.operators.models import Operator, Role


class Command(BaseCommand):
    help = "Make an operator with the role Administrator, or let one in again, and print the link to set a password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("username")
        parser.add_argument(
            "--name", default="", help="as the journal shows it; the user name if it is not given"
        )

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        ready_made_roles()
        actor, now = system_actor("Command line"), timezone.now()
        known = Operator.objects.filter(username__iexact=options["username"]).first()
        first, _, last = (
            options["name"] or (str(known) if known else options["username"])
        ).partition(" ")
        draft = OperatorDraft(
            known.username if known else options["username"],
            first,
            last,
            Role.objects.get(name="Administrator").pk,
            email=known.email if known else "",
            language=known.language if known else "en",
            version=known.version if known else 0,
        )
        id_ = save_operator(actor, known.pk if known else None, draft, now)
        link = make_link(actor, id_, now, is_recovery=True)
        self.stdout.write(f"To set the password, open this within a day: {link.path}")

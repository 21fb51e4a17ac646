"""What the worker does by a schedule, beside delivering."""

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.api.idempotency import forget_answers
from cadrin.biometrics.captures import forget_captures
from cadrin.biometrics.commands import forget_pictures_over
from cadrin.biometrics.proofs import forget_proofs
from cadrin.credentials.keypad import forget_typed
from cadrin.credentials.letters import send_letters
from cadrin.delivery.found_people import forget_found_people
from cadrin.delivery.incidents import forget_old_incidents
from cadrin.delivery.templates_gone import note_templates_gone
from cadrin.desk.mailing import mail_notices
from cadrin.enrolment.commands.cards import return_temporary_cards
from cadrin.enrolment.commands.consents import forget_templates_over
from cadrin.enrolment.commands.rules import keep_rules
from cadrin.intake.commands.deciding import forget_intakes
from cadrin.operators.sessions import forget_ended
from cadrin.photos.commands import forget_unsaved, remove_strays
from cadrin.sites.commands.orders import end_orders_over
from cadrin.worker.runs import forget_old_runs


class Job(NamedTuple):
    """Something that is done every so often; ``do`` is told the time and returns how
    much it did.
    """

    name: str
    every: timedelta
    do: Callable[[datetime], int]


JOBS = (
    Job("send letters", timedelta(seconds=2), send_letters),
    Job("mail notices", timedelta(seconds=10), mail_notices),
    Job("forget what was typed", timedelta(seconds=5), forget_typed),
    Job("end orders at doors", timedelta(seconds=2), end_orders_over),
    Job("keep rules of groups", timedelta(seconds=2), keep_rules),
    Job("forget templates", timedelta(seconds=5), forget_templates_over),
    Job("note templates gone", timedelta(seconds=5), note_templates_gone),
    Job("forget pictures of fingers", timedelta(minutes=1), forget_pictures_over),
    Job("forget captures", timedelta(minutes=1), forget_captures),
    Job("forget unsaved proofs", timedelta(minutes=5), forget_proofs),
    Job("return temporary cards", timedelta(seconds=5), return_temporary_cards),
    Job("forget found people", timedelta(hours=1), forget_found_people),
    Job("forget intakes", timedelta(hours=1), forget_intakes),
    Job("forget unsaved images", timedelta(minutes=1), forget_unsaved),
    Job("forget ended sessions", timedelta(minutes=5), forget_ended),
    Job("remove stray files", timedelta(minutes=5), remove_strays),
    Job("forget old incidents", timedelta(hours=1), forget_old_incidents),
    Job("forget old answers", timedelta(hours=1), forget_answers),
    Job("forget old runs", timedelta(hours=1), forget_old_runs),
)

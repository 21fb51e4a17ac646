"""Notices by mail, to the operators who wish them: each once, and anew when it comes back."""

import logging
from collections.abc import Sequence
from datetime import datetime
from smtplib import SMTPException
from typing import TYPE_CHECKING

from django.conf import settings
from django.core.mail import EmailMessage, get_connection
from django.db import transaction

from cadrin.desk.models import MailedNotice
from cadrin.desk.notices import Notice, NoticeKind, waiting
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.operators.queries import operators_to_mail

if TYPE_CHECKING:
    from cadrin.operators.models import Operator

logger = logging.getLogger("cadrin.notices")

TIMEOUT_SECONDS = 10
SUBJECT = {"en": "Cadrin needs somebody: {first}", "de": "Cadrin braucht jemanden: {first}"}
SENTENCES = {
    "en": {
        NoticeKind.DURESS: "{name}: opened under threat",
        NoticeKind.FORCED: "{name}: opened while it was locked",
        NoticeKind.HELD_OPEN: "{name}: open for too long",
        NoticeKind.SILENT: "{name} does not answer",
        NoticeKind.NOT_HOLDING: "{name} does not hold everything that it should",
    },
    "de": {
        NoticeKind.DURESS: "{name}: unter Bedrohung geöffnet",
        NoticeKind.FORCED: "{name}: geöffnet, obwohl verriegelt",
        NoticeKind.HELD_OPEN: "{name}: zu lange offen",
        NoticeKind.SILENT: "{name} antwortet nicht",
        NoticeKind.NOT_HOLDING: "{name} hält nicht alles, was es sollte",
    },
}


def mail_notices(at: datetime) -> int:
    """Mail every operator who wishes it what they were not told of yet, in their language, and
    return to how many a letter went. What the mail server does not take is tried again.
    """
    if not settings.EMAIL_HOST:
        return 0
    return sum(_mail(operator, at) for operator in operators_to_mail())


def _mail(operator: "Operator", at: datetime) -> bool:
    actor = actor_of(operator)
    if Permission.SEE not in actor.permissions:
        return False
    present = {one.key: one for one in waiting(actor, at).notices}
    told = set(operator.mailed_notices.values_list("key", flat=True))
    fresh = [one for key, one in present.items() if key not in told]
    if fresh and not _is_taken(operator, fresh):
        return False
    if over := told - set(present):
        with transaction.atomic():
            operator.mailed_notices.filter(key__in=over).delete()
    if fresh:
        # after the mail: stopped between both, it is told twice rather than never
        with transaction.atomic():
            MailedNotice.objects.bulk_create(
                [MailedNotice(operator=operator, key=one.key) for one in fresh]
            )
    return bool(fresh)


def _is_taken(operator: "Operator", fresh: Sequence[Notice]) -> bool:
    language = operator.language if operator.language in SENTENCES else "en"
    lines = [SENTENCES[language][one.kind].format(name=one.name) for one in fresh]
    # a name goes into the subject: it has no line of its own there
    subject = " ".join(SUBJECT[language].format(first=lines[0]).split())
    letter = EmailMessage(
        subject,
        "\n".join(lines) + "\n",
        None,
        [operator.email],
        connection=get_connection(timeout=TIMEOUT_SECONDS),
    )
    try:
        letter.send()
    except (SMTPException, OSError):
        logger.warning("the mail server did not take a notice to operator %s", operator.pk)
        return False
    return True

"""Letters to cardholders, by mail: sealed in a queue until the mail server has taken them.

Without a mail server nothing is mailed: a PIN written to a file would lie there in the clear.
"""

import logging
from collections.abc import Iterable
from datetime import datetime, timedelta
from smtplib import SMTPConnectError, SMTPException, SMTPServerDisconnected
from typing import Any, NamedTuple

import orjson
from django.conf import settings
from django.core.mail import EmailMessage, get_connection
from django.db import transaction

from cadrin.config.database.conditions import condition_of
from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.models import Letter, LetterAbout, LetterFailure, LetterState, Pin
from cadrin.operators.sealing import seal, unseal

logger = logging.getLogger("cadrin.letters")

LETTER_STATES, LETTER_FAILURES = LetterState.values, LetterFailure.values
LETTERS_ABOUT, ABOUT_CONSENT = LetterAbout.values, LetterAbout.CONSENT

FIRST_PAUSE = timedelta(seconds=30)
LONGEST_PAUSE = timedelta(hours=1)
LETTERS_AT_ONCE = 20
TIMEOUT_SECONDS = 10
SUBJECT = {"en": "Your PIN", "de": "Ihre PIN"}
TEXT = {
    "en": "Hello {name},\n\nyour PIN is {digits}. Keep it to yourself; nobody will ask you for it.\n",
    "de": "Guten Tag {name},\n\nIhre PIN ist {digits}. Behalten Sie sie für sich; niemand wird Sie danach fragen.\n",
}


class Addressee(NamedTuple):
    """Whom a letter goes to."""

    id: int
    display_name: str
    email: str
    language: str


def can_mail() -> bool:
    """Say whether a mail server was named."""
    return bool(settings.EMAIL_HOST)


def post_pin(to: Addressee, pin: Pin, digits: str, at: datetime) -> None:
    """Put a PIN into the mail to its cardholder, in their language. Call it within the transaction
    that sets it.
    """
    language = to.language if to.language in TEXT else "en"
    text = TEXT[language].format(name=to.display_name, digits=digits)
    post(to, SUBJECT[language], text, at, pin=pin)


def post(to: Addressee, subject: str, text: str, at: datetime, **about: Any) -> None:
    """Put a letter into the mail. Call it within the transaction of what it tells."""
    sealed = seal(orjson.dumps([to.email, subject, text]).decode())
    Letter.objects.create(holder_id=to.id, sealed=sealed, made_at=at, next_try_at=at, **about)


def cancel_letters_with(pin: Pin, at: datetime) -> None:
    """Let nobody get a PIN by mail that is none any more. Call it within the transaction of the
    change.
    """
    if pin.pk:
        waiting = Letter.objects.filter(pin=pin, state=LetterState.WAITING)
        waiting.update(state=LetterState.CANCELLED, sealed="", ended_at=at)


def letters_of(holder_id: int) -> Iterable[Letter]:
    """Return the letters of a cardholder, newest first."""
    return Letter.objects.filter(holder_id=holder_id).order_by("-id")[:10]


def can_be_cancelled(letter: Letter) -> bool:
    """Say whether a letter was not sent, and its PIN is still one."""
    return letter.state == LetterState.WAITING and letter.pin_id is not None


def pin_in_waiting_letter(holder_id: int, letter_id: int) -> int:
    """Return the id of the PIN in a letter that was not sent. Raises NotFound, or Invalid when it is
    sent or cancelled already.
    """
    letter = Letter.objects.filter(pk=letter_id, holder_id=holder_id).first()
    if letter is None:
        raise NotFound.of("letter.not_found")
    if not can_be_cancelled(letter) or letter.pin_id is None:
        raise Invalid.of("letter.gone_already")
    return letter.pin_id


def send_letters(at: datetime) -> int:
    """Hand the letters whose turn it is to the mail server, and return how many it took.

    One that it does not take waits longer each time, and says why. A letter is sealed until it was
    taken: stopped between both, it goes out a second time.
    """
    due = list(
        Letter.objects.filter(
            condition_of(Letter, "letter_that_waits"), next_try_at__lte=at
        ).order_by("id")[:LETTERS_AT_ONCE]
    )
    return sum(_send(letter, at) for letter in due)


def _hand_over(letter: Letter) -> LetterFailure | None:
    """Hand a letter to the mail server, and return why it did not take it, or None."""
    try:
        address, subject, text = orjson.loads(unseal(letter.sealed))
    except Invalid:
        return LetterFailure.NOT_SEALED_HERE
    try:
        mail_server = get_connection(timeout=TIMEOUT_SECONDS)
        EmailMessage(subject, text, None, [address], connection=mail_server).send()
    except (SMTPServerDisconnected, SMTPConnectError):
        return LetterFailure.NO_ANSWER
    except SMTPException:  # which is an OSError as well
        return LetterFailure.REFUSED
    except OSError:
        return LetterFailure.NO_ANSWER
    except Exception:
        # whatever is wrong with this one, the others behind it must go out
        logger.exception("letter %s could not be sent", letter.pk)
        return LetterFailure.FAILED
    return None


def _send(letter: Letter, at: datetime) -> bool:
    failure = _hand_over(letter)
    with transaction.atomic():
        # it may have been cancelled while it was on its way
        row = Letter.objects.filter(pk=letter.pk, state=LetterState.WAITING)
        if failure:
            pause = min(FIRST_PAUSE * 2 ** min(letter.tries, 10), LONGEST_PAUSE)
            row.update(tries=letter.tries + 1, next_try_at=at + pause, failure=failure)
        else:
            row.update(
                state=LetterState.SENT, sealed="", ended_at=at, failure="", tries=letter.tries + 1
            )
    return failure is None

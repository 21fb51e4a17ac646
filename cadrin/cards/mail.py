"""Letters to cardholders, by mail."""

from django.core.mail import send_mail
from django.db import transaction

from cadrin.people.models import Cardholder

SUBJECT = {"en": "Your PIN", "de": "Ihre PIN"}
TEXT = {
    "en": "Hello {name},\n\nyour PIN is {digits}. Keep it to yourself; nobody will ask you for it.\n",
    "de": "Guten Tag {name},\n\nIhre PIN ist {digits}. Behalten Sie sie für sich; niemand wird Sie danach fragen.\n",
}


def mail_pin(cardholder: Cardholder, digits: str) -> None:
    """Send a PIN to its cardholder in their language, once what is being saved is saved."""
    language = cardholder.language if cardholder.language in TEXT else "en"
    text = TEXT[language].format(name=cardholder.display_name, digits=digits)
    address = cardholder.email
    transaction.on_commit(lambda: send_mail(SUBJECT[language], text, None, [address]))

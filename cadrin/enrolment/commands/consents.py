"""Ask for a consent by mail, withdraw one, and remove what may no longer be kept."""

from datetime import datetime

from django.db import transaction

from cadrin.biometrics.queries import consents_of, holders_to_forget
from cadrin.biometrics.wordings import wording_to_agree_to
from cadrin.core.errors import Invalid, NotFound
from cadrin.credentials.letters import ABOUT_CONSENT, Addressee, can_mail, post
from cadrin.enrolment.writer import Writing, write
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import CARDHOLDER
from cadrin.people.queries import by_id, get_cardholder


@transaction.atomic
def withdraw_consent(actor: Actor, cardholder_id: int, consent_id: int, at: datetime) -> None:
    """Withdraw a consent: the templates that rest on it are removed here and at every controller,
    whatever else is being changed about the cardholder meanwhile.

    Raises Invalid when it is withdrawn already, NotFound or NotPermitted.
    """
    actor.require(Permission.BIOMETRICS)
    cardholder = get_cardholder(actor, cardholder_id)
    given = consents_of(cardholder_id)
    if consent_id not in given:
        raise NotFound.of("consent.not_found")
    if given[consent_id] is not None:
        raise Invalid.of("consent.withdrawn_already")
    write(actor, [Writing(cardholder, withdrawn_consents=(consent_id,))], at)


SUBJECT = {"en": "Your consent", "de": "Ihre Einwilligung"}
TEXT = {
    "en": (
        "Hello {name},\n\nwe ask for your consent to the following.\n\n{wording}\n\nIf you agree, "
        'answer this mail with "I agree", and say to what. If you do not, you need do nothing.\n'
    ),
    "de": (
        "Guten Tag {name},\n\nwir bitten um Ihre Einwilligung in Folgendes.\n\n{wording}\n\n"
        "Wenn Sie einverstanden sind, antworten Sie mit „Ich bin einverstanden“ und womit. Wenn "
        "nicht, brauchen Sie nichts zu tun.\n"
    ),
}


@transaction.atomic
def ask_for_consent(actor: Actor, cardholder_id: int, at: datetime) -> None:
    """Send a cardholder what is to be agreed to, in their language; what comes back proves the
    consent later. Raises Invalid without an address or a mail server, NotFound or NotPermitted.
    """
    actor.require(Permission.BIOMETRICS)
    cardholder = get_cardholder(actor, cardholder_id)
    if not can_mail():
        raise Invalid.of("consent.no_mail_server")
    if not cardholder.email:
        raise Invalid.of("consent.no_address")
    wording = wording_to_agree_to(at)
    language = cardholder.language if cardholder.language in TEXT else "en"
    text = TEXT[language].format(
        name=cardholder.display_name, wording=wording.texts.get(language, "")
    )
    to = Addressee(cardholder.pk, cardholder.display_name, cardholder.email, language)
    post(to, SUBJECT[language], text, at, about=ABOUT_CONSENT)
    told = {"wording": (None, wording.version), "language": (None, language)}
    record(actor, at, [Act("consent.asked", (About(CARDHOLDER, cardholder_id),), told)])


@transaction.atomic
def forget_templates_over(at: datetime) -> int:
    """Remove every template that may no longer be kept, and give of how many cardholders: the house
    itself does it.
    """
    holders = by_id(holders_to_forget(at))
    writings = [Writing(holder, forgets_templates=True) for holder in holders.values()]
    write(system_actor("Cadrin"), writings, at)
    return len(holders)

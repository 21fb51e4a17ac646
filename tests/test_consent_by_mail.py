"""Consent by mail: the wording goes out, and the answer that comes back proves it."""

from dataclasses import replace

from django.core import mail
from django.test import override_settings

from cadrin.biometrics.drafts import BiometricDraft, ConsentDraft
from cadrin.biometrics.models import Consent
from cadrin.biometrics.proofs import proof_of, take_proof
from cadrin.biometrics.wordings import FIRST
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid, NotPermitted
from cadrin.credentials.letters import send_letters
from cadrin.credentials.models import Letter
from cadrin.enrolment.commands.consents import ask_for_consent
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from tests.house import NOON, an_operator
from tests.test_consent import Enrolled

ANSWER = (
    b"From: reve@skerrow.example\r\nTo: desk@skerrow.example\r\n"
    b"Date: Mon, 1 Jun 2026 12:00:00 +0000\r\nSubject: Your consent\r\n\r\nI agree, to faces.\r\n"
)


class ByMail(Enrolled):
    def with_address(self, email: str) -> None:
        stored = self.stored()
        details = replace(stored.details, email=email, language="de")
        self.house.save(self.holder_id, replace(stored, details=details))

    @override_settings(EMAIL_HOST="mail.skerrow.example")
    def test_the_wording_goes_out_in_their_language_and_is_in_the_journal(self) -> None:
        with self.assertRaises(Invalid) as caught:
            ask_for_consent(self.actor, self.holder_id, NOON)
        self.assertEqual(caught.exception.problems[0].code, "consent.no_address")
        self.with_address("reve@skerrow.example")

        ask_for_consent(self.actor, self.holder_id, NOON)

        self.assertNotIn(FIRST["de"][:20], Letter.objects.get().sealed)
        self.assertEqual(Entry.objects.latest("id").action, "consent.asked")
        self.assertEqual(send_letters(NOON), 1)
        (sent,) = mail.outbox
        self.assertEqual(sent.to, ["reve@skerrow.example"])
        self.assertIn(FIRST["de"], sent.body)

    @override_settings(EMAIL_HOST="")
    def test_is_not_asked_for_without_a_mail_server_or_the_permission(self) -> None:
        with self.assertRaises(Invalid):
            ask_for_consent(self.actor, self.holder_id, NOON)
        desk = actor_of(an_operator("desk", Permission.SEE, Permission.EDIT))
        with self.assertRaises(NotPermitted):
            ask_for_consent(desk, self.holder_id, NOON)
        self.assertFalse(Letter.objects.exists())

    def test_the_answer_proves_it_and_nothing_else_does(self) -> None:
        consent = ConsentDraft((Factor.FACE,), HowGiven.MAIL, "de")
        kept = self.theirs()
        self.assertEqual(
            self.refusal(replace(kept, new_consent=consent)),
            [("consent.mail_missing", "biometrics.new_consent.proof")],
        )
        with self.assertRaises(Invalid):
            take_proof(self.actor, b"I agree, somebody said.", NOON)

        token = take_proof(self.actor, ANSWER, NOON)
        self.save(BiometricDraft(kept.fingers, replace(consent, proof=token)))

        given = Consent.objects.latest("id")
        self.assertEqual((given.how, given.covers_faces), ("mail", True))
        found = proof_of(self.actor, self.holder_id, given.pk)
        self.assertEqual((found.media_type, found.content), ("message/rfc822", ANSWER))

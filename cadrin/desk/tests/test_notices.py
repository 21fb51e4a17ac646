"""What needs somebody is told on the screen, and by mail to those who wish it: once each time."""

from datetime import timedelta
from smtplib import SMTPException
from unittest.mock import patch

from django.core import mail
from django.test import TestCase, override_settings

from cadrin.activity.models import Read
from cadrin.delivery.models import Link
from cadrin.desk.mailing import mail_notices
from cadrin.desk.notices import NoticeKind, waiting
from cadrin.desk.tests.test_activity import WithEvents
from cadrin.operators.permissions import Permission
from tests.house import ANYBODY, NOON, House, an_operator

MINUTE = timedelta(minutes=1)


class Notices(WithEvents, TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.link, _ = Link.objects.get_or_create(controller=self.house.north)
        self.answers()

    def answers(self) -> None:
        Link.objects.filter(pk=self.link.pk).update(
            failed_at=None, failure="", answered_at=NOON, turned_at=NOON
        )

    def is_silent_since(self, minutes: float) -> None:
        Link.objects.filter(pk=self.link.pk).update(failed_at=NOON - minutes * MINUTE)

    def told(self) -> list[tuple[NoticeKind, str]]:
        return [(one.kind, one.name) for one in waiting(ANYBODY, NOON).notices]

    def test_an_alarm_and_a_controller_that_stays_silent_are_told(self) -> None:
        self.assertEqual(self.told(), [])
        self.is_silent_since(0.5)
        self.assertEqual(self.told(), [])  # it may be back by itself
        self.is_silent_since(2)
        gate = self.house.gate_reader
        Read.objects.create(
            at=NOON, controller=self.house.north, store="a", event_number=1, reader=gate,
            reader_name=gate.name, door=gate.door, happening="forced",
        )  # fmt: skip

        self.assertEqual(
            self.told(),
            [
                (NoticeKind.FORCED, self.house.gate_reader.name),
                (NoticeKind.SILENT, self.house.north.name),
            ],
        )

    @override_settings(EMAIL_HOST="mail.skerrow.example")
    def test_a_letter_goes_out_once_and_anew_when_it_comes_back(self) -> None:
        wishing = an_operator("ines", Permission.SEE)
        wishing.email, wishing.language = "ines@skerrow.example", "de"
        wishing.notices_by_mail = True
        wishing.save()
        an_operator("rhona", Permission.SEE)
        self.is_silent_since(2)

        with patch("django.core.mail.EmailMessage.send", side_effect=SMTPException):
            self.assertEqual(mail_notices(NOON), 0)
        self.assertEqual([mail_notices(NOON) for _ in range(2)], [1, 0])
        (letter,) = mail.outbox
        self.assertEqual(letter.to, ["ines@skerrow.example"])
        self.assertIn(f"{self.house.north.name} antwortet nicht", letter.body)

        self.answers()
        self.assertEqual(mail_notices(NOON), 0)
        self.is_silent_since(2)
        self.assertEqual(mail_notices(NOON), 1)

    @override_settings(EMAIL_HOST="mail.skerrow.example")
    def test_whoever_may_not_look_is_not_told_either(self) -> None:
        nobody = an_operator("nobody")
        nobody.email, nobody.notices_by_mail = "nobody@skerrow.example", True
        nobody.save()
        self.is_silent_since(2)

        self.assertEqual(mail_notices(NOON), 0)
        self.assertEqual(mail.outbox, [])

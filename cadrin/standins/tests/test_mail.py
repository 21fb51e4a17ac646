"""What Cadrin may rely on from a mail server: the standard library's own client says so (smtplib,
RFC 5321).
"""

import smtplib
from email.message import EmailMessage
from unittest import TestCase

from starlette.testclient import TestClient

from cadrin.standins.app import application
from cadrin.standins.mail import LARGEST_BYTES, MailServer
from cadrin.standins.setup import StandInSetup
from tests.running import free_port

BENCH = {"Authorization": "Bearer of the bench"}


class AMailServer(TestCase):
    def setUp(self) -> None:
        self.server = MailServer()
        listening = self.server.listening(free_port())
        listening.start()
        self.addCleanup(listening.stop)
        self.post = smtplib.SMTP("127.0.0.1", listening.port, timeout=10)
        self.addCleanup(self.post.close)
        self.bench = TestClient(
            application(StandInSetup(bench_key="of the bench"), mail=self.server), headers=BENCH
        )

    def send(self, text: str) -> None:
        letter = EmailMessage()
        letter["From"], letter["To"], letter["Subject"] = (
            "desk@skerrow.example",
            "reve@skerrow.example",
            "Grüße",
        )
        letter.set_content(text)
        self.post.send_message(letter)

    def test_takes_a_letter_as_it_was_written_and_shows_nobody_what_is_in_it(self) -> None:
        self.send("Ihre PIN ist 481509.\n")

        (taken,) = self.server.letters
        self.assertEqual(
            (taken.to, taken.subject, taken.text),
            ("reve@skerrow.example", "Grüße", "Ihre PIN ist 481509.\r\n"),
        )
        shown = self.bench.get("/bench")
        self.assertEqual(shown.json()["mail"]["letters"][0]["to"], "reve@skerrow.example")
        self.assertNotIn("481509", shown.text)

    def test_asks_to_be_tried_again_while_it_is_switched_off(self) -> None:
        self.bench.patch("/bench/mail", json={"is_on": False})
        with self.assertRaises(smtplib.SMTPDataError) as refused:
            self.send("one")
        self.assertEqual((refused.exception.smtp_code, len(self.server.letters)), (451, 0))

        self.bench.patch("/bench/mail", json={"is_on": True})
        self.send("one")
        self.assertEqual(len(self.server.letters), 1)

    def test_takes_nothing_that_is_too_large(self) -> None:
        with self.assertRaises(smtplib.SMTPException):
            self.send("x" * LARGEST_BYTES)
        self.assertFalse(self.server.letters)

    def test_is_switched_by_nobody_without_the_key_of_the_bench(self) -> None:
        answer = self.bench.patch(
            "/bench/mail", json={"is_on": False}, headers={"Authorization": "Bearer guessed"}
        )

        self.assertEqual((answer.status_code, self.server.is_on), (401, True))

    def test_is_not_there_where_none_was_started(self) -> None:
        bench = TestClient(application(StandInSetup(bench_key="of the bench")), headers=BENCH)

        self.assertIsNone(bench.get("/bench").json()["mail"])
        self.assertEqual(bench.patch("/bench/mail", json={"is_on": False}).status_code, 404)

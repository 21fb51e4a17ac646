"""A mail server that keeps the newest letters in memory: what a cardholder would find in theirs."""

from collections import deque
from datetime import UTC, datetime
from email import message_from_bytes, policy
from typing import Any, NamedTuple

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

MOST_KEPT = 20
LARGEST_BYTES = 100_000
TAKEN, TRY_AGAIN = "250 Taken", "451 Switched off: try again later"


class Letter(NamedTuple):
    """A letter that was taken."""

    at: datetime
    to: str
    subject: str
    text: str


class MailServer:
    """Switched off, it answers as one does that is overloaded: with a reason to try again later
    (RFC 5321, 4.2.1).
    """

    def __init__(self) -> None:
        self.is_on = True
        self.letters: deque[Letter] = deque(maxlen=MOST_KEPT)

    async def handle_DATA(self, _server: SMTP, _session: Session, envelope: Envelope) -> str:  # noqa: N802 - its name
        """Take a letter, under the name that the server looks for."""
        if not self.is_on:
            return TRY_AGAIN
        message = message_from_bytes(envelope.original_content or b"", policy=policy.default)
        body = message.get_body(("plain",))
        text = body.get_content() if body else ""
        to = ", ".join(envelope.rcpt_tos)
        self.letters.appendleft(Letter(datetime.now(UTC), to, str(message["subject"] or ""), text))
        return TAKEN

    def listening(self, port: int) -> Controller:
        """Return what listens on loopback, in a thread of its own, from ``start`` to ``stop``."""
        return Controller(self, hostname="127.0.0.1", port=port, data_size_limit=LARGEST_BYTES)

    def shown(self) -> dict[str, Any]:
        """Return what the test bench shows: whom letters went to, and not the secrets in them."""
        letters = [
            {"at": letter.at.isoformat(), "to": letter.to, "subject": letter.subject}
            for letter in self.letters
        ]
        return {"is_on": self.is_on, "letters": letters}

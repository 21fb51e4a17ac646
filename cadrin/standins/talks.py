"""The conversations of one controller: it listens to Cadrin alone, and to nothing a second time."""

import secrets
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from cadrin.core import signing
from cadrin.core.signing import Refused

MOST_TALKS = 8
NUMBER, CONVERSATION, SIGNATURE = "X-Number", "X-Conversation", "X-Signature"


@dataclass(slots=True)
class Talk:
    """One conversation: its key, and the number of the last message that was listened to."""

    name: str
    key: bytes
    number: int = 0

    def sign(self, number: int, status: int, body: bytes) -> str:
        """Return the signature of an answer to the message of that number."""
        return signing.signature(self.key, *signing.answer_parts(self.name, number, status, body))


class NotHeard(Exception):
    """A message that is not listened to, and why."""

    def __init__(self, why: Refused) -> None:
        self.why = why


class Talks:
    def __init__(self, key: bytes) -> None:
        self._key = key
        self._open: OrderedDict[str, Talk] = OrderedDict()
        self.refused = {Refused.FORGED: 0, Refused.REPLAYED: 0}

    def begin(self, callers_nonce: str) -> dict[str, Any]:
        """Begin a conversation; whoever has not the key can begin one, and then say
        nothing in it.
        """
        name, mine = secrets.token_hex(8), secrets.token_hex(signing.SHORTEST_NONCE)
        self._open[name] = Talk(name, signing.conversation_key(self._key, callers_nonce, mine))
        signed = signing.signature(self._key, *signing.greeting_parts(callers_nonce, mine, name))
        self._forget_the_oldest()
        return {"conversation": name, "nonce": mine, "signature": signed}

    def _forget_the_oldest(self) -> None:
        """Keep few conversations, and those in which nobody has said anything yet the least."""
        while len(self._open) > MOST_TALKS:
            silent = [name for name, talk in self._open.items() if not talk.number]
            self._open.pop(silent[0] if len(silent) > 1 else next(iter(self._open)))

    def hear(
        self, headers: Mapping[str, str], method: str, target: str, body: bytes
    ) -> tuple[Talk, int]:
        """Return the conversation and the number of a message that is Cadrin's and new. Raises
        NotHeard.
        """
        talk = self._open.get(headers.get(CONVERSATION, ""))
        told, number = headers.get(SIGNATURE, ""), headers.get(NUMBER, "")
        if talk is None and told:
            raise NotHeard(Refused.UNKNOWN_CONVERSATION)
        if talk is None or not (number.isascii() and number.isdecimal() and len(number) < 18):
            raise self._not_heard(Refused.FORGED)
        if not signing.is_signed(
            told, talk.key, *signing.request_parts(talk.name, int(number), method, target, body)
        ):
            raise self._not_heard(Refused.FORGED)
        if int(number) <= talk.number:
            raise self._not_heard(Refused.REPLAYED)
        talk.number = int(number)
        self._open.move_to_end(talk.name)
        return talk, talk.number

    def _not_heard(self, why: Refused) -> NotHeard:
        self.refused[why] += 1
        return NotHeard(why)

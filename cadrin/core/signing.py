"""How Cadrin and a controller know each other's messages: signed with a key that only the two have.

A conversation begins with a nonce of each side, and both make its own key of them. In it each
message has a number higher than any before, so that one that is sent a second time is known for it,
whatever the clocks say.
"""

import hmac
from enum import StrEnum

KEY_BYTES = 32
SHORTEST_NONCE = 16


class Refused(StrEnum):
    """Why a message is not listened to."""

    FORGED = "forged"
    REPLAYED = "replayed"
    UNKNOWN_CONVERSATION = "unknown_conversation"


def signature(key: bytes, *parts: bytes) -> str:
    """Return the signature over parts: HMAC with SHA-256 (RFC 2104, FIPS 198-1), in hexadecimal.

    Each part is preceded by its length, so that no two lists of parts are signed alike.

    >>> signature(b"k", b"ab", b"c") == signature(b"k", b"a", b"bc")
    False
    """
    written = b"".join(len(part).to_bytes(8, "big") + part for part in parts)
    return hmac.digest(key, written, "sha256").hex()


def is_signed(told: str, key: bytes, *parts: bytes) -> bool:
    """Say whether a signature is the right one, in a time that tells nothing of where it
    differs.
    """
    return hmac.compare_digest(told.encode(), signature(key, *parts).encode())


def conversation_key(key: bytes, callers_nonce: str, answerers_nonce: str) -> bytes:
    """Return the key of one conversation; with another nonce of either side it is another key."""
    return bytes.fromhex(
        signature(key, b"conversation", callers_nonce.encode(), answerers_nonce.encode())
    )


def greeting_parts(callers_nonce: str, answerers_nonce: str, name: str) -> tuple[bytes, ...]:
    """Return what the answerer signs with the long-lived key, to show that it has it."""
    return b"greeting", callers_nonce.encode(), answerers_nonce.encode(), name.encode()


def request_parts(
    name: str, number: int, method: str, target: str, body: bytes
) -> tuple[bytes, ...]:
    """Return what is signed of a request: where it belongs, what it asks, and all of
    what it says.
    """
    return b"request", name.encode(), str(number).encode(), method.encode(), target.encode(), body


def answer_parts(name: str, number: int, status: int, body: bytes) -> tuple[bytes, ...]:
    """Return what is signed of an answer: it answers this request and no other."""
    return b"answer", name.encode(), str(number).encode(), str(status).encode(), body

"""Messages between Cadrin and a controller: nothing about them can be another without being
noticed.
"""

from itertools import combinations
from unittest import TestCase

from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.hmac import HMAC
from hypothesis import assume, given
from hypothesis import strategies as st

from cadrin.core.signing import (
    KEY_BYTES,
    answer_parts,
    conversation_key,
    greeting_parts,
    is_signed,
    request_parts,
    signature,
)

KEY = bytes(range(KEY_BYTES))
parts_of_any = st.lists(st.binary(max_size=6), max_size=4)


def by_another_library(key: bytes, data: bytes) -> str:
    """Return HMAC with SHA-256 as OpenSSL has it, through the package ``cryptography``."""
    made = HMAC(key, SHA256())
    made.update(data)
    return made.finalize().hex()


class Signatures(TestCase):
    def test_are_those_of_a_second_library_over_parts_and_their_lengths(self) -> None:
        # the key and the text of RFC 4231, test case 2
        told = signature(b"Jefe", b"what do ya want ", b"for nothing?")

        written = (
            (16).to_bytes(8, "big")
            + b"what do ya want "
            + (12).to_bytes(8, "big")
            + b"for nothing?"
        )
        self.assertEqual(told, by_another_library(b"Jefe", written))
        # and the library is the one of the standard: the digest that RFC 4231 prints
        self.assertEqual(
            by_another_library(b"Jefe", b"what do ya want for nothing?"),
            "5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843",
        )

    @given(parts_of_any, parts_of_any)
    def test_of_two_lists_of_parts_are_never_alike(
        self, one: list[bytes], other: list[bytes]
    ) -> None:
        assume(one != other)

        self.assertNotEqual(signature(KEY, *one), signature(KEY, *other))

    @given(parts_of_any, st.text(max_size=70))
    def test_are_taken_as_they_are_and_in_no_other_way(
        self, parts: list[bytes], guess: str
    ) -> None:
        right = signature(KEY, *parts)

        self.assertTrue(is_signed(right, KEY, *parts))
        for wrong in (guess, right.upper(), right[:-1], right + "0", ""):
            self.assertEqual(is_signed(wrong, KEY, *parts), wrong == right)
        self.assertFalse(is_signed(right, KEY[::-1], *parts))
        self.assertFalse(is_signed(right, KEY, *parts, b""))


class Messages(TestCase):
    def test_are_signed_for_what_they_are_where_they_belong_and_all_they_say(self) -> None:
        messages = [
            request_parts("talk", 1, "PUT", "/records", b"{}"),
            request_parts("talk", 2, "PUT", "/records", b"{}"),
            request_parts("other", 1, "PUT", "/records", b"{}"),
            request_parts("talk", 1, "DELETE", "/records", b"{}"),
            request_parts("talk", 1, "PUT", "/records?all", b"{}"),
            request_parts("talk", 1, "PUT", "/records", b"{ }"),
            answer_parts("talk", 1, 200, b"{}"),
            answer_parts("talk", 1, 500, b"{}"),
            answer_parts("talk", 2, 200, b"{}"),
            answer_parts("other", 1, 200, b"{}"),
            answer_parts("talk", 1, 200, b"{ }"),
            greeting_parts("talk", "1", "PUT"),
            greeting_parts("1", "talk", "PUT"),
            greeting_parts("talk", "1", "DELETE"),
        ]

        for one, other in combinations(messages, 2):
            self.assertNotEqual(signature(KEY, *one), signature(KEY, *other))

    @given(st.text(min_size=1, max_size=8), st.text(min_size=1, max_size=8))
    def test_of_another_conversation_have_another_key(self, mine: str, theirs: str) -> None:
        key = conversation_key(KEY, mine, theirs)

        self.assertEqual(len(key), KEY_BYTES)
        self.assertNotEqual(key, KEY)
        self.assertNotEqual(key, conversation_key(KEY, f"{mine}.", theirs))
        self.assertNotEqual(key, conversation_key(KEY, mine, f"{theirs}."))
        self.assertNotEqual(key, conversation_key(KEY[::-1], mine, theirs))
        if mine != theirs:
            self.assertNotEqual(key, conversation_key(KEY, theirs, mine), "who asked is part of it")

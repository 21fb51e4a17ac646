"""The journal's chain: whatever is changed by hand is found, and what was erased is not taken for
it.
"""

import hashlib
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.chain import (
    BEGINNING,
    ERASED,
    Body,
    Broken,
    Link,
    digest_of_body,
    digest_of_entry,
    first_broken,
)

NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)


def a_chain(length: int, bodies: dict[int, Body] | None = None) -> list[Link]:
    """Return entries as they would be written, numbered from 1."""
    links: list[Link] = []
    before = BEGINNING
    for number in range(1, length + 1):
        body = (bodies or {}).get(
            number, Body({"title": ["", f"Diver {number}"]}, {"kind_id": [None, number]})
        )
        salt = f"{number:032x}"
        body_digest = digest_of_body(body, salt)
        who, about = (number, "Mara", "192.0.2.7"), (("cardholder", number, 1),)
        at = NOON + timedelta(seconds=number)
        before = digest_of_entry(before, at, who, "cardholder.changed", about, body_digest)
        links.append(
            Link(number, at, *who, "cardholder.changed", about, body, salt, body_digest, before)
        )
    return links


CHANGES: dict[str, Any] = {
    "at": NOON,
    "operator_id": 99,
    "operator_name": "Somebody else",
    "address": "192.0.2.8",
    "action": "cardholder.enrolled",
    "about": (("cardholder", 99, 1),),
    "body": Body({"title": ["", "Cook"]}, {}),
    "salt": "00",
    "body_digest": "00",
    "digest": "00",
}


class AChain(TestCase):
    @given(st.integers(1, 6), st.data())
    def test_names_the_first_entry_in_which_anything_was_changed(
        self, length: int, data: st.DataObject
    ) -> None:
        links = a_chain(length)
        place = data.draw(st.integers(0, length - 1))
        field = data.draw(st.sampled_from(sorted(CHANGES)))

        links[place] = replace(links[place], **{field: CHANGES[field]})

        broken = first_broken(links)
        self.assertIsNotNone(broken)
        self.assertEqual(broken and broken.number, place + 1)

    @given(st.integers(2, 6), st.data())
    def test_finds_what_was_left_out_put_in_or_moved(
        self, length: int, data: st.DataObject
    ) -> None:
        links = a_chain(length)
        place = data.draw(st.integers(0, length - 2))

        self.assertIsNotNone(first_broken(links[:place] + links[place + 1 :]))
        self.assertIsNotNone(first_broken([*links[: place + 1], links[place], *links[place + 1 :]]))
        self.assertIsNotNone(
            first_broken([*links[:place], links[place + 1], links[place], *links[place + 2 :]])
        )

    @given(st.integers(0, 6))
    def test_that_is_as_it_was_written_is_whole(self, length: int) -> None:
        self.assertIsNone(first_broken(a_chain(length)))

    def test_goes_on_from_an_entry_that_was_noted_earlier(self) -> None:
        links = a_chain(5)

        self.assertIsNone(first_broken(links[2:], before=links[1].digest))
        self.assertEqual(first_broken(links[2:], before=links[2].digest), Broken(3, "chain"))

    def test_allows_what_a_later_entry_says_was_erased_and_nothing_else(self) -> None:
        left = Body({}, {"kind_id": [None, 1]})
        said = Body({}, {ERASED: [None, [[1, digest_of_body(left, "")]]]})
        links = a_chain(3, {3: said})
        erased = replace(links[0], body=left, salt="")

        self.assertIsNone(first_broken([erased, *links[1:]]))
        self.assertEqual(
            first_broken([replace(erased, body=Body({}, {})), *links[1:]]), Broken(1, "erased")
        )
        self.assertEqual(
            first_broken([links[0], replace(links[1], salt=""), links[2]]), Broken(2, "erased")
        )

    def test_is_made_of_plain_sha_256_over_json(self) -> None:
        # FIPS 180-4, through the standard library; the text is written out here by hand
        written = '["ab",{"name":["","Søren"]},{}]'

        self.assertEqual(
            digest_of_body(Body({"name": ["", "Søren"]}, {}), "ab"),
            hashlib.sha256(written.encode()).hexdigest(),
        )

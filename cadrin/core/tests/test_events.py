"""What a controller tells, whatever it is."""

from datetime import UTC, datetime
from unittest import TestCase

import orjson
from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.card import CardKey
from cadrin.core.decision.events import (
    LARGEST_NUMBER,
    LONGEST_RAW,
    LONGEST_UNREADABLE,
    Event,
    Unreadable,
    read_events,
)
from cadrin.core.decision.reasons import Reason

NAMES = [
    "number",
    "at",
    "reader",
    "reader_name",
    "raw",
    "reason",
    "card",
    "cardholder",
    "typed",
    "shown",
    "opens_at",
]
GOOD = {
    "number": 4,
    "at": "2026-06-01T12:00:00+00:00",
    "reader": 7,
    "raw": "26:2F764DD",
    "reason": "granted",
}
anything = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from(NAMES), inner),
    max_leaves=12,
)


class Events(TestCase):
    @given(
        st.lists(anything | st.builds(lambda more: GOOD | {"raw": more}, anything), max_size=5),
        st.integers(0, 50),
    )
    def test_are_read_or_put_aside_each_by_itself(self, told: list[object], after: int) -> None:
        found = read_events(told, after)

        self.assertEqual(len(found), len(told))
        for event in found:
            self.assertIsInstance(event, Event | Unreadable)
            self.assertGreaterEqual(event.number, 0)

    def test_that_are_as_they_should_be_come_out_whole(self) -> None:
        told = GOOD | {
            "card": [1, 12, 4751],
            "cardholder": 9,
            "name": "Tomas Reve",
            "group": 3,
            "watched": True,
        }

        (event,) = read_events([told], 3)

        assert isinstance(event, Event)
        self.assertEqual(
            (event.reason, event.card, event.cardholder_id),
            (Reason.GRANTED, CardKey(1, 12, 4751), 9),
        )
        self.assertEqual((event.name, event.group_id, event.is_watched), ("Tomas Reve", 3, True))
        self.assertEqual((event.number, event.at), (4, datetime(2026, 6, 1, 12, tzinfo=UTC)))

    def test_without_a_number_take_the_next_so_that_nothing_stays_where_it_was(self) -> None:
        found = read_events([None, {"number": "x"}, GOOD | {"number": 20}, []], 7)

        self.assertEqual([event.number for event in found], [8, 9, 20, 21])

    def test_that_cannot_have_happened_or_say_nothing_are_put_aside_with_what_was_said(
        self,
    ) -> None:
        desk = {key: value for key, value in GOOD.items() if key != "reason"}
        for why, told in {
            "no zone": GOOD | {"at": "2026-06-01T12:00:00"},
            "before any clock": GOOD | {"at": "1969-12-31T23:59:59+00:00"},
            "after any clock": GOOD | {"at": "2200-01-01T00:00:00+00:00"},
            "an instant that is none": GOOD | {"opens_at": "2026-06-01T12:00:00"},
            "another number than its own": GOOD | {"number": True},
            "a desk where nothing was shown or typed": desk | {"raw": ""},
            "too long": GOOD | {"raw": "x" * (LONGEST_RAW + 1)},
            "no text at all": GOOD | {"raw": 26},
            "a sign that ends a text": GOOD | {"name": "Reve\x00"},
            "half a card": GOOD | {"card": [1, 12]},
            "less than no number": GOOD | {"card": [1, 12, -1]},
            "a number too large to be kept": GOOD | {"reader": LARGEST_NUMBER + 1},
        }.items():
            with self.subTest(why):
                self.assertEqual(
                    read_events([told], 3), [Unreadable(4, orjson.dumps(told).decode())]
                )

    def test_at_a_desk_need_no_reason_when_something_was_shown_or_typed(self) -> None:
        desk = {key: value for key, value in GOOD.items() if key != "reason"}
        longest = {"raw": "x" * LONGEST_RAW, "number": LARGEST_NUMBER}
        for more in (
            {},
            {"raw": "", "typed": "sealed"},
            {"at": "1970-01-01T00:00:00+00:00"},
            longest,
        ):
            with self.subTest(more):
                (event,) = read_events([desk | more], 3)
                assert isinstance(event, Event)
                self.assertIsNone(event.reason)

    def test_are_shown_no_longer_than_anybody_reads(self) -> None:
        for told in (["x" * 9000], 2**80, [[[2**70]]]):
            (found,) = read_events([told], 3)
            assert isinstance(found, Unreadable)
            self.assertLessEqual(len(found.text), LONGEST_UNREADABLE)
            self.assertTrue(found.text)

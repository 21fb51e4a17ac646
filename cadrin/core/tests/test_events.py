"""What a controller tells, whatever it is."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.plan import CardKey
from cadrin.core.access.rights import Reason
from cadrin.core.events import Event, Unreadable, read_events

NAMES = ["number", "at", "reader", "reader_name", "raw", "reason", "card", "cardholder", "typed", "shown", "opens_at"]
GOOD = {"number": 4, "at": "2026-06-01T12:00:00+00:00", "reader": 7, "raw": "26:2F764DD", "reason": "granted"}
anything = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from(NAMES), inner),
    max_leaves=12,
)


class Events(TestCase):
    @given(st.lists(anything | st.builds(lambda more: GOOD | {"raw": more}, anything), max_size=5), st.integers(0, 50))
    def test_are_read_or_put_aside_each_by_itself(self, told: list[object], after: int) -> None:
        found = read_events(told, after)

        self.assertEqual(len(found), len(told))
        for event in found:
            self.assertIsInstance(event, Event | Unreadable)
            self.assertGreaterEqual(event.number, 0)

    def test_that_are_as_they_should_be_come_out_whole(self) -> None:
        told = GOOD | {"card": [1, 12, 4751], "cardholder": 9, "name": "Tomas Reve", "group": 3, "watched": True}

        (event,) = read_events([told], 3)

        assert isinstance(event, Event)
        self.assertEqual((event.reason, event.card, event.cardholder_id), (Reason.GRANTED, CardKey(1, 12, 4751), 9))
        self.assertEqual((event.name, event.group_id, event.is_watched), ("Tomas Reve", 3, True))

    def test_without_a_number_take_the_next_so_that_nothing_stays_where_it_was(self) -> None:
        found = read_events([None, {"number": "x"}, GOOD | {"number": 20}, []], 7)

        self.assertEqual([event.number for event in found], [8, 9, 20, 21])

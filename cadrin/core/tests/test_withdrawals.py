"""Which acts take rights away, and so are sent before everything else."""

from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.records.withdrawals import takes_rights_away
from cadrin.core.validity import Span

NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)
hours = st.none() | st.integers(-3, 3)


def at(hour: int | None) -> datetime | None:
    return None if hour is None else NOON + timedelta(hours=hour)


def told(instant: datetime | None) -> str | None:
    return instant.isoformat() if instant else None


class TakingAway(TestCase):
    def test_is_known_by_what_was_done(self) -> None:
        for action, changes, expected in (
            ("membership.removed", {}, True),
            ("pin.replaced", {}, True),
            ("pin.removed", {}, True),
            ("membership.added", {"expiry_at": (None, told(NOON))}, False),
            ("cardholder.enrolled", {"standing": (None, "suspended")}, False),
            ("card.issued", {"status": (None, "issued"), "issue_level": (None, 2)}, False),
            ("pin.set", {"opens_alone": (None, False)}, False),
            ("card.returned", {"status": ("issued", "returned")}, True),
        ):
            with self.subTest(action):
                self.assertEqual(takes_rights_away(action, changes), expected)

    def test_is_known_by_what_has_changed(self) -> None:
        cases: list[tuple[str, Any, Any, bool]] = [
            ("standing", "active", "suspended", True),
            ("standing", "active", "barred", True),
            ("standing", "suspended", "departed", True),
            ("standing", "suspended", "active", False),
            ("status", "issued", "lost", True),
            ("status", "suspended", "stolen", True),
            ("status", "suspended", "issued", False),
            ("suspended_until", None, told(NOON), False),
            ("suspended_until", told(NOON), told(NOON + timedelta(hours=1)), True),
            ("suspended_until", told(NOON), None, True),
            ("hours", None, [[0, 540, 1020]], True),
            ("hours", [[0, 540, 1020]], None, False),
            ("hours", [[0, 540, 1020]], [], False),
            ("use_limit", None, 0, True),
            ("use_limit", 3, 5, True),
            ("use_limit", 3, None, False),
            ("issue_level", 1, 2, True),
            ("opens_alone", True, False, True),
            ("opens_alone", False, True, False),
            ("title", "Skipper", "", False),
            ("is_watched", False, True, False),
        ]
        for field, before, after, expected in cases:
            with self.subTest(f"{field}: {before} to {after}"):
                self.assertEqual(
                    takes_rights_away("card.changed", {field: (before, after)}), expected
                )
                # and among others that take nothing
                changes = {"title": ("", "Diver"), field: (before, after), "remarks": ("", "x")}
                self.assertEqual(takes_rights_away("card.changed", changes), expected)

    @given(hours, hours, hours, hours)
    def test_by_another_beginning_or_end_is_when_some_instant_is_lost(
        self, start: int | None, end: int | None, new_start: int | None, new_end: int | None
    ) -> None:
        instants = [NOON + timedelta(minutes=30 * half) for half in range(-10, 11)]
        for field, before, after, was, now in (
            ("expiry_at", end, new_end, Span(None, at(end)), Span(None, at(new_end))),
            ("activation_at", start, new_start, Span(at(start), None), Span(at(new_start), None)),
        ):
            loses = any(instant in was and instant not in now for instant in instants)
            changes = {field: (told(at(before)), told(at(after)))}
            self.assertEqual(takes_rights_away("membership.changed", changes), loses)

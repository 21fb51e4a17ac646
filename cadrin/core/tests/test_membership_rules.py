"""Who is in which group by a rule, and what becomes of it as people move."""

from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.membership_rules import (
    Belonging,
    InGroup,
    MembershipRule,
    groups_by_rule,
    settled,
)
from cadrin.core.tests.builders import MONDAY_NOON
from cadrin.core.validity import ALWAYS, Span

PARENTS = {1: None, 2: 1, 3: 2, 9: None}
A_WEEK = Span(MONDAY_NOON, MONDAY_NOON + timedelta(days=7))
groups = st.frozensets(st.integers(1, 4))


class Rules(TestCase):
    def test_hold_for_departments_below_and_for_all_that_is_named_together(self) -> None:
        rules = (
            MembershipRule(10, department_id=1),
            MembershipRule(11, department_id=2, kind_id=5),
            MembershipRule(12, company_id=7),
        )
        cases = {
            Belonging(3, 5, None): {10, 11},
            Belonging(3, 6, None): {10},
            Belonging(9, 5, 7): {12},
            Belonging(): set(),
        }
        for somebody, expected in cases.items():
            with self.subTest(somebody):
                self.assertEqual(groups_by_rule(somebody, rules, PARENTS), expected)


class WhatPeopleHave(TestCase):
    def test_comes_and_goes_with_the_rule(self) -> None:
        came = settled({}, (), frozenset({1}), frozenset())
        self.assertEqual(came.memberships, (InGroup(1, is_by_rule=True),))
        moved = settled({1: True}, ((1, ALWAYS),), frozenset({2}), frozenset())
        self.assertEqual(moved.memberships, (InGroup(2, is_by_rule=True),))
        self.assertEqual(moved.kept_out, frozenset())

    def test_given_by_hand_stays_when_the_rule_goes(self) -> None:
        stays = settled({1: False}, ((1, ALWAYS),), frozenset(), frozenset())
        self.assertEqual(stays.memberships, (InGroup(1),))

    def test_taken_away_by_hand_stays_away_until_it_is_given_again(self) -> None:
        gone = settled({1: True}, (), frozenset({1}), frozenset())
        self.assertEqual((gone.memberships, gone.kept_out), ((), frozenset({1})))
        later = settled({}, (), frozenset({1}), gone.kept_out)
        self.assertEqual(later.memberships, ())
        again = settled({}, ((1, ALWAYS),), frozenset({1}), gone.kept_out)
        self.assertEqual(
            (again.memberships, again.kept_out), ((InGroup(1, is_by_rule=True),), frozenset())
        )

    def test_with_times_is_no_rules(self) -> None:
        timed = settled({1: True}, ((1, A_WEEK),), frozenset({1}), frozenset())
        self.assertEqual(timed.memberships, (InGroup(1, A_WEEK),))

    @given(st.dictionaries(st.integers(1, 4), st.booleans()), groups, groups, groups)
    def test_is_the_same_when_it_is_settled_again(
        self,
        before: dict[int, bool],
        wanted: frozenset[int],
        ruled: frozenset[int],
        kept_out: frozenset[int],
    ) -> None:
        once = settled(before, ((id_, ALWAYS) for id_ in sorted(wanted)), ruled, kept_out)
        have = {one.group_id: one.is_by_rule for one in once.memberships}
        again = settled(
            have, ((one.group_id, one.span) for one in once.memberships), ruled, once.kept_out
        )
        self.assertEqual(again, once)
        self.assertLessEqual(ruled - once.kept_out, have.keys(), "every rule is kept")
        self.assertLessEqual({id_ for id_, by_rule in have.items() if by_rule}, ruled)

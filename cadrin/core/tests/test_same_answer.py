"""Whoever answers, the door, the reach or the preview: it is the same answer."""

import os
from dataclasses import replace
from datetime import datetime
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.access.difference import (
    compare,
    open_spans_of_doors,
    open_spans_of_ways_out,
    reach_difference,
    weeks_that_matter,
)
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import AccessGroup, Holder, Membership, Plan, Way
from cadrin.core.access.reach import reach
from cadrin.core.access.readiness import readiness
from cadrin.core.access.rights import next_opening, open_spans_at_door
from cadrin.core.credentials.factors import Evidence, ReaderPolicy
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Reason
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    FRONT,
    LAB,
    LAB_DOOR,
    LAB_READER,
    MONDAY_NOON,
    STORE_READER,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    everything_shown,
    groups,
    held,
    holders,
    instants,
    plans,
    policies,
)
from cadrin.core.tests.test_decide import CLOCKS_GO_BACK, DAY, DOORS
from cadrin.core.validity import Span

WEEK = Span(MONDAY_NOON, MONDAY_NOON + 7 * DAY)
CASES = int(os.environ.get("CADRIN_SAME_ANSWERS", "300"))
"""How many cardholders before how many houses; `make fuzz` asks at a million doors."""


class TheSameAnswerEverywhere(TestCase):
    @settings(max_examples=CASES)
    @given(holders(), plans(), instants())
    def test_reach_promises_what_the_door_decides(
        self, holder: Holder, plan: Plan, at: datetime
    ) -> None:
        records = held(plan, holder)
        week = Span(at - 3 * DAY, at + 4 * DAY)
        shown = everything_shown(holder)

        promised = {one.door_id: one for one in reach(holder, DOORS.values(), plan, at, week)}

        for reader, door in DOORS.items():
            granted = any(decide(evidence, reader, at, records).is_granted for evidence in shown)
            self.assertEqual(promised[door].is_open, granted)
            self.assertEqual(any(at in span for span in promised[door].open_spans), granted)

    @settings(max_examples=200)
    @given(holders(), policies(), policies(), groups(), instants())
    def test_reach_tells_the_way_in_and_the_way_out_apart(
        self,
        holder: Holder,
        ways_in: dict[int, ReaderPolicy],
        ways_out: dict[int, ReaderPolicy],
        lab: AccessGroup,
        at: datetime,
    ) -> None:
        out = {LAB_READER: 203, STORE_READER: 202}  # the front has no reader on the way out
        plan = a_plan(ways_in | {out[id_]: way for id_, way in ways_out.items() if id_ in out})
        doors = dict(plan.door_of_reader) | {other: DOORS[reader] for reader, other in out.items()}
        plan = replace(
            plan,
            door_of_reader=doors,
            readers_out=frozenset(out.values()),
            groups={**plan.groups, LAB: lab},
        )
        records = held(plan, holder)
        shown = everything_shown(holder)

        def opens(reader: int) -> bool:
            return any(decide(evidence, reader, at, records).is_granted for evidence in shown)

        for one in reach(holder, DOORS.values(), plan, at, Span(at - DAY, at + DAY)):
            reader = next(id_ for id_, door in DOORS.items() if door == one.door_id)
            self.assertEqual(one.is_open, opens(reader))
            if reader not in out:
                self.assertIsNone(one.reason_out)
                continue
            self.assertEqual(one.reason_out is Reason.GRANTED, opens(out[reader]))
            self.assertEqual(any(at in span for span in one.open_spans_out), opens(out[reader]))
        open_inwards = Roster([holder]).who_may_open(LAB_DOOR, plan, at)
        self.assertEqual(bool(open_inwards), opens(LAB_READER))

    def test_a_group_that_leads_out_alone_lets_nobody_in(self) -> None:
        for way, expected in (
            (Way.IN, (Reason.GRANTED, Reason.NO_MEMBERSHIP)),
            (Way.OUT, (Reason.NO_MEMBERSHIP, Reason.GRANTED)),
        ):
            with self.subTest(way):
                lab = AccessGroup.of_grants(LAB, "Lab", [(LAB_DOOR, ALWAYS_OPEN, way)])
                plan = replace(
                    a_plan(),
                    groups={LAB: lab},
                    door_of_reader={LAB_READER: LAB_DOOR, 203: LAB_DOOR},
                    readers_out=frozenset({203}),
                )
                records = held(plan, a_holder())
                shown = Evidence(a_read(a_card()))
                decided = tuple(
                    decide(shown, reader, MONDAY_NOON, records).reason
                    for reader in (LAB_READER, 203)
                )
                self.assertEqual(decided, expected)
                changed = (a_holder(memberships=()), a_holder())
                ins, outs = (
                    compare(*(spans(one, [LAB_DOOR], plan, [WEEK]) for one in changed))
                    for spans in (open_spans_of_doors, open_spans_of_ways_out)
                )
                gained = ((LAB_DOOR,), ()) if way is Way.IN else ((), (LAB_DOOR,))
                self.assertEqual((ins.gained, outs.gained), gained)

    def test_a_way_in_and_a_way_out_granted_apart_are_both(self) -> None:
        grants = [(LAB_DOOR, ALWAYS_OPEN, Way.OUT), (LAB_DOOR, ALWAYS_OPEN, Way.IN)]

        self.assertEqual(AccessGroup.of_grants(LAB, "Lab", grants).one_way, {})

    def test_a_door_with_a_reader_on_the_way_out_alone_lets_nobody_in(self) -> None:
        plan = replace(a_plan(), readers_out=frozenset({LAB_READER}))

        (lab,) = reach(
            a_holder(), [LAB_DOOR], plan, MONDAY_NOON, Span(MONDAY_NOON, MONDAY_NOON + DAY)
        )

        self.assertEqual(
            (lab.reason, lab.open_spans, lab.reason_out), (Reason.NO_WAY_IN, (), Reason.GRANTED)
        )
        self.assertEqual(Roster([a_holder()]).who_may_open(LAB_DOOR, plan, MONDAY_NOON), ())
        needs = readiness(a_holder(), plan, MONDAY_NOON)
        self.assertEqual([item.need for item in needs if item.gap], [])

    @settings(max_examples=200)
    @given(holders(), plans(), instants())
    def test_reach_stays_as_it_is_until_the_change_it_tells(
        self, holder: Holder, plan: Plan, at: datetime
    ) -> None:
        week = Span(at, at + 7 * DAY)

        for one in reach(holder, DOORS.values(), plan, at, week):
            if one.changes_at:
                (then,) = reach(holder, [one.door_id], plan, one.changes_at, week)
                self.assertNotEqual(then.is_open, one.is_open)

    @settings(max_examples=300)
    @given(holders(), st.just(a_plan()) | plans(), instants(CLOCKS_GO_BACK))
    def test_the_opening_that_is_told_is_the_first_that_reach_shows(
        self, holder: Holder, plan: Plan, at: datetime
    ) -> None:
        fortnight = Span(at, at + 14 * DAY)

        told = next_opening(holder, LAB_DOOR, plan, at, fortnight)

        lit = open_spans_at_door(holder, LAB_DOOR, plan, fortnight)
        self.assertEqual(told, lit[0].start if lit else None)

    @given(holders(1), holders(2), holders(3), plans(), instants())
    def test_everybody_who_may_open_a_door_is_everybody_it_would_open_for(
        self,
        one: Holder,
        other: Holder,
        third: Holder,
        plan: Plan,
        at: datetime,
    ) -> None:
        everybody = [one, other, third]

        found = Roster(everybody).who_may_open(LAB_DOOR, plan, at)

        expected = tuple(
            h.id for h in everybody if reach(h, [LAB_DOOR], plan, at, Span(at, at + DAY))[0].is_open
        )
        self.assertEqual(found, expected)
        doors = [*DOORS.values()]
        bits = np.unpackbits(Roster(everybody).matrix(doors, plan, at), axis=1, count=3)
        for door_id, row in zip(doors, bits, strict=True):
            opened = {h.id for h, bit in zip(everybody, row, strict=True) if bit}
            self.assertEqual(opened, set(Roster(everybody).who_may_open(door_id, plan, at)))

    @given(holders(), instants())
    def test_one_more_membership_never_closes_a_door(self, holder: Holder, at: datetime) -> None:
        more = a_holder(
            standing=holder.standing,
            span=holder.span,
            suspended_until=holder.suspended_until,
            cards=holder.cards,
            memberships=(*holder.memberships, Membership(LAB)),
        )
        plan, week = a_plan(), Span(at, at + 7 * DAY)

        change = compare(
            *(open_spans_of_doors(one, DOORS.values(), plan, [week]) for one in (holder, more))
        )

        self.assertEqual(change.lost, ())

    @given(holders(1), holders(1), plans(), instants())
    def test_what_a_change_opens_is_the_same_however_few_doors_are_looked_at(
        self, holder: Holder, other: Holder, plan: Plan, at: datetime
    ) -> None:
        weeks, doors = weeks_that_matter(at, holder, other), tuple(DOORS.values())

        for before, after in ((holder, other), (holder, holder)):
            at_every_door = tuple(
                compare(*(spans(one, doors, plan, weeks) for one in (before, after)))
                for spans in (open_spans_of_doors, open_spans_of_ways_out)
            )
            self.assertEqual(reach_difference(before, after, doors, plan, weeks), at_every_door)


class CardholderPreview(TestCase):
    def test_moving_from_one_group_to_another_tells_doors_gained_lost_and_with_other_hours(
        self,
    ) -> None:
        plan, week = a_plan(), Span(MONDAY_NOON, MONDAY_NOON + 7 * DAY)
        before = open_spans_of_doors(
            a_holder(memberships=(Membership(EVERYWHERE),)), DOORS.values(), plan, [week]
        )
        after = open_spans_of_doors(
            a_holder(memberships=(Membership(LAB),)), DOORS.values(), plan, [week]
        )

        forth, back = compare(before, after), compare(after, before)

        self.assertEqual((forth.gained, forth.lost, forth.other_hours), ((LAB_DOOR,), (), (FRONT,)))
        self.assertEqual(back.lost, (LAB_DOOR,))

    def test_what_begins_only_later_is_gained_all_the_same(self) -> None:
        next_month = a_holder(span=Span(MONDAY_NOON + 30 * DAY, None))

        weeks = weeks_that_matter(MONDAY_NOON, next_month)

        change = compare(
            *(
                open_spans_of_doors(one, [LAB_DOOR], a_plan(), weeks)
                for one in (a_holder(cards=()), next_month)
            )
        )
        self.assertEqual(change.gained, (LAB_DOOR,))

    def test_an_end_far_ahead_that_moves_is_told_too(self) -> None:
        sooner, later = (a_holder(span=Span(None, MONDAY_NOON + days * DAY)) for days in (30, 60))

        weeks = weeks_that_matter(MONDAY_NOON, sooner, later)

        change = compare(
            *(open_spans_of_doors(one, DOORS.values(), a_plan(), weeks) for one in (sooner, later))
        )
        self.assertEqual(change.other_hours, (FRONT, LAB_DOOR))

    def test_a_way_out_that_asks_for_something_else_is_compared_apart(self) -> None:
        out = {203: ReaderPolicy(Asks.CARD_AND_PIN)}
        plan = replace(a_plan(out), readers_out=frozenset({203}))
        plan = replace(plan, door_of_reader={**plan.door_of_reader, 203: LAB_DOOR})
        week = Span(MONDAY_NOON, MONDAY_NOON + 7 * DAY)
        before, after = a_holder(), a_holder(pins=(a_pin(),))

        ways_in = compare(
            *(open_spans_of_doors(one, DOORS.values(), plan, [week]) for one in (before, after))
        )
        ways_out = compare(
            *(open_spans_of_ways_out(one, DOORS.values(), plan, [week]) for one in (before, after))
        )

        self.assertTrue(ways_in.is_empty)
        self.assertEqual((ways_out.gained, ways_out.lost), ((LAB_DOOR,), ()))

    def test_a_card_that_expires_darkens_the_hours_it_no_longer_opens(self) -> None:
        card = a_card(span=Span(None, MONDAY_NOON + DAY))
        lit = open_spans_at_door(
            a_holder(cards=(card,)), FRONT, a_plan(), Span(MONDAY_NOON, MONDAY_NOON + 7 * DAY)
        )

        self.assertEqual(lit, (Span(MONDAY_NOON, MONDAY_NOON + DAY),))

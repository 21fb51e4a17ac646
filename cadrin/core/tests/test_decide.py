from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import product
from unittest import TestCase

from hypothesis import given, settings

from cadrin.core.access.difference import (
    compare,
    open_spans_of_doors,
    open_spans_of_ways_out,
    weeks_that_matter,
)
from cadrin.core.access.finder import Roster
from cadrin.core.access.plan import Holder, Membership
from cadrin.core.access.reach import reach
from cadrin.core.access.readiness import Gap, is_ready, readiness
from cadrin.core.access.rights import REASON_OF_HOLDER_STATE, next_opening, open_spans_at_door
from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import REASON_OF_STATUS, Card
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.factors import Evidence, Factor, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.decision.decide import decide, opens_next, steps_to
from cadrin.core.decision.reasons import Check, Reason
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.tests.builders import (
    EVERYWHERE,
    FRONT,
    FRONT_READER,
    LAB,
    LAB_DOOR,
    LAB_READER,
    MONDAY_NOON,
    NOWHERE,
    STORE,
    STORE_READER,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    everything_shown,
    held,
    holders,
    instants,
    policies,
)
from cadrin.core.validity import ALWAYS, Span, Standing, State

DAY = timedelta(days=1)
CLOCKS_GO_BACK = datetime(2026, 10, 25, 1, tzinfo=UTC)
PAST, AHEAD = Span(None, MONDAY_NOON - DAY), Span(MONDAY_NOON + DAY, None)
DOORS = {FRONT_READER: FRONT, LAB_READER: LAB_DOOR, STORE_READER: STORE}


def reason(holder: Holder, reader: int = LAB_READER, at: datetime = MONDAY_NOON) -> Reason:
    return decide(Evidence(a_read(a_card())), reader, at, held(a_plan(), holder)).reason


class OneRead(TestCase):
    def test_a_card_in_force_opens_its_door_within_the_hours(self) -> None:
        verdict = decide(
            Evidence(a_read(a_card())), LAB_READER, MONDAY_NOON, held(a_plan(), a_holder())
        )

        self.assertTrue(verdict.is_granted)
        self.assertEqual(verdict.group_id, LAB)
        self.assertEqual(verdict.holder.display_name if verdict.holder else None, "Holder 1")
        self.assertTrue(all(step.passed for step in verdict.steps))

    def test_each_thing_that_is_wrong_has_its_own_reason(self) -> None:
        only_lab = (Membership(LAB),)
        cases = {
            Reason.CARD_PENDING: a_holder(cards=(a_card(span=AHEAD),)),
            Reason.CARD_EXPIRED: a_holder(cards=(a_card(span=PAST),)),
            Reason.CARD_SUSPENDED: a_holder(cards=(a_card(status=CardStatus.SUSPENDED),)),
            Reason.CARD_LOST: a_holder(cards=(a_card(status=CardStatus.LOST),)),
            Reason.CARD_STOLEN: a_holder(cards=(a_card(status=CardStatus.STOLEN),)),
            Reason.CARD_DAMAGED: a_holder(cards=(a_card(status=CardStatus.DAMAGED),)),
            Reason.CARDHOLDER_PENDING: a_holder(span=AHEAD),
            Reason.CARDHOLDER_EXPIRED: a_holder(span=PAST),
            Reason.CARDHOLDER_SUSPENDED: a_holder(standing=Standing.SUSPENDED),
            Reason.CARDHOLDER_BARRED: a_holder(standing=Standing.BARRED),
            Reason.NO_MEMBERSHIP: a_holder(memberships=(Membership(EVERYWHERE),)),
            Reason.MEMBERSHIP_PENDING: a_holder(memberships=(Membership(LAB, AHEAD),)),
            Reason.MEMBERSHIP_EXPIRED: a_holder(memberships=(Membership(LAB, PAST),)),
            Reason.UNKNOWN_CARD: a_holder(cards=(a_card(1),), memberships=only_lab),
        }

        for expected, holder in cases.items():
            with self.subTest(expected):
                self.assertIs(reason(holder), expected)

    def test_outside_of_the_hours_the_next_opening_is_told(self) -> None:
        saturday_noon = MONDAY_NOON + 5 * DAY

        records = held(a_plan(), a_holder())
        verdict = decide(Evidence(a_read(a_card())), LAB_READER, saturday_noon, records)

        self.assertIs(verdict.reason, Reason.OUTSIDE_HOURS)
        # 08:00 on the wall
        self.assertEqual(
            opens_next(verdict, LAB_READER, saturday_noon, records),
            datetime.fromisoformat("2026-06-08T07:00:00+00:00"),
        )

    @settings(max_examples=200)
    @given(holders(), policies(), instants())
    def test_the_next_opening_is_of_what_was_shown_and_true(
        self, holder: Holder, policies: dict[int, ReaderPolicy], at: datetime
    ) -> None:
        records = held(a_plan(policies), holder)
        typed = [None, *(TYPED[pin.id] for pin in holder.pins)]
        for read, pin in product([*(a_read(card) for card in holder.cards), None], typed):
            verdict = decide(Evidence(read, pin), LAB_READER, at, records)
            told = opens_next(verdict, LAB_READER, at, records)
            if told:
                self.assertTrue(decide(Evidence(read, pin), LAB_READER, told, records).is_granted)
                for before in (told - timedelta(seconds=1), at + (told - at) / 2):
                    self.assertFalse(
                        decide(Evidence(read, pin), LAB_READER, before, records).is_granted
                    )

    def test_a_pin_that_was_not_typed_promises_nothing_for_a_card(self) -> None:
        saturday_noon = MONDAY_NOON + 5 * DAY
        until_sunday = a_card(span=Span(None, MONDAY_NOON + 6 * DAY))
        holder = a_holder(cards=(until_sunday,), pins=(a_pin(opens_alone=True),))
        records = held(a_plan({LAB_READER: ReaderPolicy(Asks.CARD_OR_PIN)}), holder)

        told = [
            opens_next(
                decide(Evidence(read, typed), LAB_READER, saturday_noon, records),
                LAB_READER,
                saturday_noon,
                records,
            )
            for read, typed in (
                (a_read(until_sunday), None),
                (None, TYPED[1]),
                (a_read(until_sunday), TYPED[1]),
            )
        ]

        self.assertEqual(told, [None, datetime.fromisoformat("2026-06-08T07:00:00+00:00"), None])

    def test_hours_that_begin_after_an_expiry_are_not_promised(self) -> None:
        saturday_noon = MONDAY_NOON + 5 * DAY
        leaves_on_sunday = a_holder(span=Span(None, MONDAY_NOON + 6 * DAY))

        records = held(a_plan(), leaves_on_sunday)

        verdict = decide(Evidence(a_read(a_card())), LAB_READER, saturday_noon, records)

        self.assertIs(verdict.reason, Reason.OUTSIDE_HOURS)
        self.assertIsNone(opens_next(verdict, LAB_READER, saturday_noon, records))

    def test_two_formats_of_one_length_are_tried_in_one_order_however_they_came(self) -> None:
        apart = replace(STANDARD_26_BIT, facility_code=BitField(2, 5), card_number=BitField(6, 25))
        plan = replace(a_plan(), formats={1: STANDARD_26_BIT, 2: apart})
        (alike,) = also_read_as(a_card().key, plan.formats)
        mine, theirs = a_holder(id_=1), a_holder(id_=2, cards=(Card(alike),))
        records = held(plan, mine, theirs)

        for came in ((1, 2), (2, 1)):
            for id_ in came:
                records.remove(RecordKey(RecordKind.FORMAT, id_))
            for id_ in came:
                records.put(RecordKey(RecordKind.FORMAT, id_), encode_format(plan.formats[id_]))
            verdict = decide(Evidence(a_read(a_card())), FRONT_READER, MONDAY_NOON, records)
            self.assertEqual(
                (verdict.card, verdict.holder and verdict.holder.id), (a_card().key, 1)
            )

    def test_a_bad_read_is_not_mistaken_for_an_unknown_card(self) -> None:
        records = held(a_plan(), a_holder())

        self.assertIs(
            decide(Evidence(RawRead(37, 5)), LAB_READER, MONDAY_NOON, records).reason,
            Reason.WRONG_LENGTH,
        )
        flipped = RawRead(26, a_read(a_card()).bits ^ 2)
        self.assertIs(
            decide(Evidence(flipped), LAB_READER, MONDAY_NOON, records).reason, Reason.WRONG_PARITY
        )

    def test_a_reader_that_is_not_set_up_opens_nothing(self) -> None:
        verdict = decide(Evidence(a_read(a_card())), 999, MONDAY_NOON, held(a_plan(), a_holder()))

        self.assertIs(verdict.reason, Reason.UNKNOWN_READER)

    def test_a_group_whose_schedule_has_not_arrived_opens_nothing(self) -> None:
        records = held(a_plan(), a_holder())
        records.plan.schedules.clear()  # type: ignore[attr-defined]

        self.assertIs(
            decide(Evidence(a_read(a_card())), LAB_READER, MONDAY_NOON, records).reason,
            Reason.OUTSIDE_HOURS,
        )


class EveryReason(TestCase):
    def test_has_steps_that_end_with_one_check_that_failed(self) -> None:
        for one in Reason:
            with self.subTest(one):
                steps = steps_to(one, tuple(Factor))
                self.assertEqual([step.check for step in steps], list(Check))
                passed = [step.passed for step in steps]
                before = passed.index(False) if False in passed else len(passed)
                self.assertEqual(
                    passed,
                    [True] * before
                    + [False] * (before < len(passed))
                    + [None] * (len(passed) - before - 1),
                )
                self.assertEqual(before == len(passed), one is Reason.GRANTED)

    def test_fails_at_the_check_it_is_named_for(self) -> None:
        named = {
            Reason.UNKNOWN_READER: "reader",
            Reason.UNKNOWN_CARD: "card_known",
            Reason.NO_MEMBERSHIP: "membership",
        }
        named |= {
            Reason.CARD_NOT_TAKEN: "taken",
            Reason.WRONG_PARITY: "read",
            Reason.OUTSIDE_HOURS: "hours",
        }
        beginnings = {
            "card_": "card_in_force",
            "pin_": "pin",
            "plate_": "plate",
            "cardholder_": "cardholder_in_force",
            "membership_": "membership",
        }
        for beginning, check in beginnings.items():
            others = (
                Reason.CARD_NOT_TAKEN,
                Reason.PIN_NOT_TAKEN,
                Reason.PLATE_NOT_TAKEN,
                Reason.CARD_MISSING,
            )
            named |= {
                one: check for one in Reason if one.startswith(beginning) and one not in others
            }
        for one, check in named.items():
            with self.subTest(one):
                failed = [
                    step.check.value
                    for step in steps_to(one, tuple(Factor))
                    if step.passed is False
                ]
                self.assertEqual(failed, [check])

    def test_every_status_and_state_that_denies_has_a_reason(self) -> None:
        self.assertEqual(set(REASON_OF_STATUS) | {CardStatus.ISSUED}, set(CardStatus))
        self.assertEqual(set(REASON_OF_HOLDER_STATE) | {State.IN_FORCE}, set(State))


class TheSameAnswerEverywhere(TestCase):
    @settings(max_examples=300)
    @given(holders(), policies(), instants())
    def test_reach_promises_what_the_door_decides(
        self, holder: Holder, policies: dict[int, ReaderPolicy], at: datetime
    ) -> None:
        plan = a_plan(policies)
        records = held(plan, holder)
        week = Span(at - 3 * DAY, at + 4 * DAY)
        shown = everything_shown(holder)

        promised = {one.door_id: one for one in reach(holder, DOORS.values(), plan, at, week)}

        for reader, door in DOORS.items():
            granted = any(decide(evidence, reader, at, records).is_granted for evidence in shown)
            self.assertEqual(promised[door].is_open, granted)
            self.assertEqual(any(at in span for span in promised[door].open_spans), granted)

    @settings(max_examples=200)
    @given(holders(), policies(), policies(), instants())
    def test_reach_tells_the_way_in_and_the_way_out_apart(
        self,
        holder: Holder,
        ways_in: dict[int, ReaderPolicy],
        ways_out: dict[int, ReaderPolicy],
        at: datetime,
    ) -> None:
        out = {LAB_READER: 203, STORE_READER: 202}  # the front has no reader on the way out
        plan = a_plan(ways_in | {out[id_]: way for id_, way in ways_out.items() if id_ in out})
        doors = dict(plan.door_of_reader) | {other: DOORS[reader] for reader, other in out.items()}
        plan = replace(plan, door_of_reader=doors, readers_out=frozenset(out.values()))
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
    @given(holders(), instants())
    def test_reach_stays_as_it_is_until_the_change_it_tells(
        self, holder: Holder, at: datetime
    ) -> None:
        plan, week = a_plan(), Span(at, at + 7 * DAY)

        for one in reach(holder, DOORS.values(), plan, at, week):
            if one.changes_at:
                (then,) = reach(holder, [one.door_id], plan, one.changes_at, week)
                self.assertNotEqual(then.is_open, one.is_open)

    @settings(max_examples=300)
    @given(holders(), instants(CLOCKS_GO_BACK))
    def test_the_opening_that_is_told_is_the_first_that_reach_shows(
        self, holder: Holder, at: datetime
    ) -> None:
        plan, fortnight = a_plan(), Span(at, at + 14 * DAY)

        told = next_opening(holder, LAB_DOOR, plan, at, fortnight)

        lit = open_spans_at_door(holder, LAB_DOOR, plan, fortnight)
        self.assertEqual(told, lit[0].start if lit else None)

    @given(holders(1), holders(2), holders(3), policies(), instants())
    def test_everybody_who_may_open_a_door_is_everybody_it_would_open_for(
        self,
        one: Holder,
        other: Holder,
        third: Holder,
        policies: dict[int, ReaderPolicy],
        at: datetime,
    ) -> None:
        everybody, plan = [one, other, third], a_plan(policies)

        found = Roster(everybody).who_may_open(LAB_DOOR, plan, at)

        expected = tuple(
            h.id for h in everybody if reach(h, [LAB_DOOR], plan, at, Span(at, at + DAY))[0].is_open
        )
        self.assertEqual(found, expected)

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


class Readiness(TestCase):
    def test_each_gap_is_named(self) -> None:
        lost: tuple[Card, ...] = (a_card(status=CardStatus.LOST),)
        cases = {
            Gap.NO_CARD: (a_holder(cards=()), 0),
            Gap.NO_CARD_IN_FORCE: (a_holder(cards=lost), 0),
            Gap.CARD_NOT_READ: (a_holder(pins=(a_pin(),)), 0),
            Gap.NO_PLATE: (a_holder(memberships=(Membership(EVERYWHERE),)), 0),
            Gap.NO_PIN: (a_holder(memberships=(Membership(EVERYWHERE),)), 0),
            Gap.NO_PIN_IN_FORCE: (
                a_holder(memberships=(Membership(EVERYWHERE),), pins=(a_pin(span=PAST),)),
                0,
            ),
            Gap.NO_ACCESS_GROUP: (a_holder(memberships=()), 0),
            Gap.GROUPS_OPEN_NOTHING: (a_holder(memberships=(Membership(NOWHERE),)), 0),
            Gap.NO_MEMBERSHIP_IN_FORCE: (a_holder(memberships=(Membership(LAB, PAST),)), 0),
            Gap.EXPIRED: (a_holder(span=PAST), 0),
            Gap.SUSPENDED: (a_holder(standing=Standing.SUSPENDED), 0),
            Gap.BARRED: (a_holder(standing=Standing.BARRED), 0),
            Gap.DEPARTED: (a_holder(standing=Standing.DEPARTED), 0),
            Gap.NOT_HELD: (a_holder(), 2),
        }

        # a keypad at the front, and at the laboratory a reader that cannot read these cards
        asking = {
            FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN),
            LAB_READER: ReaderPolicy(Asks.CARD, frozenset({2})),
        }
        self.assertEqual(set(cases), set(Gap))
        for gap, (holder, not_held) in cases.items():
            with self.subTest(gap):
                policies = (
                    asking if gap in (Gap.CARD_NOT_READ, Gap.NO_PIN, Gap.NO_PIN_IN_FORCE) else {}
                )
                if gap is Gap.NO_PLATE:
                    policies = {FRONT_READER: ReaderPolicy(Asks.CARD_AND_PLATE)}
                found = [
                    item.gap
                    for item in readiness(holder, a_plan(policies), MONDAY_NOON, not_held)
                    if item.gap
                ]
                self.assertEqual(found, [gap])

    def test_whoever_goes_by_a_pin_alone_needs_no_card(self) -> None:
        by_either = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_OR_PIN)})
        everywhere = (Membership(EVERYWHERE),)

        def gaps(*pins: Pin, memberships: tuple[Membership, ...] = everywhere) -> list[Gap]:
            holder = a_holder(cards=(), memberships=memberships, pins=pins)
            return [item.gap for item in readiness(holder, by_either, MONDAY_NOON) if item.gap]

        self.assertEqual(gaps(a_pin(opens_alone=True)), [])
        self.assertEqual(gaps(a_pin(opens_alone=True, span=PAST)), [Gap.NO_PIN_IN_FORCE])
        self.assertEqual(gaps(a_pin()), [Gap.NO_CARD])  # it opens nothing by itself
        both = (Membership(EVERYWHERE), Membership(LAB))  # the laboratory takes cards alone
        self.assertEqual(gaps(a_pin(opens_alone=True), memberships=both), [Gap.NO_CARD])

    def test_whoever_is_all_set_for_a_later_start_is_ready(self) -> None:
        starts_tomorrow = a_holder(
            span=AHEAD, cards=(a_card(span=AHEAD),), memberships=(Membership(LAB, AHEAD),)
        )

        self.assertTrue(is_ready(readiness(starts_tomorrow, a_plan(), MONDAY_NOON)))
        self.assertEqual(starts_tomorrow.span, AHEAD)
        self.assertNotEqual(AHEAD, ALWAYS)

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import product
from unittest import TestCase

from hypothesis import given, settings

from cadrin.core.access.plan import Holder, Membership
from cadrin.core.access.rights import REASON_OF_HOLDER_STATE
from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import REASON_OF_STATUS, Card
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.factors import Evidence, Factor, ReaderPolicy
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.decision.reasons import OF_A_DOORS_OWN, Check, Reason
from cadrin.core.decision.verdict import steps_to
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
    STORE,
    STORE_READER,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
    holders,
    instants,
    policies,
)
from cadrin.core.validity import Span, Standing, State

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
                failing = [step.check for step in steps if step.passed is False]
                asked = [
                    check for check in Check if check not in OF_A_DOORS_OWN or check in failing
                ]
                self.assertEqual([step.check for step in steps], asked)
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
            "finger_": "finger",
            "face_": "face",
            "cardholder_": "cardholder_in_force",
            "membership_": "membership",
        }
        for beginning, check in beginnings.items():
            others = (
                Reason.CARD_NOT_TAKEN,
                Reason.PIN_NOT_TAKEN,
                Reason.PLATE_NOT_TAKEN,
                Reason.FINGER_NOT_TAKEN,
                Reason.FACE_NOT_TAKEN,
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

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.plan import Membership
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide
from cadrin.core.records.card_formats import decode_format, encode_format
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind, digest, sum_of
from cadrin.core.records.order import KINDS, ORDER_OF_SENDING, Stage
from cadrin.core.records.plan_records import plan_at_controller
from cadrin.core.records.states import RecordState
from cadrin.core.tests.builders import (
    EVERYWHERE,
    FRONT,
    FRONT_READER,
    LAB,
    LAB_READER,
    MONDAY_NOON,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
)
from cadrin.core.validity import Standing

ONE = RecordKey(RecordKind.CARDHOLDER, 1)
digests = st.integers(0, 2**128 - 1).map(lambda n: f"{n:032x}")


class WhatAControllerShouldHold(TestCase):
    def test_only_whoever_has_a_card_and_a_group_with_a_door_there(self) -> None:
        front_only = plan_at_controller(a_plan(), {FRONT_READER: FRONT})
        lab_only = plan_at_controller(a_plan(), {LAB_READER: a_plan().door_of_reader[LAB_READER]})
        everywhere = a_holder(memberships=(Membership(EVERYWHERE),))

        self.assertIsNotNone(encode_cardholder(everywhere, front_only))
        self.assertIsNone(encode_cardholder(everywhere, lab_only))
        self.assertIsNone(encode_cardholder(a_holder(cards=()), front_only))
        self.assertIsNone(encode_cardholder(a_holder(standing=Standing.DEPARTED), front_only))

    def test_the_suspended_and_barred_are_held_so_that_the_door_can_say_why(self) -> None:
        for standing in (Standing.SUSPENDED, Standing.BARRED):
            with self.subTest(standing):
                self.assertIsNotNone(encode_cardholder(a_holder(standing=standing), a_plan()))

    def test_a_plan_is_cut_down_to_the_doors_of_the_controller(self) -> None:
        here = plan_at_controller(a_plan(), {LAB_READER: a_plan().door_of_reader[LAB_READER]})

        self.assertEqual(set(here.groups), {LAB})
        self.assertEqual(
            set(here.schedules),
            set(here.groups[LAB].schedules_of_door[here.door_of_reader[LAB_READER]]),
        )

    def test_another_controller_s_groups_are_not_told(self) -> None:
        lab_only = plan_at_controller(a_plan(), {LAB_READER: a_plan().door_of_reader[LAB_READER]})

        body = (
            encode_cardholder(
                a_holder(memberships=(Membership(EVERYWHERE), Membership(LAB))), lab_only
            )
            or {}
        )

        self.assertEqual([membership["group"] for membership in body["memberships"]], [LAB])


class Records(TestCase):
    def test_a_format_survives_writing_and_reading(self) -> None:
        body = encode_format(STANDARD_26_BIT)
        self.assertEqual(decode_format(body), STANDARD_26_BIT)
        # short where it can be
        self.assertEqual((body["facility_code"], body["card_number"]), ([2, 9], [10, 25]))

    def test_a_removed_record_opens_nothing(self) -> None:
        records = held(a_plan(), a_holder())

        records.remove(ONE)

        self.assertFalse(
            decide(Evidence(a_read(a_card())), FRONT_READER, MONDAY_NOON, records).is_granted
        )

    def test_a_card_passed_on_stays_with_its_new_holder_when_the_old_record_goes(self) -> None:
        records = held(a_plan(), a_holder(id_=1), a_holder(id_=2))

        records.remove(ONE)

        verdict = decide(Evidence(a_read(a_card())), FRONT_READER, MONDAY_NOON, records)
        self.assertEqual(verdict.holder.id if verdict.holder else None, 2)

    def test_a_body_that_is_none_leaves_the_older_record(self) -> None:
        records = held(a_plan(), a_holder())

        with self.assertRaises(KeyError):
            records.put(ONE, {"number": "S-1"})

        self.assertTrue(
            decide(Evidence(a_read(a_card())), FRONT_READER, MONDAY_NOON, records).is_granted
        )

    def test_every_record_has_its_turn_and_what_is_taken_away_has_it_first(self) -> None:
        for kind in KINDS:
            for is_put in (True, False):
                with self.subTest(kind, is_put=is_put):
                    self.assertIn(Stage(kind, is_put=is_put), ORDER_OF_SENDING)

        refused, first, second, *others = ORDER_OF_SENDING
        self.assertEqual((refused.states, refused.is_withdrawal), ((RecordState.REFUSED,), True))
        self.assertEqual(first, Stage(RecordKind.CARDHOLDER, is_withdrawal=True))
        self.assertEqual(second, Stage(RecordKind.GROUP, is_put=False))
        puts = [stage.kind for stage in others if stage.is_put]
        self.assertEqual(puts, list(KINDS), "each kind after those it leans on")


class Digests(TestCase):
    def test_differ_when_key_or_content_do(self) -> None:
        body = encode_cardholder(a_holder(), a_plan()) or {}

        self.assertEqual(digest(ONE, body), digest(ONE, dict(reversed(body.items()))))
        self.assertNotEqual(digest(ONE, body), digest(RecordKey(RecordKind.CARDHOLDER, 2), body))
        self.assertNotEqual(digest(ONE, body), digest(ONE, body | {"name": "Somebody else"}))

    @given(st.lists(digests, unique=True), digests)
    def test_the_sum_forgets_order_and_takes_back_what_was_added(
        self, many: list[str], one: str
    ) -> None:
        self.assertEqual(sum_of(many), sum_of(reversed(many)))
        self.assertEqual(sum_of([sum_of([*many, one]), one]), sum_of(many))

"""What a controller makes of records that come, are changed, and go: each is seen by what a reader
then does.
"""

from dataclasses import replace
from unittest import TestCase

from hypothesis import given

from cadrin.core.access.plan import Holder, Membership, Plan
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import Evidence, ReaderPolicy
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import THE_RULES, RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    FRONT_READER,
    LAB_READER,
    MONDAY_NOON,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
    holders,
)

KEYPAD = ReaderPolicy(Asks.CARD_OR_PIN)
ONE = RecordKey(RecordKind.CARDHOLDER, 1)


def reason(
    records: HeldRecords, reader: int = FRONT_READER, typed: str | None = None, number: int = 4751
) -> Reason:
    read = a_read(a_card(number)) if typed is None else None
    return decide(Evidence(read, typed), reader, MONDAY_NOON, records).reason


class Removing(TestCase):
    def test_each_kind_of_record_takes_with_it_what_it_said(self) -> None:
        cases = {
            RecordKey(RecordKind.FORMAT, 1): Reason.WRONG_LENGTH,
            RecordKey(RecordKind.SCHEDULE, ALWAYS_OPEN): Reason.OUTSIDE_HOURS,
            RecordKey(RecordKind.READER, FRONT_READER): Reason.UNKNOWN_READER,
            RecordKey(RecordKind.GROUP, EVERYWHERE): Reason.NO_MEMBERSHIP,
            ONE: Reason.UNKNOWN_CARD,
        }
        for key, expected in cases.items():
            with self.subTest(str(key)):
                records = held(a_plan(), a_holder(memberships=(Membership(EVERYWHERE),)))
                self.assertIs(reason(records), Reason.GRANTED)

                records.remove(key)

                self.assertIs(reason(records), expected)
                records.remove(key)  # one that is not held is no error
                self.assertEqual(records.has(ONE), key != ONE)
                self.assertEqual(records.holder_count, int(key != ONE))

    def test_a_card_between_two_records_goes_back_to_whoever_still_has_it(self) -> None:
        records = held(a_plan(), a_holder(id_=1), a_holder(id_=2), a_holder(id_=3))

        def whose() -> int | None:
            holder = decide(Evidence(a_read(a_card())), FRONT_READER, MONDAY_NOON, records).holder
            return holder.id if holder else None

        self.assertEqual(whose(), 3)
        records.remove(RecordKey(RecordKind.CARDHOLDER, 3))
        self.assertEqual(whose(), 2)
        records.remove(ONE)
        self.assertEqual(whose(), 2)
        records.remove(RecordKey(RecordKind.CARDHOLDER, 2))
        self.assertIsNone(whose())

    def test_of_two_with_the_same_pin_the_one_who_stays_keeps_it(self) -> None:
        plan = a_plan({FRONT_READER: KEYPAD})
        records = held(plan, a_holder(id_=2, cards=(), pins=(a_pin(opens_alone=True),)))
        records.put(
            ONE, encode_cardholder(a_holder(cards=(), pins=(a_pin(opens_alone=True),)), plan) or {}
        )

        records.remove(RecordKey(RecordKind.CARDHOLDER, 2))

        self.assertIs(reason(records, typed=TYPED[1]), Reason.GRANTED)


class Changing(TestCase):
    def put_plan(self, records: HeldRecords, plan: Plan) -> None:
        for key, body in plan_records(plan).items():
            records.put(key, body)

    def test_a_reader_that_is_set_back_to_any_card_takes_any_card(self) -> None:
        records = held(
            a_plan(
                {
                    FRONT_READER: ReaderPolicy(Asks.PIN),
                    LAB_READER: ReaderPolicy(formats=frozenset({2})),
                }
            ),
            a_holder(),
        )
        self.assertEqual(
            (reason(records), reason(records, LAB_READER)),
            (Reason.CARD_NOT_TAKEN, Reason.FORMAT_NOT_READ),
        )

        self.put_plan(records, a_plan())

        self.assertEqual(
            (reason(records), reason(records, LAB_READER)), (Reason.GRANTED, Reason.GRANTED)
        )

    def test_another_door_beside_a_reader_counts_at_once(self) -> None:
        records = held(a_plan(), a_holder(memberships=(Membership(EVERYWHERE),)))
        self.assertIs(reason(records, LAB_READER), Reason.NO_MEMBERSHIP)

        records.put(
            RecordKey(RecordKind.READER, LAB_READER),
            {"door": a_plan().door_of_reader[FRONT_READER]},
        )

        self.assertIs(reason(records, LAB_READER), Reason.GRANTED)

    def test_a_pin_opens_alone_only_where_its_record_says_so(self) -> None:
        plan = a_plan({FRONT_READER: KEYPAD})
        records = held(plan, a_holder(pins=(a_pin(), a_pin(2, opens_alone=True))))

        self.assertIs(reason(records, typed=TYPED[1]), Reason.PIN_WRONG)
        self.assertIs(reason(records, typed=TYPED[2]), Reason.GRANTED)

    def test_a_pin_is_its_holders_beside_their_card_and_nobody_elses(self) -> None:
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN)})
        other = a_holder(id_=2, cards=(a_card(2),), pins=(a_pin(2, opens_alone=True),))
        records = held(plan, a_holder(pins=(a_pin(),)), other)

        typed = [
            decide(
                Evidence(a_read(a_card()), TYPED[id_]), FRONT_READER, MONDAY_NOON, records
            ).reason
            for id_ in (1, 2)
        ]

        self.assertEqual(typed, [Reason.GRANTED, Reason.PIN_WRONG])


class Uses(TestCase):
    KEY = CardKey(1, 12, 4751)

    def limited(self, most: int, since: int = 0) -> Holder:
        limit = UseLimit(most, MONDAY_NOON.replace(second=since))
        return a_holder(cards=(replace(a_card(), limit=limit),))

    def test_outlive_a_restart(self) -> None:
        before = held(a_plan(), self.limited(1))
        use = before.count_use(self.KEY)
        assert use
        self.assertEqual(use[2], 1)

        after = held(a_plan(), self.limited(1))
        self.assertIs(reason(after), Reason.GRANTED)
        after.know_uses([use])
        self.assertIs(reason(after), Reason.CARD_USED_UP)
        self.assertEqual(after.count_use(self.KEY), (*use[:2], 2))

    def test_are_counted_anew_for_another_limit(self) -> None:
        records = held(a_plan(), self.limited(1))
        records.count_use(self.KEY)
        self.assertIs(reason(records), Reason.CARD_USED_UP)

        records.put(ONE, encode_cardholder(self.limited(1, since=5), a_plan()) or {})

        self.assertIs(reason(records), Reason.GRANTED)

    def test_of_a_card_without_a_limit_are_not_counted(self) -> None:
        records = held(a_plan(), a_holder())

        self.assertIsNone(records.count_use(self.KEY))
        self.assertIsNone(records.count_use(CardKey(1, 12, 99)))
        self.assertEqual(records.uses_of(a_card()), 0)


class Understood(TestCase):
    def test_a_record_with_a_field_that_is_not_known_is_kept_out_and_says_which(self) -> None:
        plan = a_plan({FRONT_READER: KEYPAD})
        holder = a_holder(pins=(a_pin(),))
        bodies = {**plan_records(plan), ONE: encode_cardholder(holder, plan) or {}}
        for key, body in bodies.items():
            with self.subTest(str(key)):
                records = held(plan, holder)
                with self.assertRaises(Invalid) as caught:
                    records.put(key, {**body, "colour": "red"})
                self.assertEqual(
                    [problem.field for problem in caught.exception.problems], ["colour"]
                )
        inside = {**bodies[ONE], "cards": [{**bodies[ONE]["cards"][0], "colour": "red"}]}
        with self.assertRaises(Invalid):
            held(plan, holder).put(ONE, inside)

    def test_the_key_of_pins_is_there_exactly_while_a_reader_asks_for_them(self) -> None:
        keypad, plain = a_plan({FRONT_READER: KEYPAD}), a_plan()
        unknown = replace(keypad, pins=replace(keypad.pins, is_known=False))

        self.assertEqual(plan_records(keypad)[THE_RULES]["pin_hash_key"], keypad.pins.hash_key)
        self.assertNotIn(THE_RULES, plan_records(plain))
        self.assertNotIn(THE_RULES, plan_records(unknown))
        records = held(keypad, a_holder(pins=(a_pin(opens_alone=True),)))
        records.remove(THE_RULES)
        self.assertEqual(records.plan.pins.hash_key, "")


class Written(TestCase):
    @given(holders())
    def test_a_cardholder_is_read_back_as_they_were(self, holder: Holder) -> None:
        plan = a_plan({FRONT_READER: KEYPAD, LAB_READER: ReaderPolicy((*Asks.PLATE, *Asks.FINGER))})
        holder = replace(holder, extended_time=bool(holder.memberships))
        body = encode_cardholder(holder, plan)
        if body is None:
            return
        records = HeldRecords()
        records.put(ONE, body)

        (again,) = records._holders.values()

        def of(one: Holder) -> tuple[object, ...]:
            limits = {
                card.key: card.limit and (card.limit.most, card.limit.used_elsewhere(""))
                for card in one.cards
            }
            cards = {replace(card, limit=None) for card in one.cards}
            return (
                {**limits},
                cards,
                set(one.memberships),
                set(one.pins),
                set(one.fingers),
                replace(one, cards=(), memberships=(), pins=(), fingers=()),
            )

        self.assertEqual(of(again), of(holder))

"""Fingers at doors: one to one, one to many, by card alone, and while consent is in force."""

from dataclasses import replace
from unittest import TestCase

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.card.room import ANY_MEMORY
from cadrin.core.credentials.factors import Evidence, Factor, ReaderPolicy
from cadrin.core.credentials.finger.comparison import prints_of
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.situation import NOBODYS
from cadrin.core.decision.verdict import Verdict
from cadrin.core.errors import Invalid
from cadrin.core.records.biometrics import FingerSample, encode_biometric
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.tests.builders import (
    FRONT_READER,
    LAID,
    MONDAY_NOON,
    SAMPLES,
    TYPED,
    Asks,
    a_card,
    a_finger,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
)
from cadrin.core.tests.test_decide import AHEAD, PAST
from cadrin.core.validity import ALWAYS, Span

MINE, THEIRS, STRANGE = SAMPLES[1], SAMPLES[2], SAMPLES[NOBODYS]
READ, OTHER_READ = a_read(a_card()), a_read(a_card(99))


def verdict(
    policy: ReaderPolicy,
    holder: Holder,
    *,
    read: RawRead | None = None,
    finger: FingerSample | None = None,
    typed: str | None = None,
) -> Verdict:
    other = a_holder(id_=2, cards=(a_card(99),), fingers=(a_finger(2),))
    records = held(a_plan({FRONT_READER: policy}), holder, other)
    return decide(Evidence(read, typed, finger=finger), FRONT_READER, MONDAY_NOON, records)


class Fingers(TestCase):
    def test_each_way_of_asking_takes_what_is_right_and_nothing_else(self) -> None:
        holder = a_holder(fingers=(a_finger(1),), pins=(a_pin(),))
        pin = TYPED[1]
        cases = (
            (Asks.FINGER, None, MINE, None, Reason.GRANTED),
            (Asks.FINGER, None, STRANGE, None, Reason.UNKNOWN_FINGER),
            (Asks.FINGER, READ, None, None, Reason.CARD_NOT_TAKEN),
            (Asks.CARD, None, MINE, None, Reason.FINGER_NOT_TAKEN),
            (Asks.CARD, READ, MINE, None, Reason.FINGER_NOT_TAKEN),
            (Asks.CARD_AND_FINGER, READ, None, None, Reason.FINGER_MISSING),
            (Asks.CARD_AND_FINGER, None, MINE, None, Reason.CARD_MISSING),
            (Asks.CARD_AND_FINGER, READ, MINE, None, Reason.GRANTED),
            (Asks.CARD_AND_FINGER, READ, THEIRS, None, Reason.FINGER_OF_ANOTHER),
            (Asks.CARD_AND_FINGER, OTHER_READ, MINE, None, Reason.FINGER_OF_ANOTHER),
            (Asks.FINGER_AND_PIN, None, MINE, pin, Reason.GRANTED),
            (Asks.FINGER_AND_PIN, None, MINE, "000000", Reason.PIN_WRONG),
            (Asks.FINGER_AND_PIN, None, THEIRS, pin, Reason.PIN_MISSING),
            (Asks.TWO_OF_THREE, READ, MINE, None, Reason.GRANTED),
            (Asks.TWO_OF_THREE, READ, None, pin, Reason.GRANTED),
            (Asks.TWO_OF_THREE, None, MINE, pin, Reason.GRANTED),
            (Asks.TWO_OF_THREE, READ, None, None, Reason.FINGER_MISSING),
            (Asks.TWO_OF_THREE, READ, STRANGE, pin, Reason.FINGER_OF_ANOTHER),
        )

        for asked, read, finger, typed, reason in cases:
            with self.subTest(asked=asked, read=read, finger=finger is MINE, typed=typed):
                found = verdict(ReaderPolicy(asked), holder, read=read, finger=finger, typed=typed)
                self.assertIs(found.reason, reason)

    def test_a_finger_alone_says_whose_it_is(self) -> None:
        holder = a_holder(fingers=(a_finger(1),))

        found = [
            verdict(ReaderPolicy(Asks.FINGER), holder, finger=f).holder for f in (MINE, THEIRS)
        ]

        self.assertEqual([who and who.id for who in found], [1, 2])

    def test_nothing_opens_after_the_consent(self) -> None:
        holder = a_holder(fingers=(a_finger(1, agreed=Span(None, PAST.end)),))

        found = verdict(ReaderPolicy(Asks.CARD_AND_FINGER), holder, read=READ, finger=MINE)

        self.assertIs(found.reason, Reason.FINGER_WITHOUT_CONSENT)

    def test_a_finger_counts_in_its_time_and_while_it_is_not_suspended(self) -> None:
        cases = (
            (a_finger(1, span=AHEAD), MINE, Reason.FINGER_PENDING),
            (a_finger(1, span=PAST), MINE, Reason.FINGER_EXPIRED),
            (a_finger(1, is_suspended=True), MINE, Reason.FINGER_SUSPENDED),
            (a_finger(1, is_suspended=True), STRANGE, Reason.FINGER_SUSPENDED),
            (a_finger(1, agreed=PAST, is_suspended=True), MINE, Reason.FINGER_WITHOUT_CONSENT),
        )
        for finger, laid, reason in cases:
            with self.subTest(reason):
                holder = a_holder(fingers=(finger,))
                found = verdict(ReaderPolicy(Asks.CARD_AND_FINGER), holder, read=READ, finger=laid)
                self.assertIs(found.reason, reason)

    def test_no_door_holds_a_finger_that_is_suspended(self) -> None:
        holder = a_holder(fingers=(a_finger(1, is_suspended=True),))

        found = verdict(ReaderPolicy(Asks.FINGER), holder, finger=MINE)

        self.assertIs(found.reason, Reason.UNKNOWN_FINGER)
        with_record = replace(holder.fingers[0], record=a_finger(1).record)
        self.assertNotIn("record", encode_biometric(with_record, ANY_MEMORY))

    def test_the_finger_for_duress_opens_and_alarms(self) -> None:
        holder = a_holder(fingers=(a_finger(1), a_finger(2, is_duress=True)))
        records = held(a_plan({FRONT_READER: ReaderPolicy(Asks.FINGER)}), holder)

        found = [
            decide(Evidence(finger=finger), FRONT_READER, MONDAY_NOON, records)
            for finger in (MINE, THEIRS)
        ]

        self.assertEqual(
            [(v.is_granted, v.is_duress) for v in found], [(True, False), (True, True)]
        )

    def test_a_stricter_reader_takes_less(self) -> None:
        holder = a_holder(fingers=(a_finger(1),))
        part = FingerSample(prints_of(LAID[1].minutiae[:30]))

        usual, strict = (
            verdict(
                ReaderPolicy(Asks.CARD_AND_FINGER, finger_match=match),
                holder,
                read=READ,
                finger=part,
            ).reason
            for match in (20, 99)
        )

        self.assertEqual((usual, strict), (Reason.GRANTED, Reason.FINGER_OF_ANOTHER))

    def test_templates_go_only_where_a_reader_asks_for_them(self) -> None:
        holder = a_holder(fingers=(a_finger(1),), card_alone=ALWAYS)

        here = encode_cardholder(holder, a_plan({FRONT_READER: ReaderPolicy(Asks.FINGER)})) or {}
        elsewhere = encode_cardholder(holder, a_plan()) or {}

        self.assertEqual(("fingers" in here, "card_alone" in here), (True, True))
        self.assertEqual(("fingers" in elsewhere, "card_alone" in elsewhere), (False, False))

    def test_a_template_that_is_none_is_refused_and_the_older_record_stays(self) -> None:
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.FINGER)})
        holder = a_holder(fingers=(a_finger(1),))
        records = held(plan, holder)
        body = encode_cardholder(holder, plan) or {}
        broken = {**body, "fingers": [{"id": 1, "record": "Rk1SAA=="}]}

        with self.assertRaises(Invalid):
            records.put(RecordKey(RecordKind.CARDHOLDER, 1), broken)

        found = decide(Evidence(finger=MINE), FRONT_READER, MONDAY_NOON, records)
        self.assertTrue(found.is_granted)

    def test_is_forgotten_with_its_cardholder(self) -> None:
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.FINGER)})
        records = held(plan, a_holder(fingers=(a_finger(1),)))

        records.remove(RecordKey(RecordKind.CARDHOLDER, 1))

        found = decide(Evidence(finger=MINE), FRONT_READER, MONDAY_NOON, records)
        self.assertIs(found.reason, Reason.UNKNOWN_FINGER)


class ByCardAlone(TestCase):
    def test_a_card_is_enough_where_a_finger_is_asked_and_only_in_its_time(self) -> None:
        later = Span(MONDAY_NOON.replace(hour=13), None)
        cases = (
            (Asks.FINGER, ALWAYS, Reason.GRANTED),
            (Asks.CARD_AND_FINGER, ALWAYS, Reason.GRANTED),
            (Asks.CARD_AND_FINGER, PAST, Reason.FINGER_MISSING),
            (Asks.CARD_AND_FINGER, later, Reason.FINGER_MISSING),
            (Asks.FINGER, PAST, Reason.CARD_NOT_TAKEN),
            (Asks.FINGER_AND_PIN, ALWAYS, Reason.PIN_MISSING),
            (Asks.PIN, ALWAYS, Reason.CARD_NOT_TAKEN),
        )

        for asked, span, reason in cases:
            with self.subTest(asked=asked, span=span):
                holder = a_holder(card_alone=span, pins=(a_pin(),))
                self.assertIs(verdict(ReaderPolicy(asked), holder, read=READ).reason, reason)

    def test_what_was_presented_must_still_be_right(self) -> None:
        holder = a_holder(card_alone=ALWAYS, fingers=(a_finger(1),))

        found = verdict(ReaderPolicy(Asks.CARD_AND_FINGER), holder, read=READ, finger=THEIRS)

        self.assertIs(found.reason, Reason.FINGER_OF_ANOTHER)

    def test_nobody_else_is_let_in_so(self) -> None:
        policy = ReaderPolicy(((Factor.FINGER,), (Factor.CARD, Factor.PIN)))
        holder = replace(a_holder(pins=(a_pin(),)), card_alone=None)

        self.assertIs(verdict(policy, holder, read=READ).reason, Reason.PIN_MISSING)
        self.assertTrue(verdict(policy, holder, read=READ, typed=TYPED[1]).is_granted)

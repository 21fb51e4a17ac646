from dataclasses import replace
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.rights import judge_credentials
from cadrin.core.credentials.factors import (
    FACTORS,
    Evidence,
    Factor,
    PolicyHours,
    ReaderPolicy,
    factors_of,
)
from cadrin.core.credentials.plate.plate import Plate, normalized_plate, problems_with_plate
from cadrin.core.decision.decide import decide
from cadrin.core.decision.events import Event, read_events, to_event
from cadrin.core.decision.reasons import REASONS, Check, Reason
from cadrin.core.errors import Invalid
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.tests.builders import (
    FRONT_READER,
    MONDAY_NOON,
    OFFICE,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
    instants,
    policies,
)
from cadrin.core.validity import Span

NIGHT = MONDAY_NOON + timedelta(hours=10)
MINE, THEIRS = Plate("SK04OAB"), Plate("SK17XYZ")
PIN = TYPED[1]


class Plates(TestCase):
    def test_are_one_however_they_are_written(self) -> None:
        self.assertEqual(
            {normalized_plate(text) for text in ("SK04 OAB", "sk-04-oab", " Sk04 Öab ")},
            {"SK04OAB"},
        )

    def test_are_neither_too_short_nor_too_long(self) -> None:
        for text, is_refused in (
            ("", True),
            ("A", True),
            ("- -", True),
            ("AB", False),
            ("A" * 12, False),
            ("A" * 13, True),
        ):
            with self.subTest(text):
                self.assertEqual(bool(problems_with_plate(text)), is_refused)

    def test_open_where_a_camera_asks_for_them_alone_or_with_something_else(self) -> None:
        holder = a_holder(plates=(MINE,), pins=(a_pin(),))
        other = a_holder(id_=2, cards=(a_card(99),), plates=(THEIRS,))
        read = a_read(a_card())
        cases = (
            (Asks.PLATE, Evidence(plate=MINE.number), Reason.GRANTED),
            (Asks.PLATE, Evidence(plate="NOBODY1"), Reason.UNKNOWN_PLATE),
            (Asks.PLATE, Evidence(read), Reason.CARD_NOT_TAKEN),
            (Asks.CARD, Evidence(plate=MINE.number), Reason.PLATE_NOT_TAKEN),
            (Asks.CARD_OR_PLATE, Evidence(read), Reason.GRANTED),
            (Asks.CARD_OR_PLATE, Evidence(read, plate=MINE.number), Reason.GRANTED),
            (Asks.CARD_OR_PLATE, Evidence(read, plate=THEIRS.number), Reason.PLATE_OF_ANOTHER),
            (Asks.CARD_AND_PLATE, Evidence(read), Reason.PLATE_MISSING),
            (Asks.CARD_AND_PLATE, Evidence(plate=MINE.number), Reason.CARD_MISSING),
            (Asks.CARD_AND_PLATE, Evidence(read, plate=MINE.number), Reason.GRANTED),
            (Asks.CARD_AND_PLATE, Evidence(read, plate=THEIRS.number), Reason.PLATE_OF_ANOTHER),
            (Asks.PLATE_AND_PIN, Evidence(plate=MINE.number), Reason.PIN_MISSING),
            (Asks.PLATE_AND_PIN, Evidence(typed=PIN, plate=MINE.number), Reason.GRANTED),
            (Asks.PLATE_AND_PIN, Evidence(typed="000000", plate=MINE.number), Reason.PIN_WRONG),
            (Asks.PLATE_AND_PIN, Evidence(typed=PIN), Reason.PIN_NOT_TAKEN),
            # a PIN that goes with a card only is no PIN alone, whatever else is shown
            ((*Asks.PIN, *Asks.CARD_AND_PLATE), Evidence(read, PIN), Reason.PLATE_MISSING),
        )
        for asked, evidence, expected in cases:
            with self.subTest(asked=asked, evidence=evidence):
                records = held(a_plan({FRONT_READER: ReaderPolicy(asked)}), holder, other)
                self.assertIs(decide(evidence, FRONT_READER, MONDAY_NOON, records).reason, expected)

    def test_go_with_their_record_and_stay_with_their_new_holder(self) -> None:
        records = held(a_plan({FRONT_READER: ReaderPolicy(Asks.PLATE)}), a_holder(plates=(MINE,)))

        plan = records.plan
        records.put(
            RecordKey(RecordKind.CARDHOLDER, 1),
            encode_cardholder(a_holder(plates=(THEIRS,)), plan) or {},
        )

        at_gate = [
            decide(Evidence(plate=plate.number), FRONT_READER, MONDAY_NOON, records)
            for plate in (MINE, THEIRS)
        ]
        self.assertEqual(
            [verdict.reason for verdict in at_gate], [Reason.UNKNOWN_PLATE, Reason.GRANTED]
        )

    def test_are_told_by_the_controller_as_they_were_read(self) -> None:
        records = held(a_plan({FRONT_READER: ReaderPolicy(Asks.PLATE)}), a_holder(plates=(MINE,)))
        verdict = decide(Evidence(plate=MINE.number), FRONT_READER, MONDAY_NOON, records)
        event = {
            "number": 1,
            "at": MONDAY_NOON.isoformat(),
            "reader": FRONT_READER,
            "raw": "",
            "plate": MINE.number,
        }

        (read,) = read_events([event | to_event(verdict, None)], 0)

        assert isinstance(read, Event)
        self.assertEqual(
            (read.plate, read.factors, read.reason), (MINE.number, (Factor.PLATE,), Reason.GRANTED)
        )


class Policies(TestCase):
    def test_ask_for_something(self) -> None:
        for alternatives in ((), ((),), ((Factor.CARD,), ())):
            with self.subTest(alternatives), self.assertRaises(Invalid):
                ReaderPolicy(alternatives)

    def test_are_the_same_however_they_are_written(self) -> None:
        written = ((Factor.PIN, Factor.CARD), (Factor.CARD,), (Factor.CARD, Factor.PIN))

        self.assertEqual(
            ReaderPolicy(written), ReaderPolicy(((Factor.CARD,), (Factor.CARD, Factor.PIN)))
        )
        self.assertEqual(
            factors_of([Factor.PIN, Factor.CARD, Factor.PIN]), (Factor.CARD, Factor.PIN)
        )

    def test_may_differ_by_the_hour(self) -> None:
        by_day = ReaderPolicy(Asks.CARD_AND_PIN, None, (PolicyHours(OFFICE, Asks.CARD),))
        records = held(a_plan({FRONT_READER: by_day}), a_holder(pins=(a_pin(),)))
        read = a_read(a_card())

        self.assertIs(
            decide(Evidence(read), FRONT_READER, MONDAY_NOON, records).reason, Reason.GRANTED
        )
        self.assertIs(
            decide(Evidence(read, PIN), FRONT_READER, MONDAY_NOON, records).reason,
            Reason.PIN_NOT_TAKEN,
        )
        self.assertIs(
            decide(Evidence(read), FRONT_READER, NIGHT, records).reason, Reason.PIN_MISSING
        )
        self.assertIs(
            decide(Evidence(read, PIN), FRONT_READER, NIGHT, records).reason, Reason.GRANTED
        )
        self.assertIs(judge_credentials(a_holder(), by_day, NIGHT), Reason.PIN_MISSING)

    @given(policies(), instants(), instants())
    def test_are_cut_where_they_change(
        self, asked: dict[int, ReaderPolicy], at: datetime, start: datetime
    ) -> None:
        for policy in asked.values():
            span = Span(start, start + timedelta(days=9))
            pieces = list(policy.through(span))

            self.assertEqual((pieces[0][0].start, pieces[-1][0].end), (span.start, span.end))
            for piece, here in pieces:
                if at in piece:
                    self.assertEqual(here.at(at).alternatives, policy.at(at).alternatives)


class Tables(TestCase):
    def test_every_reason_but_granted_has_its_check(self) -> None:
        self.assertEqual(set(REASONS), set(Reason) - {Reason.GRANTED})

    def test_every_factor_has_checks_of_its_own(self) -> None:
        every = [check for factor in Factor for check in FACTORS[factor].checks]

        self.assertEqual(set(FACTORS), set(Factor))
        self.assertEqual(len(every), len(set(every)))
        self.assertTrue(set(every) < set(Check))

    @given(st.sampled_from(Factor))
    def test_what_is_missing_is_found_at_a_check_of_the_factor(self, factor: Factor) -> None:
        self.assertIn(REASONS[FACTORS[factor].missing].check, FACTORS[factor].checks)

    def test_a_cardholder_without_any_credential_is_told_what_is_missing(self) -> None:
        nobody = replace(a_holder(cards=()), plates=(), pins=())
        found = [
            judge_credentials(nobody, ReaderPolicy(((factor,),)), MONDAY_NOON) for factor in Factor
        ]

        self.assertEqual(found, [FACTORS[factor].nothing_known for factor in Factor])

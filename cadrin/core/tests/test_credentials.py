"""What a card and a PIN do at a reader: modes, wrong tries, duress, use limits, hours of a card,
issue levels.
"""

from dataclasses import replace
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.rights import judge_credentials, open_spans_at_door
from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.card.room import Memory
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import Evidence, Factors, ReaderPolicy
from cadrin.core.credentials.pin.lockout import Keypad
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.decision.events import to_event
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.schedules import Hours, Schedule
from cadrin.core.tests.builders import (
    FRONT,
    FRONT_READER,
    LONDON,
    MONDAY_NOON,
    PINS,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
)
from cadrin.core.validity import Span

HOUR, DAY = timedelta(hours=1), timedelta(days=1)
CARD, PIN, WRONG = a_read(a_card()), TYPED[1], "999999"


def at_front(
    mode: tuple[Factors, ...],
    *pins: Pin,
    card: Card | None = None,
    formats: frozenset[int] | None = None,
) -> HeldRecords:
    return held(
        a_plan({FRONT_READER: ReaderPolicy(mode, formats)}),
        a_holder(cards=(card or a_card(),), pins=pins),
    )


def reason(
    records: HeldRecords, *shown: object, at: datetime = MONDAY_NOON, is_locked: bool = False
) -> Reason:
    read, typed = (*shown, None)[:2]
    verdict: Verdict = decide(Evidence(read, typed), FRONT_READER, at, records, is_locked=is_locked)  # type: ignore[arg-type]
    return verdict.reason


class ReaderModes(TestCase):
    def test_each_takes_what_it_asks_for_and_says_what_is_missing(self) -> None:
        with_card, alone = a_pin(), a_pin(opens_alone=True)
        cases = [
            (Asks.CARD, with_card, (CARD,), Reason.GRANTED),
            (Asks.CARD, alone, (None, PIN), Reason.PIN_NOT_TAKEN),
            (Asks.PIN, alone, (None, PIN), Reason.GRANTED),
            (Asks.PIN, with_card, (None, PIN), Reason.PIN_WRONG),
            (Asks.PIN, alone, (CARD,), Reason.CARD_NOT_TAKEN),
            (Asks.CARD_OR_PIN, with_card, (CARD,), Reason.GRANTED),
            (Asks.CARD_OR_PIN, alone, (None, PIN), Reason.GRANTED),
            (Asks.CARD_AND_PIN, with_card, (CARD, PIN), Reason.GRANTED),
            (Asks.CARD_AND_PIN, with_card, (CARD,), Reason.PIN_MISSING),
            (Asks.CARD_AND_PIN, with_card, (CARD, WRONG), Reason.PIN_WRONG),
            (Asks.CARD_AND_PIN, alone, (None, PIN), Reason.PIN_NOT_TAKEN),
            (
                Asks.CARD_AND_PIN,
                a_pin(span=Span(None, MONDAY_NOON)),
                (CARD, PIN),
                Reason.PIN_EXPIRED,
            ),
            (
                Asks.PIN,
                a_pin(opens_alone=True, span=Span(None, MONDAY_NOON)),
                (None, PIN),
                Reason.PIN_EXPIRED,
            ),
            (
                Asks.CARD_OR_PIN,
                a_pin(opens_alone=True, span=Span(None, MONDAY_NOON)),
                (None, PIN),
                Reason.PIN_EXPIRED,
            ),
        ]
        for mode, pin, shown, expected in cases:
            with self.subTest(mode=mode, shown=shown):
                self.assertIs(reason(at_front(mode, pin), *shown), expected)

    def test_reach_knows_which_pin_each_asks_for(self) -> None:
        for mode, pin, expected in (
            (Asks.CARD_AND_PIN, a_pin(), None),
            (Asks.CARD_AND_PIN, a_pin(span=Span(None, MONDAY_NOON)), Reason.PIN_EXPIRED),
            (Asks.PIN, a_pin(), Reason.PIN_MISSING),
            (Asks.PIN, a_pin(opens_alone=True), None),
        ):
            with self.subTest(mode=mode, pin=pin):
                self.assertIs(
                    judge_credentials(a_holder(pins=(pin,)), ReaderPolicy(mode), MONDAY_NOON),
                    expected,
                )

    def test_a_pin_beside_a_dead_card_counts_where_it_opens_alone(self) -> None:
        lost = (a_card(status=CardStatus.LOST),)
        for pin, expected in ((a_pin(), Reason.CARD_LOST), (a_pin(opens_alone=True), None)):
            holder = a_holder(cards=lost, pins=(pin,))
            self.assertIs(
                judge_credentials(holder, ReaderPolicy(Asks.CARD_OR_PIN), MONDAY_NOON), expected
            )

    def test_a_format_that_a_reader_does_not_read_is_told_from_a_bad_read(self) -> None:
        records = at_front(Asks.CARD, formats=frozenset({2}))

        self.assertIs(reason(records, CARD), Reason.FORMAT_NOT_READ)
        self.assertIs(reason(records, CARD._replace(bits=CARD.bits ^ 2)), Reason.WRONG_LENGTH)

    def test_steps_ask_only_what_was_shown(self) -> None:
        granted = decide(
            Evidence(None, PIN),
            FRONT_READER,
            MONDAY_NOON,
            at_front(Asks.PIN, a_pin(opens_alone=True)),
        )

        self.assertEqual(
            [step.check for step in granted.steps],
            ["reader", "taken", "pin", "cardholder_in_force", "membership", "hours"],
        )


class Keypads(TestCase):
    def test_duress_opens_the_door_and_says_so_nowhere_but_in_the_event(self) -> None:
        for mode, read in ((Asks.CARD_AND_PIN, CARD), (Asks.PIN, None)):
            records = at_front(mode, a_pin(opens_alone=True))
            under_duress = decide(
                Evidence(read, PINS.duress.changed(PIN)), FRONT_READER, MONDAY_NOON, records
            )

            self.assertTrue(under_duress.is_granted and under_duress.is_duress)
            self.assertIs(to_event(under_duress, None)["duress"], True)
            self.assertEqual(
                to_event(under_duress, None)["factors"],
                ["pin"] if read is None else ["card", "pin"],
            )
            self.assertNotIn(
                "duress",
                to_event(decide(Evidence(read, PIN), FRONT_READER, MONDAY_NOON, records), None),
            )

    def test_rests_after_so_many_wrong_pins_in_a_row_and_no_others(self) -> None:
        keypad = Keypad()
        for one in (
            Reason.PIN_WRONG,
            Reason.PIN_WRONG,
            Reason.GRANTED,
            Reason.PIN_WRONG,
            Reason.PIN_WRONG,
        ):
            keypad = keypad.after(one, MONDAY_NOON, PINS)
        self.assertFalse(keypad.is_locked(MONDAY_NOON))

        keypad = keypad.after(Reason.PIN_WRONG, MONDAY_NOON, PINS)

        rest = timedelta(seconds=PINS.lockout_seconds)
        self.assertTrue(keypad.is_locked(MONDAY_NOON + rest - timedelta(seconds=1)))
        self.assertFalse(keypad.is_locked(MONDAY_NOON + rest))
        self.assertEqual(keypad.after(Reason.KEYPAD_LOCKED, MONDAY_NOON, PINS), keypad)

    def test_while_it_rests_not_even_the_right_pin_counts(self) -> None:
        records = at_front(Asks.CARD_OR_PIN, a_pin(opens_alone=True))

        self.assertIs(reason(records, None, PIN, is_locked=True), Reason.KEYPAD_LOCKED)
        self.assertIs(reason(records, CARD), Reason.GRANTED)

    def test_a_pin_goes_only_to_controllers_that_have_a_keypad_and_never_as_digits(self) -> None:
        holder, keypad = (
            a_holder(pins=(a_pin(),)),
            a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN)}),
        )

        self.assertNotIn("pins", encode_cardholder(holder, a_plan()) or {})
        sent = f"{encode_cardholder(holder, keypad)} {plan_records(keypad)}"
        self.assertIn(a_pin().hash, sent)
        self.assertNotIn(PIN, sent)

    def test_a_pin_that_is_replaced_or_gone_opens_nothing_any_more(self) -> None:
        records, key = (
            at_front(Asks.PIN, a_pin(opens_alone=True)),
            RecordKey(RecordKind.CARDHOLDER, 1),
        )
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.PIN)})

        records.put(
            key, encode_cardholder(a_holder(pins=(a_pin(2, opens_alone=True),)), plan) or {}
        )

        self.assertIs(reason(records, None, PIN), Reason.PIN_WRONG)
        self.assertIs(reason(records, None, TYPED[2]), Reason.GRANTED)
        records.remove(key)
        self.assertIs(reason(records, None, TYPED[2]), Reason.PIN_WRONG)


class CardsOfTheirOwnTerms(TestCase):
    def test_left_at_home_is_back_by_itself(self) -> None:
        card = replace(a_card(status=CardStatus.SUSPENDED), suspended_until=MONDAY_NOON + HOUR)
        records = at_front(Asks.CARD, card=card)

        self.assertIs(reason(records, CARD), Reason.CARD_SUSPENDED)
        self.assertIs(reason(records, CARD, at=MONDAY_NOON + HOUR), Reason.GRANTED)

    def test_hours_of_its_own_cut_those_of_the_groups(self) -> None:
        evenings = Schedule(LONDON, tuple(Hours(day, 18 * 60, 21 * 60) for day in range(7)))
        card = replace(a_card(), hours=evenings)
        records = at_front(Asks.CARD, card=card)

        verdict = decide(Evidence(CARD), FRONT_READER, MONDAY_NOON, records)

        self.assertIs(verdict.reason, Reason.CARD_OUTSIDE_HOURS)
        six_in_the_evening = datetime.fromisoformat("2026-06-01T18:00:00+01:00")
        self.assertEqual(
            opens_next(verdict, FRONT_READER, MONDAY_NOON, records), six_in_the_evening
        )
        day = Span(MONDAY_NOON, MONDAY_NOON + DAY)
        self.assertEqual(
            open_spans_at_door(a_holder(cards=(card,)), FRONT, a_plan(), day),
            (Span(six_in_the_evening, six_in_the_evening + 3 * HOUR),),
        )

    def test_a_watched_card_opens_and_is_told(self) -> None:
        verdict = decide(
            Evidence(CARD),
            FRONT_READER,
            MONDAY_NOON,
            at_front(Asks.CARD, card=replace(a_card(), is_watched=True)),
        )

        self.assertTrue(verdict.is_granted)
        self.assertIs(to_event(verdict, None)["watched"], True)
        self.assertNotIn("factors", to_event(verdict, None))

    def test_an_earlier_issue_of_a_card_is_dead(self) -> None:
        leveled = CardFormat(32, BitField(1, 8), BitField(9, 28), issue_level=BitField(29, 32))
        plan = replace(a_plan(), formats={1: leveled})
        numbers = CardNumbers(12, 4751)
        records = held(plan, a_holder(cards=(replace(a_card(), issue_level=2),)))

        found = {
            level: reason(records, leveled.encode(numbers, {"issue_level": level}))
            for level in (1, 2)
        }

        self.assertEqual(found, {1: Reason.CARD_SUPERSEDED, 2: Reason.GRANTED})


class UseLimits(TestCase):
    @given(st.lists(st.sampled_from(["north", "south"]), max_size=8), st.integers(1, 5))
    def test_no_use_is_counted_twice_and_none_is_forgotten_once_told(
        self, uses: list[str], most: int
    ) -> None:
        """Two controllers, each told of the other's uses after every one of them."""
        limit = UseLimit(most, MONDAY_NOON)
        counted: dict[str, int] = {}
        here = {
            name: at_front(Asks.CARD, card=replace(a_card(), limit=limit))
            for name in ("north", "south")
        }
        granted = 0
        for name in uses:
            verdict = decide(Evidence(CARD), FRONT_READER, MONDAY_NOON, here[name])
            if verdict.is_granted:
                granted += 1
                here[name].count_use(CardKey(1, 12, 4751))
                counted[name] = counted.get(name, 0) + 1
            told = a_holder(
                cards=(replace(a_card(), limit=limit._replace(used=tuple(counted.items()))),)
            )
            for memory, records in here.items():
                records.put(
                    RecordKey(RecordKind.CARDHOLDER, 1),
                    encode_cardholder(told, a_plan(), Memory(memory)) or {},
                )

        self.assertEqual(granted, min(len(uses), most))

    def test_what_one_controller_counted_itself_stops_it_without_being_told(self) -> None:
        records = at_front(Asks.CARD, card=replace(a_card(), limit=UseLimit(2, MONDAY_NOON)))

        for _ in range(2):
            self.assertIs(reason(records, CARD), Reason.GRANTED)
            records.count_use(CardKey(1, 12, 4751))

        self.assertIs(reason(records, CARD), Reason.CARD_USED_UP)

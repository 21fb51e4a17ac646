"""A card that is found by its bits is found as its formats would have it, whatever came and went."""

from dataclasses import replace
from datetime import datetime
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.decide import decide
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import Body, RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.tests.builders import (
    FRONT_READER,
    MONDAY_NOON,
    a_holder,
    a_plan,
    instants,
    spans,
)

APART = replace(STANDARD_26_BIT, facility_code=BitField(2, 5), card_number=BitField(6, 25))
FORMATS = {1: STANDARD_26_BIT, 2: APART}
NUMBERS = (1, 2)


@st.composite
def steps(draw: st.DrawFn) -> tuple[RecordKey, Body | None]:
    """A format or somebody's record that comes, or goes."""
    goes = draw(st.booleans())
    id_ = draw(st.sampled_from((1, 2)))
    if draw(st.integers(0, 3)) == 0:
        return RecordKey(RecordKind.FORMAT, id_), None if goes else encode_format(FORMATS[id_])
    keys = draw(st.lists(st.sampled_from(NUMBERS), unique=True))
    status = draw(st.sampled_from((CardStatus.ISSUED, CardStatus.ISSUED, CardStatus.LOST)))
    cards = tuple(Card(CardKey(1, 3, number), status, draw(spans())) for number in keys)
    plan = replace(a_plan(), formats=FORMATS)
    body = encode_cardholder(a_holder(id_=id_, cards=cards), plan)
    return RecordKey(RecordKind.CARDHOLDER, id_), None if goes else body


class FoundByBits(TestCase):
    @given(st.lists(steps(), max_size=12), instants())
    def test_gives_the_verdict_that_a_closer_look_gives(
        self, came: list[tuple[RecordKey, Body | None]], at: datetime
    ) -> None:
        records = HeldRecords()
        for key, body in plan_records(a_plan()).items():
            records.put(key, body)
        for key, record in came:
            if record is None:
                records.remove(key)
            else:
                records.put(key, record)
        reads = [
            Evidence(layout.encode(CardNumbers(3, number)))
            for number in NUMBERS
            for layout in FORMATS.values()
        ]

        at_once = [decide(read, FRONT_READER, at, records) for read in reads]
        known = dict(records.holder_of_bits)
        records.holder_of_bits.clear()
        self.assertEqual(at_once, [decide(read, FRONT_READER, at, records) for read in reads])
        for bits, (card, holder) in known.items():
            self.assertEqual(records.holder_of_card[card.key], (card, holder))
            self.assertEqual(bits >> 26, 1)

    def test_is_every_plain_card_of_a_format_that_no_other_is_as_long_as(self) -> None:
        records = HeldRecords()
        for key, body in plan_records(a_plan()).items():
            records.put(key, body)
        lost = Card(CardKey(1, 3, 2), CardStatus.LOST)
        holder = a_holder(cards=(Card(CardKey(1, 3, 1)), lost))
        records.put(RecordKey(RecordKind.CARDHOLDER, 1), encode_cardholder(holder, a_plan()) or {})
        read = STANDARD_26_BIT.encode(CardNumbers(3, 1))
        self.assertEqual(list(records.holder_of_bits), [read.as_one])
        verdict = decide(Evidence(read), FRONT_READER, MONDAY_NOON, records)
        self.assertEqual(verdict.card, CardKey(1, 3, 1))

        another = RecordKey(RecordKind.FORMAT, 2)
        records.put(another, encode_format(APART))
        self.assertEqual(list(records.holder_of_bits), [])
        records.remove(another)
        self.assertEqual(list(records.holder_of_bits), [read.as_one])

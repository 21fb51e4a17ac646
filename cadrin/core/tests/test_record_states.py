from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.records.states import (
    AMISS,
    RecordAt,
    RecordState,
    after_answer,
    after_change,
    after_comparison,
    after_refusal,
    found_astray,
    with_place,
    without_place,
)

OLD, NEW, OTHER = "a" * 32, "b" * 32, "c" * 32
digests = st.sampled_from(["", OLD, NEW])
records = st.builds(RecordAt, digests, digests, st.sampled_from(RecordState), st.booleans())


class Records(TestCase):
    def test_go_their_way(self) -> None:
        held = RecordAt(OLD, OLD, RecordState.HELD)
        sent = RecordAt(NEW, OLD, RecordState.SENT, is_withdrawal=True)
        cases = (
            (
                "changed",
                after_change(held, NEW, is_withdrawal=False),
                RecordAt(NEW, OLD, RecordState.WAITING),
            ),
            (
                "taken away",
                after_change(held, "", is_withdrawal=False),
                RecordAt("", OLD, RecordState.WAITING, True),
            ),
            (
                "changed and back before it was sent",
                after_change(
                    RecordAt(NEW, OLD, RecordState.WAITING, True), OLD, is_withdrawal=False
                ),
                held,
            ),
            (
                "changed and back after it was sent",
                after_change(sent, OLD, is_withdrawal=False),
                RecordAt(OLD, OLD, RecordState.WAITING, True),
            ),
            ("confirmed", after_answer(sent, NEW), RecordAt(NEW, NEW, RecordState.HELD)),
            (
                "confirmed with something else",
                after_answer(sent, OLD),
                sent._replace(state=RecordState.WAITING),
            ),
            ("refused", after_refusal(sent, NEW), sent._replace(state=RecordState.REFUSED)),
            (
                "there, and without a place now: it is to be taken away",
                without_place(held),
                RecordAt(OLD, OLD, RecordState.REFUSED, True),
            ),
            (
                "with a place again",
                with_place(RecordAt(OLD, "", RecordState.REFUSED)),
                RecordAt(OLD, "", RecordState.WAITING),
            ),
            ("refused, and changed since", after_refusal(sent, OTHER), sent),
            (
                "changed by hand",
                after_comparison(held, OTHER),
                RecordAt(OLD, OTHER, RecordState.ADRIFT, True),
            ),
            ("gone from there", after_comparison(held, ""), RecordAt(OLD, "", RecordState.ADRIFT)),
            (
                "arrived after all",
                after_comparison(sent, NEW),
                RecordAt(NEW, NEW, RecordState.HELD),
            ),
            (
                "never arrived",
                after_comparison(sent, OLD),
                sent._replace(state=RecordState.WAITING),
            ),
            ("nobody sent it", found_astray(OTHER), RecordAt("", OTHER, RecordState.ADRIFT, True)),
        )
        for name, found, expected in cases:
            with self.subTest(name):
                self.assertEqual(found, expected)

    def test_each_state_has_what_it_is_when_it_is_not_there(self) -> None:
        self.assertEqual(set(AMISS), set(RecordState))

    @given(records, digests, st.booleans())
    def test_are_held_only_as_they_are_wanted(
        self, record: RecordAt, digest: str, is_withdrawal: bool
    ) -> None:
        for after in (
            after_change(record, digest, is_withdrawal=is_withdrawal),
            after_answer(record, digest),
            after_comparison(record, digest),
        ):
            if after.state is RecordState.HELD:
                self.assertEqual((after.wanted, after.is_withdrawal), (after.confirmed, False))

    @given(records)
    def test_what_neither_should_be_there_nor_is_is_forgotten(self, record: RecordAt) -> None:
        self.assertTrue(after_answer(record._replace(wanted=""), "").is_gone)

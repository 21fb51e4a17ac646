"""A controller that keeps few cards of one cardholder: which it keeps, and what it never goes on
believing.
"""

from dataclasses import replace
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory, cards_kept, cards_left_out
from cadrin.core.credentials.factors import Evidence, ReaderPolicy
from cadrin.core.decision.decide import decide
from cadrin.core.records.cardholders import (
    Cut,
    encode_cardholder,
    memberships_kept,
    what_is_cut,
    widest_in,
)
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records, schedules_left_out
from cadrin.core.tests.builders import (
    ALWAYS_OPEN,
    EVERYWHERE,
    FRONT_READER,
    MONDAY_NOON,
    OFFICE_HOURS,
    Asks,
    a_card,
    a_holder,
    a_plan,
    a_read,
    held,
    holders,
    instants,
)
from cadrin.core.validity import Span

statuses = st.sampled_from([status for status in CardStatus if status is not CardStatus.IN_STOCK])
ends = st.none() | st.integers(-2, 2).map(lambda days: MONDAY_NOON + timedelta(days=days))
cards = st.lists(
    st.builds(
        lambda n, status, end: a_card(n, status, Span(None, end)), st.integers(1, 9), statuses, ends
    )
)


def a_few(*statuses: CardStatus) -> tuple[Card, ...]:
    return tuple(a_card(number, status) for number, status in enumerate(statuses, 1))


def works(card: Card) -> bool:
    """Say whether there is an instant from now on at which it is in force, looking at one after the
    other.
    """
    span = card.in_force
    return span is not None and any(
        MONDAY_NOON + timedelta(hours=hour) in span for hour in range(24 * 9)
    )


def numbers(kept: tuple[Card, ...]) -> list[int]:
    return [card.key.card_number for card in kept]


class CardsKept(TestCase):
    def test_are_those_that_work_then_those_a_door_can_explain_then_the_others(self) -> None:
        every = a_few(
            CardStatus.LOST,
            CardStatus.SUSPENDED,
            CardStatus.ISSUED,
            CardStatus.STOLEN,
            CardStatus.ISSUED,
        )

        self.assertEqual(numbers(cards_kept(every, Memory(most_cards=2))), [3, 5])
        self.assertEqual(numbers(cards_kept(every, Memory(most_cards=3))), [2, 3, 5])
        self.assertEqual(numbers(cards_kept(every, Memory(most_cards=4))), [1, 2, 3, 5])
        self.assertEqual(numbers(cards_kept(every, Memory())), [1, 2, 3, 4, 5])

    def test_are_of_those_that_work_the_ones_that_work_longest(self) -> None:
        soon, later = (Span(None, MONDAY_NOON + timedelta(days=days)) for days in (1, 9))
        back_by_itself = replace(a_card(4, CardStatus.SUSPENDED), suspended_until=MONDAY_NOON)
        every = (a_card(1, span=soon), a_card(2, span=later), a_card(3), back_by_itself)

        self.assertEqual(numbers(cards_kept(every, Memory(most_cards=2))), [3, 4])
        self.assertEqual(numbers(cards_kept(every, Memory(most_cards=3))), [2, 3, 4])
        self.assertEqual(numbers(cards_left_out(every, Memory(most_cards=2), MONDAY_NOON)), [1, 2])

    def test_leave_out_nothing_that_opens_nothing_anyway(self) -> None:
        over = a_card(4, span=Span(None, MONDAY_NOON))
        every = (*a_few(CardStatus.LOST, CardStatus.STOLEN, CardStatus.ISSUED), over)

        self.assertEqual(cards_left_out(every, Memory(most_cards=1), MONDAY_NOON), ())

    @given(cards, st.none() | st.integers(0, 4))
    def test_are_no_more_than_there_is_room_for_and_none_works_that_would_not(
        self, every: list[Card], most: int | None
    ) -> None:
        unique = {card.key: card for card in every}.values()
        memory = Memory(most_cards=most)
        kept, left_out = cards_kept(unique, memory), cards_left_out(unique, memory, MONDAY_NOON)

        self.assertLessEqual(len(kept), len(unique) if most is None else most)
        self.assertLessEqual({card.key for card in kept}, {card.key for card in unique})
        working = {card.key for card in unique if works(card)}
        self.assertEqual(
            {card.key for card in kept if works(card)} | {card.key for card in left_out}, working
        )
        # one that does not work never takes the place of one that does
        self.assertFalse(left_out and any(not works(card) for card in kept))

    @given(cards, st.integers(0, 4))
    def test_are_what_a_record_has(self, every: list[Card], most: int) -> None:
        unique = tuple({card.key: card for card in every}.values())
        body = encode_cardholder(a_holder(cards=unique), a_plan(), Memory(most_cards=most))

        kept = [list(card.key) for card in cards_kept(unique, Memory(most_cards=most))]
        written = (body or {}).get("cards", ())
        self.assertEqual(
            [[card["format"], card["facility_code"], card["number"]] for card in written],
            kept if unique else [],
        )


class WhatCannotBeExpressed(TestCase):
    """A calendar that ends, here in the middle of things, and names that are short."""

    memory = Memory(longest_name=4, latest=int(MONDAY_NOON.timestamp()))

    @given(holders(), instants())
    def test_until_its_calendar_ends_doors_do_the_same_and_after_it_open_no_more(
        self, holder: Holder, at: datetime
    ) -> None:
        whole, cut = held(a_plan()), held(a_plan())
        for records, memory in ((whole, ANY_MEMORY), (cut, self.memory)):
            if body := encode_cardholder(holder, a_plan(), memory):
                records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), body)

        for card in holder.cards:
            as_it_is, as_cut = (
                decide(Evidence(a_read(card)), FRONT_READER, at, one).is_granted
                for one in (whole, cut)
            )
            if at < MONDAY_NOON:
                self.assertEqual(as_cut, as_it_is)
            self.assertLessEqual(as_cut, as_it_is)

    @given(holders(), instants())
    def test_one_that_knows_no_long_times_never_opens_more(
        self, holder: Holder, at: datetime
    ) -> None:
        day = Memory(longest_span=86_400)
        whole, cut = held(a_plan()), held(a_plan())
        for records, memory in ((whole, ANY_MEMORY), (cut, day)):
            if body := encode_cardholder(holder, a_plan(), memory):
                records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), body)
                self.assertLessEqual(widest_in(body), memory.longest_span or widest_in(body))
        for card in holder.cards:
            as_it_is, as_cut = (
                decide(Evidence(a_read(card)), FRONT_READER, at, one).is_granted
                for one in (whole, cut)
            )
            self.assertLessEqual(as_cut, as_it_is)
            if Cut.SPANS not in what_is_cut(holder, a_plan(), day):
                self.assertEqual(as_cut, as_it_is)

    @given(holders(), instants())
    def test_one_that_keeps_one_membership_keeps_the_longest_and_opens_no_more(
        self, holder: Holder, at: datetime
    ) -> None:
        plan, small = a_plan(), Memory(most_memberships=1)
        body = encode_cardholder(holder, plan, small)
        if body is None:
            return
        here = [one for one in holder.memberships if one.group_id in plan.groups]
        (kept,) = memberships_kept(holder, plan, small)
        lasting = [one.span.end.timestamp() if one.span.end else float("inf") for one in here]
        end = kept.span.end.timestamp() if kept.span.end else float("inf")
        self.assertEqual(end, max(lasting))
        self.assertEqual(Cut.MEMBERSHIPS in what_is_cut(holder, plan, small), len(here) > 1)
        whole, cut = held(plan, holder), held(plan)
        cut.put(RecordKey(RecordKind.CARDHOLDER, holder.id), body)
        for card in holder.cards:
            as_it_is, as_cut = (
                decide(Evidence(a_read(card)), FRONT_READER, at, one).is_granted
                for one in (whole, cut)
            )
            self.assertLessEqual(as_cut, as_it_is)

    def test_schedules_that_most_groups_open_by_are_kept(self) -> None:
        plan = a_plan()  # both groups open in office hours or always
        more = replace(plan.groups[EVERYWHERE], id=9)
        plan = replace(plan, groups={**plan.groups, 9: more})

        self.assertEqual(schedules_left_out(plan, Memory(most_schedules=2)), ())
        self.assertEqual(schedules_left_out(plan, Memory(most_schedules=1)), (OFFICE_HOURS,))
        keys = plan_records(plan, Memory(most_schedules=1))
        kept = [key.id for key in keys if key.kind is RecordKind.SCHEDULE]
        self.assertEqual(kept, [ALWAYS_OPEN])

    @given(holders())
    def test_nothing_is_cut_without_being_told(self, holder: Holder) -> None:
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_OR_PIN)})
        memory = self.memory._replace(longest_name=len(holder.display_name))
        as_it_is, as_cut = encode_cardholder(holder, plan), encode_cardholder(holder, plan, memory)

        # a use or an end that another card's record tells may be cut without this record being
        # another
        if as_it_is != as_cut:
            self.assertEqual(what_is_cut(holder, a_plan(), memory), (Cut.DATES,))
        self.assertEqual(what_is_cut(holder, a_plan(), ANY_MEMORY), ())
        self.assertIn(Cut.NAME, what_is_cut(holder, a_plan(), self.memory))

    def test_the_last_second_of_a_calendar_and_the_longest_name_are_not_cut(self) -> None:
        memory = self.memory._replace(longest_name=8)

        until_then = a_holder(span=Span(None, MONDAY_NOON))
        self.assertEqual(what_is_cut(until_then, a_plan(), memory), ())
        self.assertEqual(
            what_is_cut(replace(until_then, display_name="Holder 12"), a_plan(), memory),
            (Cut.NAME,),
        )
        later = Span(None, MONDAY_NOON + timedelta(seconds=1))
        self.assertEqual(what_is_cut(a_holder(span=later), a_plan(), memory), (Cut.DATES,))

"""Each remedy opens: its acts are done here by hand, sent to a controller, and the read is decided
there.
"""

from dataclasses import replace
from datetime import datetime
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.access.plan import Membership
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory
from cadrin.core.credentials.factors import Evidence, Factor, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.decide import decide
from cadrin.core.decision.reasons import Act, Reason
from cadrin.core.decision.remedies import Remedy, outlook
from cadrin.core.decision.remedy_steps import RemedyStep
from cadrin.core.decision.situation import NOBODYS, Presented, Situation
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.tests.builders import (
    EVERYWHERE,
    FRONT_READER,
    LAB,
    LAB_READER,
    MONDAY_NOON,
    SAMPLES,
    STORE_READER,
    TYPED,
    Asks,
    a_card,
    a_finger,
    a_holder,
    a_pin,
    a_plan,
    a_read,
    held,
    holders,
    instants,
    policies,
)
from cadrin.core.validity import ALWAYS, Span, Standing

NEW_PIN = "936142"
SATURDAY = datetime.fromisoformat("2026-06-06T12:00:00+00:00")


class AtTheDoor:
    """The house, and somebody at a reader: what is done to either is plainly written, not worked
    out.
    """

    def __init__(self, situation: Situation) -> None:
        self.plan, self.holder, self.memory = situation.plan, situation.holder, situation.memory
        self.read, self.reader = situation.presented.read, situation.presented.reader_id
        pin_id = situation.presented.pin_id
        self.typed = (
            (TYPED[pin_id] if pin_id else "000000") if situation.presented.is_typed else None
        )
        self.plate = situation.presented.plate
        laid = situation.presented.finger
        self.finger = None if laid is None else SAMPLES[laid]

    def asked_with(self, factor: Factor, without: Factor | None = None) -> set[Factor]:
        """Return what the reader asks for now in an alternative with one factor and without
        another.
        """
        policy = self.plan.policy_of_reader.get(self.reader, ReaderPolicy()).at(self.at)
        together = [
            asked for asked in policy.alternatives if factor in asked and without not in asked
        ]
        return {other for alternative in together for other in alternative}

    def keep_beside(self, factor: Factor, without: Factor | None = None) -> None:
        asked = self.asked_with(factor, without)
        self.read = self.read if Factor.CARD in asked else None
        self.typed = self.typed if Factor.PIN in asked else None
        self.plate = self.plate if Factor.PLATE in asked else None
        self.finger = self.finger if Factor.FINGER in asked else None

    def shown_card(self) -> Card:
        assert self.holder
        return next(card for card in self.holder.cards if self.read == a_read(card))

    def change_card(self, **what: object) -> None:
        assert self.holder
        mine = self.shown_card()
        cards = tuple(replace(card, **what) if card == mine else card for card in self.holder.cards)  # type: ignore[arg-type]
        self.holder = replace(self.holder, cards=cards)

    def do(self, step: RemedyStep) -> None:
        plan, holder = self.plan, self.holder or a_holder(id_=9, cards=(), memberships=())
        match step.act:
            case Act.ISSUE_CARD:
                assert self.read
                number = self.read.bits >> 1 & 0xFFFF
                self.holder = replace(holder, cards=(*holder.cards, a_card(number)))
            case Act.CARD_STATUS:
                self.change_card(status=CardStatus.ISSUED)
            case Act.CARD_DATES:
                self.change_card(span=ALWAYS)
            case Act.CARD_USES:
                self.change_card(limit=None)
            case Act.CARD_HOURS:
                self.change_card(hours=None)
            case Act.RETURN_A_CARD:
                self.holder = replace(
                    holder, cards=tuple(one for one in holder.cards if one.key != step.card)
                )
            case Act.SHOW_CARD:
                self.read = a_read(next(one for one in holder.cards if one.key == step.card))
                self.keep_beside(Factor.CARD, without=step.without)
            case Act.TYPE_PIN:
                if step.without:  # the PIN by itself
                    self.read = self.plate = self.finger = None
                is_alone = self.has_nothing_beside_a_pin
                fitting = (one for one in holder.pins if not is_alone or one.opens_alone)
                self.typed = TYPED[next(pin for pin in fitting if self.at in pin.span).id]
            case Act.SET_PIN:
                new = Pin(
                    99,
                    plan.pins.hashes(NEW_PIN)[0],
                    opens_alone=self.has_nothing_beside_a_pin,
                )
                self.holder, self.typed = replace(holder, pins=(*holder.pins, new)), NEW_PIN
            case Act.READER_POLICY | Act.READER_FORMATS:
                policy = plan.policy_of_reader.get(self.reader, ReaderPolicy())
                # what was shown, each by itself, beside what it asks for now
                if step.act is Act.READER_POLICY:
                    shown = self.evidence.factors
                    now = policy.at(self.at)
                    policy = replace(
                        now, alternatives=(*now.alternatives, *((factor,) for factor in shown))
                    )
                else:
                    policy = replace(policy, formats=None)
                self.plan = replace(
                    plan, policy_of_reader={**plan.policy_of_reader, self.reader: policy}
                )
            case Act.SHOW_PLATE:
                self.plate = holder.plates[0].number
                self.keep_beside(Factor.PLATE, without=step.without)
            case Act.SET_PLATE:
                self.plate = self.plate or "NEW1"
                self.holder = replace(holder, plates=(*holder.plates, Plate(self.plate)))
            case Act.LAY_FINGER:
                works = (one for one in holder.fingers if not one.reason_against(self.at))
                self.finger = SAMPLES[next(works).id]
                self.keep_beside(Factor.FINGER, without=step.without)
            case Act.ENROL_FINGER:
                self.finger = SAMPLES[1]
                kept = tuple(one for one in holder.fingers if one.id != 1)
                self.holder = replace(holder, fingers=(*kept, a_finger(1)))
            case Act.FINGER_TERMS:
                # the one that was laid and known, or else the first with the same against it
                laid = [
                    one
                    for one in holder.fingers
                    if SAMPLES[one.id] is self.finger and not one.is_suspended
                ]
                first = laid or sorted(holder.fingers, key=lambda one: one.id)
                reason = first[0].reason_against(self.at)
                counts = next(
                    one for one in (*laid, *holder.fingers) if one.reason_against(self.at) is reason
                )
                self.finger = SAMPLES[counts.id]
                unchanged = tuple(one for one in holder.fingers if one is not counts)
                working = a_finger(counts.id, agreed=counts.agreed)
                self.holder = replace(holder, fingers=(*unchanged, working))
            case Act.BY_CARD_ALONE:
                self.holder, self.finger = replace(holder, card_alone=ALWAYS), None
            case Act.SHOW_FACE | Act.ENROL_FACE | Act.FACE_TERMS:
                raise AssertionError("no reader here asks for a face")
            case Act.STANDING:
                self.holder = replace(holder, standing=Standing.ACTIVE)
            case Act.DATES:
                self.holder = replace(holder, span=ALWAYS)
            case Act.ADD_TO_GROUP:
                self.holder = replace(
                    holder, memberships=(*holder.memberships, Membership(step.group_id or 0))
                )
            case Act.GROUP_DATES:
                others = tuple(one for one in holder.memberships if one.group_id != step.group_id)
                self.holder = replace(holder, memberships=(*others, Membership(step.group_id or 0)))

    def reason_at(self, at: datetime, remedy: Remedy = ()) -> Reason:
        self.at = at
        for step in remedy:
            self.do(step)
        return self.reason_now()

    def reason_now(self) -> Reason:
        records = held(self.plan)
        if self.holder and (body := encode_cardholder(self.holder, self.plan, self.memory)):
            records.put(RecordKey(RecordKind.CARDHOLDER, self.holder.id), body)
        return decide(self.evidence, self.reader, self.at, records).reason

    @property
    def evidence(self) -> Evidence:
        return Evidence(self.read, self.typed, self.plate, self.finger)

    @property
    def has_nothing_beside_a_pin(self) -> bool:
        return (self.read, self.plate, self.finger) == (None, None, None)


@st.composite
def situations(draw: st.DrawFn) -> Situation:
    holder, plan = draw(st.none() | holders()), a_plan(draw(policies()))
    reader = draw(st.sampled_from([FRONT_READER, LAB_READER, STORE_READER]))
    memory = draw(st.sampled_from([ANY_MEMORY, Memory("small", 1)]))
    reads: list[RawRead | None] = (
        [a_read(card) for card in holder.cards] if holder else [a_read(a_card())]
    )
    pins: list[int | None] = [pin.id for pin in holder.pins] if holder else []
    read = (
        draw(st.sampled_from([*reads, None]))
        if pins
        else (draw(st.sampled_from(reads)) if reads else None)
    )
    is_typed = read is None or draw(st.booleans())
    pin_id = draw(st.sampled_from([*pins, None])) if is_typed else None
    if read is None and holder is not None:  # by a PIN alone, a door knows those that open alone
        alone: list[int | None] = [pin.id for pin in holder.pins if pin.opens_alone]
        pin_id = alone[0] if alone else None
        holder = holder if alone else None
    plate = None
    if holder is not None and (read is not None or holder.plates):
        plate = draw(st.sampled_from([None, "OTHER1", *(plate.number for plate in holder.plates)]))
    elif holder is None:
        plate = draw(st.sampled_from([None, "OTHER1"]))
    finger = None
    if holder is not None and read is not None:
        finger = draw(st.sampled_from([None, NOBODYS, *(item.id for item in holder.fingers)]))
    presented = Presented(reader, read, is_typed, pin_id, plate, finger)
    return Situation(presented, plan, holder, memory)


class Remedies(TestCase):
    @settings(max_examples=200)
    @given(situations(), instants())
    def test_every_one_that_is_offered_opens_the_door(
        self, situation: Situation, at: datetime
    ) -> None:
        found = outlook(situation, at)

        self.assertEqual(
            found.reason is Reason.GRANTED, AtTheDoor(situation).reason_at(at) is Reason.GRANTED
        )
        for remedy in found.remedies:
            self.assertIs(AtTheDoor(situation).reason_at(at, remedy), Reason.GRANTED, remedy)

    @settings(max_examples=200)
    @given(situations(), instants())
    def test_none_is_offered_only_where_nothing_can_be_done(
        self, situation: Situation, at: datetime
    ) -> None:
        found = outlook(situation, at)
        if found.remedies or found.reason is Reason.GRANTED:
            return

        plan = situation.plan
        door_id = plan.door_of_reader[situation.presented.reader_id]
        hours = [
            plan.schedules[id_]
            for g in plan.groups.values()
            for id_ in g.schedules_of_door.get(door_id, ())
        ]
        last = found.against[-1]
        if last is Reason.PIN_WRONG:  # nobody knows whose it was to be
            self.assertIsNone(situation.holder)
        else:
            self.assertIn(
                last,
                (
                    Reason.NO_MEMBERSHIP,
                    Reason.OUTSIDE_HOURS,
                    Reason.MEMBERSHIP_PENDING,
                    Reason.MEMBERSHIP_EXPIRED,
                ),
            )
            self.assertFalse(any(one.is_open(at) for one in hours))

    def test_all_that_stands_against_it_is_told_and_mended_at_once(self) -> None:
        card = a_card(status=CardStatus.LOST, span=Span(None, MONDAY_NOON))
        holder = a_holder(
            standing=Standing.BARRED, cards=(card,), memberships=(Membership(EVERYWHERE),)
        )

        found = outlook(
            Situation(Presented(LAB_READER, a_read(card)), a_plan(), holder), MONDAY_NOON
        )

        self.assertEqual(
            found.against,
            (Reason.CARD_LOST, Reason.CARD_EXPIRED, Reason.CARDHOLDER_BARRED, Reason.NO_MEMBERSHIP),
        )
        (remedy,) = found.remedies
        self.assertEqual(
            remedy,
            (
                RemedyStep(Act.CARD_STATUS),
                RemedyStep(Act.CARD_DATES),
                RemedyStep(Act.STANDING),
                RemedyStep(Act.ADD_TO_GROUP, LAB),
            ),
        )

    def test_the_group_that_just_denied_is_not_offered_outside_of_its_hours(self) -> None:
        shown = Presented(LAB_READER, a_read(a_card()))
        self.assertEqual(outlook(Situation(shown, a_plan(), a_holder()), SATURDAY).remedies, ())

        at_front = Presented(FRONT_READER, a_read(a_card()))
        only_lab = a_holder(memberships=(Membership(LAB),))
        found = outlook(Situation(at_front, a_plan(), only_lab), SATURDAY)
        self.assertEqual(found.remedies, ((RemedyStep(Act.ADD_TO_GROUP, EVERYWHERE),),))
        self.assertEqual(
            outlook(Situation(at_front, a_plan(), only_lab), SATURDAY, groups=[LAB]).remedies, ()
        )

    def test_a_card_of_nobody_is_issued_together_with_a_group(self) -> None:
        found = outlook(
            Situation(Presented(LAB_READER, a_read(a_card())), a_plan(), None), MONDAY_NOON
        )

        self.assertEqual(
            found.remedies, ((RemedyStep(Act.ISSUE_CARD), RemedyStep(Act.ADD_TO_GROUP, LAB)),)
        )
        destroyed = Situation(
            Presented(LAB_READER, a_read(a_card())), a_plan(), None, is_free=False
        )
        self.assertEqual(outlook(destroyed, MONDAY_NOON).remedies, ())

    def test_whoever_has_a_pin_types_it_and_whoever_has_none_gets_one(self) -> None:
        plan = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN)})
        shown = Presented(FRONT_READER, a_read(a_card()))

        for pins, mend in (
            ((a_pin(),), Act.TYPE_PIN),
            ((), Act.SET_PIN),
            ((a_pin(span=Span(None, SATURDAY)),), Act.SET_PIN),
        ):
            found = outlook(Situation(shown, plan, a_holder(pins=pins)), SATURDAY)
            self.assertIn((RemedyStep(mend),), found.remedies)

    def test_where_a_controller_keeps_fewer_cards_another_is_given_back(self) -> None:
        holder = a_holder(cards=(a_card(1), a_card(2)))
        situation = Situation(
            Presented(FRONT_READER, a_read(a_card(2))), a_plan(), holder, Memory("small", 1)
        )

        self.assertEqual(
            outlook(situation, MONDAY_NOON).remedies,
            ((RemedyStep(Act.RETURN_A_CARD, card=a_card(1).key),),),
        )

    def test_a_card_that_is_left_out_as_it_does_not_work_is_mended_before_another_goes(
        self,
    ) -> None:
        mine, other = a_card(2, status=CardStatus.LOST), a_card(1, status=CardStatus.LOST)
        holder = a_holder(cards=(mine, other))
        situation = Situation(
            Presented(FRONT_READER, a_read(mine)), a_plan(), holder, Memory("small", 1)
        )

        self.assertEqual(
            outlook(situation, MONDAY_NOON).remedies, ((RemedyStep(Act.CARD_STATUS),),)
        )

    def test_a_bad_read_has_none(self) -> None:
        found = outlook(
            Situation(Presented(FRONT_READER, RawRead(37, 5)), a_plan(), a_holder()), MONDAY_NOON
        )

        self.assertEqual((found.against, found.remedies), ((Reason.WRONG_LENGTH,), ()))

"""What somebody lacks for getting in."""

from dataclasses import replace
from unittest import TestCase

from cadrin.core.access.plan import Membership
from cadrin.core.access.readiness import Gap, is_ready, readiness
from cadrin.core.credentials.biometric import AGAINST_A_FACE, Biometric, Consent
from cadrin.core.credentials.card.card import Card
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.tests.builders import (
    EVERYWHERE,
    FRONT_READER,
    LAB,
    LAB_READER,
    MONDAY_NOON,
    NOWHERE,
    Asks,
    a_card,
    a_finger,
    a_holder,
    a_pin,
    a_plan,
)
from cadrin.core.tests.test_decide import AHEAD, PAST
from cadrin.core.validity import ALWAYS, Standing


class Readiness(TestCase):
    def test_each_gap_is_named(self) -> None:
        lost: tuple[Card, ...] = (a_card(status=CardStatus.LOST),)
        cases = {
            Gap.NO_CARD: (a_holder(cards=()), 0),
            Gap.NO_CARD_IN_FORCE: (a_holder(cards=lost), 0),
            Gap.CARD_NOT_READ: (a_holder(pins=(a_pin(),)), 0),
            Gap.NO_PLATE: (a_holder(memberships=(Membership(EVERYWHERE),)), 0),
            Gap.NO_CONSENT: (a_holder(fingers=(a_finger(),)), 0),
            Gap.NO_FINGER: (replace(a_holder(), consents=(Consent(Factor.FINGER),)), 0),
            Gap.NO_FINGER_IN_FORCE: (
                replace(
                    a_holder(fingers=(a_finger(is_suspended=True),)),
                    consents=(Consent(Factor.FINGER),),
                ),
                0,
            ),
            Gap.NO_FACE: (replace(a_holder(), consents=(Consent(Factor.FACE),)), 0),
            Gap.NO_FACE_IN_FORCE: (
                replace(
                    a_holder(),
                    faces=(Biometric(1, "", AGAINST_A_FACE, span=PAST),),
                    consents=(Consent(Factor.FACE),),
                ),
                0,
            ),
            Gap.NO_PIN: (a_holder(memberships=(Membership(EVERYWHERE),)), 0),
            Gap.NO_PIN_IN_FORCE: (
                a_holder(memberships=(Membership(EVERYWHERE),), pins=(a_pin(span=PAST),)),
                0,
            ),
            Gap.NO_ACCESS_GROUP: (a_holder(memberships=()), 0),
            Gap.GROUPS_OPEN_NOTHING: (a_holder(memberships=(Membership(NOWHERE),)), 0),
            Gap.NO_MEMBERSHIP_IN_FORCE: (a_holder(memberships=(Membership(LAB, PAST),)), 0),
            Gap.EXPIRED: (a_holder(span=PAST), 0),
            Gap.SUSPENDED: (a_holder(standing=Standing.SUSPENDED), 0),
            Gap.BARRED: (a_holder(standing=Standing.BARRED), 0),
            Gap.DEPARTED: (a_holder(standing=Standing.DEPARTED), 0),
            Gap.NOT_HELD: (a_holder(), 2),
        }

        # a keypad at the front, and at the laboratory a reader that cannot read these cards
        asking = {
            FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN),
            LAB_READER: ReaderPolicy(Asks.CARD, frozenset({2})),
        }
        body = {
            Gap.NO_CONSENT: Factor.FINGER,
            Gap.NO_FINGER: Factor.FINGER,
            Gap.NO_FINGER_IN_FORCE: Factor.FINGER,
            Gap.NO_FACE: Factor.FACE,
            Gap.NO_FACE_IN_FORCE: Factor.FACE,
        }
        self.assertEqual(set(cases), set(Gap))
        for gap, (holder, not_held) in cases.items():
            with self.subTest(gap):
                policies = (
                    asking if gap in (Gap.CARD_NOT_READ, Gap.NO_PIN, Gap.NO_PIN_IN_FORCE) else {}
                )
                if gap is Gap.NO_PLATE:
                    policies = {FRONT_READER: ReaderPolicy(Asks.CARD_AND_PLATE)}
                if gap in body:
                    policies = {FRONT_READER: ReaderPolicy(((Factor.CARD, body[gap]),))}
                found = [
                    item.gap
                    for item in readiness(holder, a_plan(policies), MONDAY_NOON, not_held)
                    if item.gap
                ]
                self.assertEqual(found, [gap])

    def test_whoever_goes_by_a_pin_alone_needs_no_card(self) -> None:
        by_either = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_OR_PIN)})
        everywhere = (Membership(EVERYWHERE),)

        def gaps(*pins: Pin, memberships: tuple[Membership, ...] = everywhere) -> list[Gap]:
            holder = a_holder(cards=(), memberships=memberships, pins=pins)
            return [item.gap for item in readiness(holder, by_either, MONDAY_NOON) if item.gap]

        self.assertEqual(gaps(a_pin(opens_alone=True)), [])
        self.assertEqual(gaps(a_pin(opens_alone=True, span=PAST)), [Gap.NO_PIN_IN_FORCE])
        self.assertEqual(gaps(a_pin()), [Gap.NO_CARD])  # it opens nothing by itself
        both = (Membership(EVERYWHERE), Membership(LAB))  # the laboratory takes cards alone
        self.assertEqual(gaps(a_pin(opens_alone=True), memberships=both), [Gap.NO_CARD])

    def test_whoever_is_all_set_for_a_later_start_is_ready(self) -> None:
        starts_tomorrow = a_holder(
            span=AHEAD, cards=(a_card(span=AHEAD),), memberships=(Membership(LAB, AHEAD),)
        )

        self.assertTrue(is_ready(readiness(starts_tomorrow, a_plan(), MONDAY_NOON)))
        self.assertEqual(starts_tomorrow.span, AHEAD)
        self.assertNotEqual(AHEAD, ALWAYS)

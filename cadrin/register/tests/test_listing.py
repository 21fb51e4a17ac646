from dataclasses import replace
from datetime import datetime, timedelta
from random import Random
from typing import ClassVar
from unittest import mock

import numpy as np
from django.test import TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup, Grant
from cadrin.access.plan import access_plan, holders
from cadrin.biometrics.drafts import BiometricDraft, CardAloneDraft
from cadrin.biometrics.models import Consent, Template
from cadrin.biometrics.wordings import FIRST, add_wording
from cadrin.core.access.plan import Holder
from cadrin.core.access.readiness import Gap, Need, readiness
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.face.descriptor import NUMBERS
from cadrin.core.credentials.face.template import FaceTemplate, record_of_face
from cadrin.core.credentials.factors import Factor
from cadrin.core.records.card_formats import encode_format
from cadrin.core.tests.builders import a_finger
from cadrin.core.validity import Standing, State, state_at
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.models import CardFormat, Pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.delivery.queries import not_held_counts
from cadrin.delivery.wanted import take_marks
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.sealing import seal
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.people.queries import details_of_rows, in_state, rules
from cadrin.register.filters import Filters, having_gap
from cadrin.register.listing import SORTS, page, rows_of, who_may_open
from cadrin.sites.models import Door, Reader
from tests.house import ANYBODY, NOON, House

EDGES = [None, None, *(NOON + timedelta(days=days) for days in (-3, -1, 0, 1, 3))]


def random_end(place: int) -> datetime | None:
    """Return no end, one that is over, or one ahead."""
    return [None, NOON - timedelta(days=1), NOON + timedelta(days=1)][place % 3]


def some_people(house: House, count: int = 150) -> None:
    """Enrol people of every kind that the rules tell apart; the same ones every time."""
    random = Random(7)
    empty = AccessGroup.objects.create(name="Opens nothing")
    statuses = (CardStatus.ISSUED, CardStatus.ISSUED, CardStatus.LOST, CardStatus.SUSPENDED)

    def span() -> dict[str, object]:
        start, end = random.choice(EDGES), random.choice(EDGES)
        return {
            "activation_at": start,
            "expiry_at": end if not (start and end and end <= start) else None,
        }

    for place in range(count):
        standing = random.choice([Standing.ACTIVE] * 4 + list(Standing))
        until = random.choice(EDGES) if standing is Standing.SUSPENDED else None
        details = house.draft(f"S-{place}").details
        details = replace(details, standing=standing, suspended_until=until)
        details = replace(details, **span())  # type: ignore[arg-type]
        cards = [
            house.card(100 * place + one, status=random.choice(statuses), **span())
            for one in range(random.randrange(3))
        ]
        groups = random.sample([house.day_group.pk, house.boats.pk, empty.pk], random.randrange(3))
        memberships = tuple(MembershipDraft(id_, **span()) for id_ in groups)  # type: ignore[arg-type]
        house.enrol(CardholderDraft(details, tuple(cards), memberships))


class TheListAndTheCore(TestCase):
    house: ClassVar[House]
    holders: ClassVar[dict[int, Holder]]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.house = House()
        some_people(cls.house)
        cls.make_readers_differ()
        take_marks(NOON, most=100)  # not everybody: for some nothing is wanted yet
        cls.holders = holders(Cardholder.objects.values_list("id", flat=True))

    @classmethod
    def make_readers_differ(cls) -> None:
        """Let the gate ask for a PIN, the laboratory for a plate, and the slip take a PIN instead
        of another card.

        Some have a PIN that works or is over its time, some such a card, some a vehicle, some
        neither.
        """
        house = cls.house
        other = CardFormat.objects.create(name="34-bit", layout=encode_format(READY_MADE[2].layout))
        Reader.objects.filter(pk=house.gate_reader.pk).update(policy=[["card", "pin"]])
        Reader.objects.filter(pk=house.lab_reader.pk).update(policy=[["card", "plate"]])
        house.slip_reader.formats.add(other)
        Reader.objects.filter(pk=house.slip_reader.pk).update(policy=[["card"], ["pin"]])
        move_plan_version()
        for place, cardholder in enumerate(Cardholder.objects.order_by("id")[:40]):
            draft = stored_cardholder(cardholder, rules())
            if place % 3 == 0:
                draft = replace(
                    draft, pins=(PinDraft(is_generated=True, opens_alone=place % 4 < 2),)
                )
            if place % 2 == 0:
                draft = replace(draft, cards=(*draft.cards, CardDraft(other.pk, 3, 1 + place)))
            if place % 5 == 0:
                draft = replace(draft, plates=(f"SK {place}",))
            if place % 10 == 0:
                draft = replace(draft, cards=())
            house.save(cardholder.pk, draft)
        by_pin = replace(
            house.draft("S-PIN"), cards=(), pins=(PinDraft(is_generated=True, opens_alone=True),)
        )
        house.enrol(replace(by_pin, memberships=(MembershipDraft(house.boats.pk),)))
        cls.make_a_vault()
        over = [
            id_
            for place, id_ in enumerate(Pin.objects.values_list("id", flat=True))
            if place % 3 == 1
        ]
        Pin.objects.filter(pk__in=over).update(expiry_at=NOON - timedelta(days=1))

    @classmethod
    def make_a_vault(cls) -> None:
        """Let a door ask for a finger and a face together; some have consent, some templates, some
        neither, and some are let in by card alone.
        """
        house = cls.house
        vault = Door.objects.create(name="Vault", area=house.gate.area, controller=house.south)
        Reader.objects.create(
            name="Vault", door=vault, controller=house.south, policy=[["finger", "face"]]
        )
        group = AccessGroup.objects.create(name="Vault")
        Grant.objects.create(group=group, door=vault, schedule=house.always)
        move_plan_version()
        wording = add_wording(FIRST, NOON)
        records = {
            Factor.FINGER: a_finger(1).record,
            Factor.FACE: record_of_face(FaceTemplate(np.zeros(NUMBERS, np.float32), 50)),
        }
        for place, cardholder in enumerate(Cardholder.objects.order_by("id")[40:80]):
            theirs = stored_cardholder(cardholder, rules())
            memberships = (*theirs.memberships, MembershipDraft(group.pk))
            alone = CardAloneDraft("burned hand", random_end(place)) if place % 7 == 0 else None
            wanted = BiometricDraft(card_alone=alone)
            house.save(cardholder.pk, replace(theirs, memberships=memberships, biometrics=wanted))
            if place % 2:
                Consent.objects.create(
                    holder=cardholder, covers_fingers=True, covers_faces=place % 3 > 0,
                    wording=wording, language="en", how="tick", given_at=NOON, taken_by="Test",
                    expiry_at=random_end(place),
                )  # fmt: skip
            for factor, record in records.items():
                if place % 5 != (0 if factor is Factor.FINGER else 3):
                    Template.objects.create(
                        holder=cardholder, factor=factor, position=1, sealed=seal(record),
                        quality=80, taken_at=NOON, taken_by="Test", is_suspended=place % 11 == 0,
                        activation_at=random_end(place + 1), expiry_at=random_end(place // 3),
                    )  # fmt: skip

    def test_find_the_same_states(self) -> None:
        for state in State:
            with self.subTest(state):
                expected = {
                    h.id
                    for h in self.holders.values()
                    if state_at(h.standing, h.span, NOON, h.suspended_until).state is state
                }
                found = set(
                    Cardholder.objects.filter(in_state(state, NOON)).values_list("id", flat=True)
                )
                self.assertEqual(found, expected)
                self.assertTrue(found, "the people of this test are too much alike")

    def test_find_the_same_gaps(self) -> None:
        plan, not_held = access_plan(), not_held_counts(self.holders)
        for gap in Gap:
            with self.subTest(gap):
                expected = {
                    h.id
                    for h in self.holders.values()
                    if gap in [item.gap for item in readiness(h, plan, NOON, not_held.get(h.id, 0))]
                }
                found = set(
                    Cardholder.objects.filter(having_gap(gap, NOON)).values_list("id", flat=True)
                )
                self.assertEqual(found, expected)
                self.assertTrue(found, "the people of this test are too much alike")

    def test_know_alike_who_needs_no_card(self) -> None:
        plan = access_plan()

        by_pin = {
            h.id
            for h in self.holders.values()
            if not h.cards
            and not any(item.gap for item in readiness(h, plan, NOON) if item.need is Need.CARD)
        }

        self.assertTrue(by_pin)
        found = Cardholder.objects.filter(cards=None).exclude(having_gap(Gap.NO_CARD, NOON))
        self.assertEqual(set(found.values_list("id", flat=True)), by_pin)

    def test_pages_by_key_give_everybody_once_in_every_order(self) -> None:
        for sort in (*SORTS, *(f"-{sort}" for sort in SORTS), "own.1"):
            with self.subTest(sort):
                seen, after = [], ""
                while True:
                    one = page(ANYBODY, Filters(), NOON, sort=sort, after=after, most=17)
                    seen += [row["id"] for row in one.rows]
                    if one.next is None:
                        break
                    after = one.next
                self.assertEqual(sorted(seen), sorted(self.holders))
                whole = [
                    row["id"] for row in page(ANYBODY, Filters(), NOON, sort=sort, most=500).rows
                ]
                self.assertEqual(seen, whole)

    def test_a_page_takes_the_same_few_queries_however_long_it_is(self) -> None:
        page(ANYBODY, Filters(), NOON)

        for most in (5, 100):
            with self.assertNumQueries(
                15
            ):  # cards, PINs, plates, fingers, consents, memberships, each in one
                page(ANYBODY, Filters(), NOON, most=most)

    def test_whoever_is_let_in_by_card_alone_is_found(self) -> None:
        found = page(ANYBODY, Filters(is_by_card_alone=True), NOON, most=500)

        theirs = {h.id for h in self.holders.values() if h.is_by_card_alone(NOON)}
        self.assertEqual({row["id"] for row in found.rows}, theirs)
        self.assertTrue(theirs)

    def test_whoever_goes_while_the_list_is_read_is_left_out(self) -> None:
        first, second = sorted(self.holders)[:2]

        with mock.patch("cadrin.register.listing.details_of_rows") as details:
            details.side_effect = lambda ids: {
                id_: found for id_, found in details_of_rows(ids).items() if id_ != first
            }
            found = rows_of(ANYBODY, [first, second], NOON)

        self.assertEqual([row["id"] for row in found], [second])

    def test_filters_combine(self) -> None:
        filters = Filters(
            text="reve", state=State.IN_FORCE, group_id=self.house.boats.pk, gap=Gap.NO_CARD
        )

        found = page(ANYBODY, filters, NOON, most=500)

        self.assertTrue(found.rows)
        for row in found.rows:
            self.assertEqual((row["state"], row["cards"]), (State.IN_FORCE, []))
            self.assertIn("Boats", row["groups"])

    def test_who_may_open_a_door_is_told_by_name(self) -> None:
        found = who_may_open(ANYBODY, self.house.slip.pk, NOON)

        members = {
            h.id
            for h in self.holders.values()
            if any(m.group_id == self.house.boats.pk for m in h.memberships)
        }
        self.assertTrue(found)
        self.assertLess(set(found), members)

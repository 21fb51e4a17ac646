"""What is said of a card beside its numbers."""

from dataclasses import replace
from datetime import timedelta
from typing import Any

from cadrin.access.plan import holders
from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import Invalid
from cadrin.core.records.card_formats import encode_format
from cadrin.core.schedules import Hours
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.commands.settings import CardSettingsDraft, save_card_settings
from cadrin.credentials.models import Card, CardFormat
from cadrin.credentials.queries import formats
from cadrin.credentials.stock import set_stock_status
from cadrin.enrolment.commands.cards import return_temporary_cards
from cadrin.enrolment.commands.undo import undo
from cadrin.enrolment.tests.test_credentials import WithAHouse
from cadrin.journal.models import Entry
from cadrin.people.models import Cardholder
from tests.house import ANYBODY, DAY, NOON, ZONE


class TermsOfCards(WithAHouse):
    def test_are_kept_written_down_and_taken_back(self) -> None:
        id_ = self.house.enrol()
        terms: dict[str, Any] = {
            "label": "Fob",
            "is_watched": True,
            "use_limit": 3,
            "hours": (Hours(0, 480, 600),),
            "zone": ZONE,
            "status": CardStatus.SUSPENDED,
            "suspended_until": NOON + DAY,
        }

        self.change(id_, cards=(self.house.card(**terms),))

        (card,) = holders([id_])[id_].cards
        self.assertEqual((card.is_watched, card.suspended_until), (True, NOON + DAY))
        assert card.limit and card.hours
        self.assertEqual(
            (card.limit.most, card.limit.since, card.hours.hours), (3, NOON, (Hours(0, 480, 600),))
        )
        undo(self.house.actor, id_, Entry.objects.get(action="card.changed").pk, NOON)
        self.assertEqual(self.stored(id_).cards, (self.house.card(),))

    def test_an_end_of_a_suspension_goes_with_the_suspension(self) -> None:
        id_ = self.house.enrol()
        self.change(
            id_, cards=(self.house.card(status=CardStatus.LOST, suspended_until=NOON + DAY),)
        )

        self.assertIsNone(Card.objects.get().suspended_until)

    def test_bad_ones_are_told_beside_their_fields(self) -> None:
        card = self.house.card(
            label="x" * 41, use_limit=256, issue_level=1, hours=(Hours(0, 600, 600),)
        )
        temporary = self.house.card(4752, is_temporary=True)

        self.assertEqual(
            self.refused(replace(self.house.draft(), cards=(card, temporary))),
            [
                ("input.too_long", "cards.0.label"),
                ("input.out_of_range", "cards.0.use_limit"),
                ("schedule.hours_empty", "cards.0.hours"),
                ("card.no_issue_level", "cards.0.issue_level"),
                ("card.temporary_needs_end", "cards.1.expiry_at"),
            ],
        )

    def test_the_site_lets_a_cardholder_have_so_many_that_count(self) -> None:
        save_card_settings(ANYBODY, CardSettingsDraft(2, PinRule(), 1), NOON)
        cards = tuple(self.house.card(4751 + n) for n in range(3))

        self.assertEqual(
            self.refused(replace(self.house.draft(), cards=cards)),
            [("card.too_many", "cards.2.card_number")],
        )
        lost = replace(cards[0], status=CardStatus.LOST)
        self.house.enrol(replace(self.house.draft(), cards=(lost, *cards[1:])))

    def test_the_bits_of_a_card_are_issued_once_whatever_the_format(self) -> None:
        # the same length and parity, with four bits of the facility code counted to the card number
        apart = replace(STANDARD_26_BIT, facility_code=BitField(2, 5), card_number=BitField(6, 25))
        other = CardFormat.objects.create(name="26-bit, long numbers", layout=encode_format(apart))
        self.house.enrol(replace(self.house.draft("S-1"), cards=(self.house.card(4751),)))
        (alike,) = also_read_as(
            CardKey(self.house.format.pk, self.house.card(4751).facility_code, 4751), formats()
        )
        self.assertEqual(alike.format_id, other.pk)
        same = CardDraft(*alike)

        second = replace(self.house.draft("S-2"), cards=(same,))
        self.assertEqual(self.refused(second), [("card.same_bits", "cards.0.card_number")])
        both = replace(
            second,
            cards=(self.house.card(4752), CardDraft(*same.identity[:2], same.card_number + 1)),
        )
        self.assertEqual(self.refused(both), [("card.same_bits_twice", "cards.1.card_number")])
        self.house.enrol(
            replace(second, cards=(CardDraft(*same.identity[:2], same.card_number + 1),))
        )

    def test_a_temporary_card_goes_back_at_night_and_its_holder_keeps_the_others(self) -> None:
        lent = self.house.card(4752, is_temporary=True, expiry_at=NOON + timedelta(hours=11))
        id_ = self.house.enrol(replace(self.house.draft(), cards=(self.house.card(), lent)))

        self.assertEqual(return_temporary_cards(NOON + timedelta(hours=10)), 0)
        self.assertEqual(return_temporary_cards(NOON + timedelta(hours=11)), 1)

        self.assertEqual([card.card_number for card in self.stored(id_).cards], [4751])
        self.assertEqual(Card.objects.get(card_number=4752).status, CardStatus.RETURNED)
        self.assertEqual(Entry.objects.get(action="card.returned").operator_name, "Cadrin")

    def test_a_temporary_card_that_was_stolen_is_not_back_in_the_morning(self) -> None:
        for number, status in ((4752, CardStatus.STOLEN), (4753, CardStatus.LOST)):
            with self.subTest(status):
                lent = self.house.card(number, is_temporary=True, expiry_at=NOON, status=status)
                id_ = self.house.enrol(replace(self.house.draft(f"S-{number}"), cards=(lent,)))

                self.assertEqual(return_temporary_cards(NOON + timedelta(hours=11)), 0)

                card = Card.objects.get(card_number=number)
                self.assertEqual(
                    (card.holder_id, card.status), (id_, status), "doors still know what it is"
                )

    def test_a_card_that_was_lost_is_not_back_because_nobody_has_it(self) -> None:
        lost = self.house.card(4754, status=CardStatus.LOST)
        id_ = self.house.enrol(replace(self.house.draft(), cards=(self.house.card(), lost)))
        self.change(id_, cards=())

        now = dict(Card.objects.values_list("card_number", "status"))
        self.assertEqual(now, {4751: CardStatus.RETURNED, 4754: CardStatus.LOST})
        other = replace(self.house.draft("S-2"), cards=(self.house.card(4754),))
        self.assertEqual(self.refused(other), [("card.cannot_be_issued", "cards.0.card_number")])
        # whoever has it in hand says so of the card
        set_stock_status(
            ANYBODY, CardKey(self.house.format.pk, 12, 4754), CardStatus.IN_STOCK, NOON
        )
        self.house.enrol(other)

    def test_replacing_is_one_act_of_two_cards(self) -> None:
        id_ = self.house.enrol()
        version = Cardholder.objects.get(pk=id_).version
        old = replace(self.house.card(), status=CardStatus.LOST)

        self.change(id_, cards=(old, self.house.card(4799)))

        self.assertEqual(Cardholder.objects.get(pk=id_).version, version + 1)
        self.assertEqual(
            dict(Card.objects.values_list("card_number", "status")), {4751: "lost", 4799: "issued"}
        )

    def test_one_that_nobody_has_is_destroyed_and_issued_no_more(self) -> None:
        id_ = self.house.enrol()
        key = CardKey(self.house.format.pk, 12, 4751)
        with self.assertRaises(Invalid) as caught:
            set_stock_status(ANYBODY, key, CardStatus.DESTROYED, NOON)
        self.assertEqual(caught.exception.code, "card.is_held")
        self.change(id_, cards=())

        set_stock_status(ANYBODY, key, CardStatus.DESTROYED, NOON)

        self.assertEqual(self.refused(self.house.draft("S-2"))[0][0], "card.cannot_be_issued")
        set_stock_status(ANYBODY, key, CardStatus.IN_STOCK, NOON)
        self.house.enrol(self.house.draft("S-2"))

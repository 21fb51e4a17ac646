"""PINs, what readers take, terms of cards, rows of people: what their commands write, and what they
never do.
"""

import json
from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.core import mail
from django.db import connection
from django.test import TestCase, override_settings

from cadrin.access.plan import access_plan, holders
from cadrin.access.reader_preview import preview_reader
from cadrin.core.credentials.card.alike import also_read_as
from cadrin.core.credentials.card.bit_fields import BitField
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.stock import CardRange
from cadrin.core.credentials.factors import Factors, ReaderPolicy
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import Invalid, NotFound, NotPermitted, Stale
from cadrin.core.records.card_formats import encode_format
from cadrin.core.schedules import Hours
from cadrin.core.tests.builders import Asks
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.commands.settings import CardSettingsDraft, save_card_settings
from cadrin.credentials.letters import send_letters
from cadrin.credentials.models import Card, CardFormat, FormerPin, Pin, PinList
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.queries import formats
from cadrin.credentials.settings import card_settings
from cadrin.credentials.stock import BoxDraft, change_box, enter_box, remove_box, set_stock_status
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.enrolment.commands.cards import return_temporary_cards
from cadrin.enrolment.commands.handout import Pair, issue_row, people_without_card, run_of
from cadrin.enrolment.commands.pin_lists import make_pin_list, open_pin_list
from cadrin.enrolment.commands.undo import undo
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from tests.house import ANYBODY, DAY, NOON, ZONE, House, an_operator

DIGITS, OTHER, THIRD = "481509", "857203", "936142"


def typed(digits: str = DIGITS, **more: object) -> PinDraft:
    return PinDraft(entry=digits, again=digits, **more)  # type: ignore[arg-type]


class WithAHouse(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def stored(self, id_: int) -> CardholderDraft:
        return stored_cardholder(Cardholder.objects.get(pk=id_), rules())

    def change(self, id_: int, **what: object) -> None:
        self.house.save(id_, replace(self.stored(id_), **what))  # type: ignore[arg-type]

    def rule(self, **what: object) -> None:
        kept = card_settings()
        draft = CardSettingsDraft(kept.most_cards, replace(PinRule(), **what), kept.version)  # type: ignore[arg-type]
        save_card_settings(ANYBODY, draft, NOON)

    def refused(
        self, draft: CardholderDraft, id_: int | None = None
    ) -> list[tuple[str, str | None]]:
        with self.assertRaises(Invalid) as caught:
            save_and_show(self.house.actor, id_, draft, NOON)
        return [(problem.code, problem.field) for problem in caught.exception.problems]


class Pins(WithAHouse):
    def someone(self, number: str, *pins: PinDraft, **details: object) -> CardholderDraft:
        return replace(self.house.draft(number, **details), cards=(), pins=pins)

    def test_the_digits_stand_nowhere_in_the_database(self) -> None:
        self.house.enrol(self.someone("S-1", typed()))

        with connection.cursor() as cursor:
            cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
            for (table,) in cursor.fetchall():
                cursor.execute(f'SELECT * FROM "{table}"')
                self.assertNotIn(DIGITS, repr(cursor.fetchall()), table)
        self.assertEqual(Entry.objects.get(action="pin.set").changes["opens_alone"], [None, False])

    def test_one_that_is_made_up_is_shown_once(self) -> None:
        saved = save_and_show(
            self.house.actor, None, self.someone("S-1", PinDraft(is_generated=True)), NOON
        )

        (shown,) = saved.shown_pins
        self.assertRegex(shown.digits, r"^\d{6}$")
        again = save_and_show(self.house.actor, saved.id, self.stored(saved.id), NOON)
        self.assertEqual(again.shown_pins, ())

    @override_settings(EMAIL_HOST="mail.skerrow.example")
    def test_one_that_is_mailed_is_not_shown(self) -> None:
        draft = self.someone(
            "S-1", PinDraft(is_generated=True, is_mailed=True), email="reve@skerrow.example"
        )

        saved = save_and_show(self.house.actor, None, draft, NOON)
        send_letters(NOON)

        self.assertEqual(saved.shown_pins, ())
        (letter,) = mail.outbox
        self.assertEqual(letter.to, ["reve@skerrow.example"])
        self.assertRegex(str(letter.body), r"\d{6}")
        without = replace(draft, details=replace(draft.details, number="S-2", email=""))
        self.assertEqual(self.refused(without), [("pin.no_email", "pins.0.is_mailed")])

    def test_what_is_wrong_stands_beside_its_field_all_at_once(self) -> None:
        draft = self.someone("S-1", PinDraft(entry="1111", again="2222"), PinDraft())

        self.assertEqual(
            self.refused(draft),
            [
                ("pin.length", "pins.0.entry"),
                ("pin.repeats", "pins.0.entry"),
                ("pin.date", "pins.0.entry"),
                ("pin.differs", "pins.0.again"),
                ("pin.missing", "pins.1.entry"),
            ],
        )

    def test_nobody_gets_one_that_is_taken_or_could_be_mistaken_for_it(self) -> None:
        self.rule(duress=DuressRule.LAST_DIGIT_UP)
        self.house.enrol(self.someone("S-1", typed()))

        for digits in (DIGITS, "481500", "481508"):
            self.assertEqual(
                self.refused(self.someone("S-2", typed(digits))),
                [("pin.choose_another", "pins.0.entry")],
            )
        self.house.enrol(self.someone("S-2", typed("481502")))

    def test_where_they_need_not_differ_none_opens_alone_as_anothers(self) -> None:
        self.rule(is_unique=False)
        first = self.house.enrol(self.someone("S-1", typed()))
        self.house.enrol(self.someone("S-2", typed()))
        self.house.enrol(self.someone("S-3", typed(OTHER, opens_alone=True)))
        taken = [("pin.choose_another", "pins.0.entry")]

        self.assertEqual(self.refused(self.someone("S-4", typed(opens_alone=True))), taken)
        # typed alone, it opened as S-3's
        self.assertEqual(self.refused(self.someone("S-4", typed(OTHER))), taken)
        (pin,) = self.stored(first).pins
        alone = replace(self.stored(first), pins=(replace(pin, opens_alone=True),))
        self.assertEqual(self.refused(alone, first), taken)

    def test_a_rule_for_duress_waits_until_no_pin_there_is_mistaken_by_it(self) -> None:
        self.house.enrol(self.someone("S-1", typed("481509", opens_alone=True)))
        second = self.house.enrol(self.someone("S-2", typed("481500")))

        with self.assertRaises(Invalid) as caught:
            self.rule(duress=DuressRule.LAST_DIGIT_UP)
        (problem,) = caught.exception.problems
        self.assertEqual((problem.code, problem.field), ("pin_rule.mistaken", "duress"))
        # not whose it would be taken for
        self.assertEqual(problem.params, {"count": 1, "numbers": "S-2"})

        self.rule(duress=DuressRule.FIRST_DIGIT_UP)
        self.change(second, pins=())
        self.rule(duress=DuressRule.LAST_DIGIT_UP)

    def test_a_former_one_is_not_taken_again_too_soon(self) -> None:
        self.rule(remembered=2)
        id_ = self.house.enrol(self.someone("S-1", typed()))
        for digits in (OTHER, THIRD):
            (pin,) = self.stored(id_).pins
            self.change(id_, pins=(typed(digits, id=pin.id),))

        (pin,) = self.stored(id_).pins
        back = replace(self.stored(id_), pins=(typed(DIGITS, id=pin.id),))
        self.assertEqual(self.refused(back, id_), [("pin.choose_another", "pins.0.entry")])
        self.assertEqual(FormerPin.objects.filter(holder_id=id_).count(), 2)
        self.rule(remembered=1)
        self.house.save(id_, back)

    def test_one_that_holds_for_days_expires_by_itself(self) -> None:
        self.rule(holds_days=30)
        id_ = self.house.enrol(self.someone("S-1", typed()))

        (pin,) = holders([id_])[id_].pins
        self.assertEqual(pin.span.end, NOON + 30 * DAY)

    def test_only_whoever_issues_cards_sets_them(self) -> None:
        editor = actor_of(an_operator("edda", Permission.SEE, Permission.EDIT))
        id_ = self.house.enrol(self.someone("S-1"))

        with self.assertRaises(NotPermitted):
            save_and_show(editor, id_, replace(self.stored(id_), pins=(typed(),)), NOON)
        self.assertFalse(Pin.objects.exists())

    def test_a_sealed_list_is_opened_once_and_then_holds_nothing(self) -> None:
        ids = self.house.enrol_many(3)
        self.change(ids[0], pins=(typed(),))

        list_id = make_pin_list(self.house.actor, ids, NOON)

        self.assertEqual(len(open_pin_list(self.house.actor, list_id, NOON)), 2)
        self.assertEqual(PinList.objects.get().sealed, "")
        with self.assertRaises(Invalid):
            open_pin_list(self.house.actor, list_id, NOON)
        self.assertEqual(Pin.objects.count(), 3)
        limited_to = actor_of(
            an_operator("kay", *Permission, limited_to={"departments": [self.house.department.pk]})
        )
        with self.assertRaises(NotFound):
            open_pin_list(
                limited_to,
                make_pin_list(ANYBODY, [self.house.enrol(self.someone("S-8"))], NOON),
                NOON,
            )


class WhatReadersTake(WithAHouse):
    def take(
        self,
        mode: tuple[Factors, ...],
        *,
        has_keypad: bool = True,
        formats: frozenset[int] = frozenset(),
    ) -> None:
        self.house.gate_reader.refresh_from_db()
        draft = ReaderDraft(mode, has_keypad, formats, self.house.gate_reader.version)
        save_reader(ANYBODY, self.house.gate_reader.pk, draft, NOON)

    def test_is_in_the_plan_at_once(self) -> None:
        self.take(Asks.CARD_AND_PIN, formats=frozenset({self.house.format.pk}))

        way = ReaderPolicy(Asks.CARD_AND_PIN, frozenset({self.house.format.pk}))
        self.assertEqual(access_plan().policy_of_reader, {self.house.gate_reader.pk: way})

    def test_whom_it_would_leave_outside_is_told_before(self) -> None:
        self.house.enrol_many(3)
        self.house.enrol(replace(self.house.draft("S-9"), pins=(typed(),)))
        gate = self.house.gate_reader.pk
        asking = ReaderDraft(Asks.CARD_AND_PIN, True, frozenset({self.house.format.pk + 1}), 1)

        before = preview_reader(gate, asking)
        self.take(Asks.CARD_AND_PIN)
        after = preview_reader(gate, ReaderDraft(Asks.CARD, True, frozenset(), 2))

        self.assertEqual((before.without_pin, before.without_readable_card), (3, 4))
        self.assertEqual((after.without_pin, after.without_readable_card), (-3, 0))

    def test_a_pin_needs_a_keypad(self) -> None:
        with self.assertRaises(Invalid) as caught:
            self.take(Asks.PIN, has_keypad=False)
        self.assertEqual(caught.exception.code, "reader.needs_keypad")

    def test_two_who_change_a_reader_do_not_overwrite_each_other(self) -> None:
        self.take(Asks.CARD_OR_PIN)

        with self.assertRaises(Stale):
            draft = ReaderDraft(Asks.CARD, False, frozenset(), 1)
            save_reader(ANYBODY, self.house.gate_reader.pk, draft, NOON)

    def test_the_key_of_pins_comes_with_the_first_of_them(self) -> None:
        self.take(Asks.PIN)
        self.assertEqual(access_plan().pins.hash_key, "")

        self.house.enrol(replace(self.house.draft("S-1"), pins=(typed(opens_alone=True),)))

        plain, _ = access_plan().pins.hashes(DIGITS)
        self.assertEqual(
            [pin.hash for holder in holders([1]).values() for pin in holder.pins], [plain]
        )


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


class RowsOfPeople(WithAHouse):
    def setUp(self) -> None:
        super().setUp()
        self.ids = [
            self.house.enrol(replace(self.house.draft(f"R-{n}"), cards=())) for n in range(3)
        ]

    def pairs(self, *numbers: int) -> list[Pair]:
        return [
            Pair(id_, self.house.card(number))
            for id_, number in zip(self.ids, numbers, strict=True)
        ]

    def test_are_of_those_without_a_card_in_the_order_of_the_choice(self) -> None:
        with_card = self.house.enrol(self.house.draft("R-9"))
        asked = [self.ids[2], with_card, self.ids[0]]

        found = people_without_card(ANYBODY, asked, None, None)
        by_number = people_without_card(ANYBODY, None, None, ("r-1", "R-2"))

        self.assertEqual([row["id"] for row in found], [self.ids[2], self.ids[0]])
        self.assertEqual([row["number"] for row in by_number], ["R-1", "R-2"])

    def test_everybody_gets_theirs(self) -> None:
        self.assertEqual(issue_row(self.house.actor, self.pairs(1, 2, 3), NOON), 3)

        self.assertEqual(
            list(Card.objects.order_by("id").values_list("holder_id", flat=True)), self.ids
        )

    def test_or_nobody_does(self) -> None:
        self.house.enrol(self.house.draft("R-9"))  # has 4751

        with self.assertRaises(Invalid) as caught:
            issue_row(self.house.actor, self.pairs(1, 4751, 1), NOON)

        self.assertEqual(
            [(problem.code, problem.field) for problem in caught.exception.problems],
            [("card.already_issued", "pairs.1.card_number"), ("card.twice", "pairs.2.card_number")],
        )
        self.assertEqual(Card.objects.count(), 1)


class Boxes(WithAHouse):
    def box(self, first: int, last: int) -> int:
        draft = BoxDraft(self.house.format.pk, CardRange(12, first, last), leaves_out=True)
        return enter_box(ANYBODY, draft, NOON)

    def test_one_that_is_removed_takes_only_cards_that_nobody_ever_had(self) -> None:
        box, _ = self.box(4751, 4760), self.box(4758, 4770)  # they share three cards
        self.house.enrol()  # 4751
        change_box(ANYBODY, box, " Safe ", "", NOON)
        self.assertEqual(
            Entry.objects.get(action="box.changed").changes, {"kept_where": ["", "Safe"]}
        )

        remove_box(ANYBODY, box, NOON)

        left = Card.objects.order_by("card_number").values_list("card_number", flat=True)
        self.assertEqual(list(left), [4751, *range(4758, 4771)])
        self.assertIn("4751-4760", json.dumps(Entry.objects.get(action="box.removed").changes))
        with self.assertRaises(NotFound):
            remove_box(ANYBODY, box, NOON)


class ARun(TestCase):
    def test_follows_on_for_everybody_and_says_what_stands_against_it(self) -> None:
        house = House()
        holder = house.enrol()  # has 4751
        people = [
            house.enrol(replace(house.draft(f"S-{n}", last_name=f"R{n}"), cards=()))
            for n in (2, 3, 4)
        ]

        run, problems = run_of(house.actor, house.card(10), people, [], NOON)
        _, taken = run_of(house.actor, house.card(4750), people, [], NOON)
        _, twice = run_of(
            house.actor, house.card(9), people[1:], [Pair(people[0], house.card(10))], NOON
        )

        self.assertEqual([pair.card.card_number for pair in run], [10, 11, 12])
        self.assertEqual(([pair.cardholder_id for pair in run], problems), (people, ()))
        self.assertEqual(
            [(p.code, p.field, p.params["holder_id"]) for p in taken],
            [("card.already_issued", "pairs.1.card_number", holder)],
        )
        self.assertEqual(
            [(p.code, p.field) for p in twice], [("card.twice", "pairs.2.card_number")]
        )

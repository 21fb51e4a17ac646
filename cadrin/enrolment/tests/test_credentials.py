"""PINs, what readers take, terms of cards, rows of people: what their commands write, and what they
never do.
"""

import json
from dataclasses import replace

from django.core import mail
from django.db import connection
from django.test import TestCase, override_settings

from cadrin.access.plan import access_plan, holders
from cadrin.access.reader_preview import preview_reader
from cadrin.core.credentials.card.stock import CardRange
from cadrin.core.credentials.factors import Factors, ReaderPolicy
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import Invalid, NotFound, NotPermitted, Stale
from cadrin.core.tests.builders import Asks
from cadrin.credentials.commands.settings import CardSettingsDraft, save_card_settings
from cadrin.credentials.letters import send_letters
from cadrin.credentials.models import Card, FormerPin, Pin, PinList
from cadrin.credentials.pin_draft import PinDraft
from cadrin.credentials.settings import card_settings
from cadrin.credentials.stock import BoxDraft, change_box, enter_box, remove_box
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.enrolment.commands.pin_lists import make_pin_list, open_pin_list
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from tests.house import ANYBODY, DAY, NOON, House, an_operator

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
            for table in connection.introspection.table_names(cursor):
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

        before = preview_reader(gate, asking, NOON)
        self.take(Asks.CARD_AND_PIN)
        after = preview_reader(gate, ReaderDraft(Asks.CARD, True, frozenset(), 2), NOON)

        self.assertEqual((before.without_pin, before.without_readable_card), (3, 4))
        self.assertEqual((after.without_pin, after.without_readable_card), (-3, 0))
        self.assertEqual((len(before.who), len(after.who)), (4, 0))

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

        draft = replace(self.house.draft("S-1"), pins=(typed(opens_alone=True),))
        enrolled = self.house.enrol(draft)

        plain, _ = access_plan().pins.hashes(DIGITS)
        self.assertEqual(
            [pin.hash for holder in holders([enrolled]).values() for pin in holder.pins], [plain]
        )


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

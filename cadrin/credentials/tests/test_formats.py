"""Card formats as they are set up, and the number detective among the cards that there are."""

from dataclasses import replace
from typing import Any

from django.test import TestCase

from cadrin.core.credentials.card.detective import Clue
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.card.signs import Sign
from cadrin.core.errors import Invalid, NotPermitted
from cadrin.core.records.card_formats import encode_format
from cadrin.credentials.commands.formats import FormatDraft, remove_format, save_format
from cadrin.credentials.models import CardFormat
from cadrin.credentials.queries import investigated
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from tests.house import NOON, House, an_operator

LONGER = next(one.layout for one in READY_MADE if one.name == "34-bit")


class Formats(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def draft(self, **more: Any) -> FormatDraft:
        return FormatDraft(
            **{"name": "34-bit", "source": "", "layout": encode_format(LONGER)} | more
        )

    def save(self, draft: FormatDraft, id_: int | None = None) -> int:
        return save_format(self.house.actor, id_, draft, NOON)

    def refused(self, draft: FormatDraft, id_: int | None = None) -> set[tuple[str | None, str]]:
        with self.assertRaises(Invalid) as refused:
            self.save(draft, id_)
        return {(problem.field, problem.code) for problem in refused.exception.problems}

    def test_a_new_one_is_kept_told_and_brought_to_every_controller(self) -> None:
        id_ = self.save(self.draft())

        self.assertEqual(CardFormat.objects.get(pk=id_).layout, encode_format(LONGER))
        self.assertEqual(Entry.objects.latest("id").action, "format.made")
        self.assertTrue(Mark.objects.exists())

    def test_one_that_cannot_be_is_refused_beside_its_field(self) -> None:
        layout = encode_format(LONGER) | {"length": 300}

        self.assertEqual(
            self.refused(self.draft(layout=layout)), {("layout.length_bits", "format.length")}
        )
        self.assertEqual(
            self.refused(self.draft(name="26-BIT", layout=encode_format(STANDARD_26_BIT))),
            {("name", "listed.taken"), ("layout", "format.same")},
        )

    def test_what_the_bits_of_cards_mean_is_never_changed(self) -> None:
        self.house.enrol()
        id_ = self.house.format.pk
        same = self.draft(name="Our 26-bit", layout=encode_format(STANDARD_26_BIT), version=1)

        self.assertEqual(
            self.refused(self.draft(name="26-bit", version=1), id_), {("layout", "format.in_use")}
        )
        self.save(same, id_)
        self.assertEqual(CardFormat.objects.get(pk=id_).name, "Our 26-bit")
        with self.assertRaises(Invalid):
            remove_format(self.house.actor, id_, NOON)

    def test_one_that_no_card_has_is_removed(self) -> None:
        remove_format(self.house.actor, self.save(self.draft()), NOON)

        self.assertEqual(CardFormat.objects.count(), 1)

    def test_they_are_for_whoever_sets_up_the_house(self) -> None:
        clerk = actor_of(an_operator("clerk", *(set(Permission) - {Permission.SET_UP})))

        with self.assertRaises(NotPermitted):
            save_format(clerk, None, self.draft(), NOON)


class Detective(TestCase):
    def test_knows_the_cards_that_there_are_and_those_near_them(self) -> None:
        house = House()
        house.enrol()
        house.enrol(replace(house.draft("S-2"), cards=(house.card(4800),)))

        (first, *_) = investigated([Clue(text="4751")])
        (near, *_) = investigated([Clue(text="4760")])

        self.assertEqual((first.numbers, first.format_id), (CardNumbers(12, 4751), house.format.pk))
        self.assertIn(Sign.KNOWN_CARD, first.signs)
        self.assertIn(Sign.NEIGHBOUR, near.signs)

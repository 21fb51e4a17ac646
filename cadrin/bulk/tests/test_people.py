"""What is done to a cardholder with their history: take back, erase, merge."""

from dataclasses import replace
from typing import Any

from django.test import TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Membership
from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.bulk.commands import begin_bulk_change
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.bulk import BulkAct
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.decision.events import read_events
from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.validity import Standing
from cadrin.credentials.models import Card
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.commands.undo import CAN_BE_UNDONE, undo
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.journal.queries import history_of
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.commands.custom_fields import OwnFieldDraft, save_custom_field
from cadrin.people.duplicates import possible_duplicates
from cadrin.people.models import Cardholder
from cadrin.people.queries import find_ids, rules
from cadrin.register.selection import Selection
from tests.house import ANYBODY, DAY, NOON, House, an_operator


class OnePerson(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.boots = save_custom_field(
            self.actor, None, OwnFieldDraft({"en": "Boots"}, {}, FieldType.NUMBER), NOON
        )

    def file(self, id_: int) -> CardholderDraft:
        return stored_cardholder(Cardholder.objects.get(pk=id_), rules())

    def read_by(self, id_: int) -> None:
        event = {
            "number": 1,
            "at": NOON.isoformat(),
            "reader": self.house.gate_reader.pk,
            "raw": "26:1",
        }
        event |= {
            "reason": "granted",
            "cardholder": id_,
            "name": "Tomas Reve",
            "card": [self.house.format.pk, 12, 1],
        }
        take_events(self.house.north.pk, f"store {id_}", read_events([event], 0), NOON)


class TakingBack(OnePerson):
    def test_every_kind_of_act_is_taken_back(self) -> None:
        id_ = self.house.enrol()
        before = self.file(id_)
        details = replace(
            before.details,
            title="Diver",
            phones=("+44 1632 960001",),
            department_id=self.house.department.pk,
            standing=Standing.SUSPENDED,
            suspended_until=NOON + DAY,
            own={self.boots: "42"},
        )
        boats = MembershipDraft(self.house.boats.pk, None, NOON + DAY)
        longer = replace(before.memberships[0], expiry_at=NOON + DAY)
        for name, draft in (
            ("details", replace(before, details=details)),
            ("a membership added", replace(before, memberships=(*before.memberships, boats))),
            ("a membership changed", replace(before, memberships=(longer,))),
            ("a membership removed", replace(before, memberships=())),
            (
                "a card changed",
                replace(before, cards=(replace(before.cards[0], status=CardStatus.LOST),)),
            ),
            ("a card issued", replace(before, cards=(*before.cards, self.house.card(99)))),
            ("a card returned", replace(before, cards=())),
        ):
            with self.subTest(name):
                self.house.save(id_, replace(draft, version=self.file(id_).version))
                acts = [
                    act for act in history_of("cardholder", id_) if act["action"] in CAN_BE_UNDONE
                ]

                undo(self.actor, id_, acts[0]["id"], NOON)

                self.assertEqual(replace(self.file(id_), version=0), replace(before, version=0))

    def test_an_own_field_that_is_called_like_one_of_ours_is_not_taken_for_it(self) -> None:
        save_custom_field(
            self.actor, None, OwnFieldDraft({"en": "title"}, {}, FieldType.TEXT), NOON
        )
        own = next(one for one in rules().custom_fields if one.label == "title")
        id_ = self.house.enrol()
        details = replace(self.file(id_).details, title="Diver", own={own.id: "Sir"})
        self.house.save(id_, replace(self.file(id_), details=details))

        undo(self.actor, id_, history_of("cardholder", id_)[0]["id"], NOON)

        self.assertEqual((self.file(id_).details.title, self.file(id_).details.own), ("", {}))

    def test_what_was_changed_since_stands_against_it(self) -> None:
        id_ = self.house.enrol()
        first = replace(self.file(id_).details, title="Diver")
        self.house.save(id_, replace(self.file(id_), details=first))
        act = history_of("cardholder", id_)[0]
        self.house.save(id_, replace(self.file(id_), details=replace(first, title="Skipper")))
        entries = Entry.objects.count()

        with self.assertRaises(Invalid) as caught:
            undo(self.actor, id_, act["id"], NOON)

        self.assertEqual(caught.exception.problems[0].params, {"fields": "title"})
        self.assertEqual(Entry.objects.count(), entries)
        enrolled = history_of("cardholder", id_)[-1]
        self.assertRaises(NotFound, undo, self.actor, id_, enrolled["id"], NOON)

    def test_needs_the_permission_of_what_it_changes(self) -> None:
        id_ = self.house.enrol()
        self.house.save(id_, replace(self.file(id_), memberships=()))
        act = history_of("cardholder", id_)[0]

        with self.assertRaises(NotPermitted):
            undo(actor_of(an_operator("ed", Permission.EDIT)), id_, act["id"], NOON)


class Erasing(OnePerson):
    def test_leaves_nothing_but_the_number(self) -> None:
        personal: dict[str, Any] = {
            "email": "tomas@skerrow.example",
            "remarks": "limps",
            "own": {self.boots: "42"},
            "title": "Diver",
        }
        id_ = self.house.enrol(self.house.draft(**personal))
        self.read_by(id_)
        Mark.objects.all().delete()

        erase_cardholder(self.actor, id_, 1, "asked for by letter", NOON)

        person = Cardholder.objects.get(pk=id_)
        self.assertEqual(
            (person.number, person.display_name, person.standing), ("S-1", "S-1", Standing.DEPARTED)
        )
        kept = str(list(Entry.objects.values()))
        kept += str(Cardholder.objects.values().get()) + str(list(Read.objects.values()))
        for word in ("Tomas", "Reve", "tomas@", "limps", "'42'", "Diver"):
            self.assertNotIn(word, kept)
        self.assertEqual(
            (Card.objects.get().status, Membership.objects.count()), (CardStatus.RETURNED, 0)
        )
        self.assertEqual((find_ids(ANYBODY, "reve"), find_ids(ANYBODY, "s-1")), ([], [id_]))
        self.assertEqual(list(Mark.objects.values_list("subject_id", flat=True)), [id_])

    def test_leaves_what_was_done_to_others_too(self) -> None:
        one, other = self.house.enrol_many(2)
        storm = BulkDraft(BulkAct.STANDING, Standing.SUSPENDED, "storm")
        begin_bulk_change(self.actor, storm, Selection(ids=(one, other)), NOON)
        while work_on_bulk_changes(NOON):
            pass

        erase_cardholder(self.actor, one, 2, "asked for by letter", NOON)

        self.assertEqual(
            history_of("cardholder", other)[0]["changes"]["standing_reason"], ["", "storm"]
        )

    def test_is_refused_without_reason_or_permission_and_is_for_good(self) -> None:
        id_ = self.house.enrol()
        with self.assertRaises(Invalid):
            erase_cardholder(self.actor, id_, 1, " x ", NOON)
        with self.assertRaises(NotPermitted):
            erase_cardholder(
                actor_of(an_operator("ed", Permission.EDIT)), id_, 1, "asked for", NOON
            )
        erase_cardholder(self.actor, id_, 1, "asked for", NOON)

        for act in (
            lambda: erase_cardholder(self.actor, id_, 2, "asked for", NOON),
            lambda: self.house.save(id_, replace(self.house.draft(), version=2)),
        ):
            with self.assertRaises(Invalid) as caught:
                act()
            self.assertEqual(caught.exception.code, "cardholder.erased")


class Merging(OnePerson):
    def test_keeps_both_cards_both_histories_and_both_reads(self) -> None:
        one = self.house.enrol()
        other = self.house.enrol(
            replace(
                self.house.draft("S-2", last_name="Reeve", department_id=self.house.department.pk),
                cards=(self.house.card(99),),
                memberships=(MembershipDraft(self.house.boats.pk),),
            )
        )
        self.read_by(other)
        kept, gone = self.file(one), self.file(other)
        draft = replace(
            kept,
            cards=(*kept.cards, *gone.cards),
            memberships=(*kept.memberships, *gone.memberships),
        )

        merge_cardholders(self.actor, one, draft, other, gone.version, NOON)

        self.assertEqual(list(Cardholder.objects.values_list("id", flat=True)), [one])
        self.assertEqual({card.card_number for card in self.file(one).cards}, {4751, 99})
        self.assertEqual(len(self.file(one).memberships), 2)
        told = [act["action"] for act in history_of("cardholder", one)]
        self.assertEqual(
            (told.count("cardholder.enrolled"), told.count("cardholder.merged")), (2, 1)
        )
        self.assertEqual(Read.objects.get().cardholder_id, one)
        self.assertEqual(find_ids(ANYBODY, "99"), [one])
        self.assertLessEqual({one, other}, set(Mark.objects.values_list("subject_id", flat=True)))

    def test_nothing_is_merged_when_the_file_cannot_be_saved(self) -> None:
        one, other = (
            self.house.enrol(),
            self.house.enrol(replace(self.house.draft("S-2"), cards=())),
        )
        broken = replace(
            self.file(one), details=replace(self.file(one).details, first_name="", last_name="")
        )

        with self.assertRaises(Invalid):
            merge_cardholders(self.actor, one, broken, other, 1, NOON)

        self.assertEqual(Cardholder.objects.count(), 2)
        self.assertEqual(Cardholder.objects.get(pk=one).version, 1)

    def test_doubles_are_found_among_the_others(self) -> None:
        id_ = self.house.enrol(self.house.draft(department_id=self.house.department.pk))
        typed = replace(self.file(id_).details, number="S-7", first_name="Reeve", last_name="Tomas")

        self.assertEqual([row["id"] for row in possible_duplicates(ANYBODY, typed, None)], [id_])
        self.assertEqual(possible_duplicates(ANYBODY, typed, id_), [])

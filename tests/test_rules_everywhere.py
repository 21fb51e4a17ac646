"""Whoever comes to fit a rule is in its group, by whatever way they came to fit it."""

from dataclasses import replace

from django.test import TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft, RuleDraft
from cadrin.access.models import Membership
from cadrin.bulk.commands import begin_bulk_change, undo_bulk_change
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.bulk import BulkAct
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.commands.rules import keep_rules
from cadrin.enrolment.commands.undo import undo
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.queries import history_of
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.register.selection import Selection
from tests.house import NOON, House
from tests.with_a_token import WithAToken


def ruled_group(house: House) -> int:
    """Make a group of everybody in the one department of the house."""
    grant = GrantDraft(house.slip.pk, house.always.pk)
    rule = RuleDraft(department_id=house.department.pk)
    return save_group(house.actor, None, GroupDraft("Office", "", (grant,), 0, rules=(rule,)), NOON)


class RulesEverywhere(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.group = ruled_group(self.house)
        self.ids = self.house.enrol_many(3)

    def file(self, id_: int) -> CardholderDraft:
        return stored_cardholder(Cardholder.objects.get(pk=id_), rules())

    def people(self) -> set[int]:
        ruled = Membership.objects.filter(group=self.group, is_by_rule=True)
        return set(ruled.values_list("cardholder_id", flat=True))

    def change_many(self, draft: BulkDraft) -> int:
        id_ = begin_bulk_change(self.actor, draft, Selection(ids=tuple(self.ids)), NOON)
        while work_on_bulk_changes(NOON):
            pass
        return id_

    def test_many_who_are_moved_at_once_come_and_go_and_come_back_with_undo(self) -> None:
        id_ = self.change_many(BulkDraft(BulkAct.DEPARTMENT, self.house.department.pk))
        self.assertEqual(self.people(), set(self.ids))
        undo_bulk_change(self.actor, id_, NOON)
        while work_on_bulk_changes(NOON):
            pass
        self.assertEqual(self.people(), set())
        keep_rules(NOON)
        self.assertEqual(self.people(), set())

    def test_a_move_that_is_taken_back_takes_them_out_again(self) -> None:
        one = self.ids[0]
        file = self.file(one)
        moved = replace(file.details, department_id=self.house.department.pk)
        self.house.save(one, replace(file, details=moved))
        self.assertEqual(self.people(), {one})
        (entry,) = (
            act["id"] for act in history_of("cardholder", one)
            if act["action"] == "cardholder.changed"
        )  # fmt: skip
        undo(self.actor, one, entry, NOON)
        self.assertEqual(self.people(), set())

    def test_who_takes_over_the_department_of_another_takes_over_its_groups(self) -> None:
        one, other = self.ids[:2]
        file = self.file(other)
        moved = replace(file.details, department_id=self.house.department.pk)
        self.house.save(other, replace(file, details=moved))
        draft = self.file(one)
        both = replace(draft.details, department_id=self.house.department.pk)
        version = self.file(other).version
        merge_cardholders(self.actor, one, replace(draft, details=both), other, version, NOON)
        self.assertEqual(self.people(), {one})

    def test_who_is_erased_fits_no_rule(self) -> None:
        one = self.ids[0]
        file = self.file(one)
        moved = replace(file.details, department_id=self.house.department.pk)
        self.house.save(one, replace(file, details=moved))
        erase_cardholder(self.actor, one, self.file(one).version, "they asked for it", NOON)
        keep_rules(NOON)
        self.assertFalse(Membership.objects.filter(cardholder=one).exists())


class RulesForScripts(WithAToken):
    def test_who_is_made_moved_and_moved_away_by_a_script_is_in_and_out(self) -> None:
        group = ruled_group(self.house)
        made = self.ask("POST", "/cardholders", self.person(), status=201)
        ruled = Membership.objects.filter(group=group, is_by_rule=True)
        self.assertEqual(list(ruled.values_list("cardholder_id", flat=True)), [made["id"]])
        self.ask("PATCH", f"/cardholders/{made['id']}", {"department": None})
        self.assertFalse(ruled.exists())

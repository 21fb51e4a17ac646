"""Departments, companies, own fields and the rules of the register, and that a refusal leaves no
trace.
"""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.test import TestCase

from cadrin.core.errors import CadrinError, Invalid, NotPermitted, Stale
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.names import DisplayRule
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.commands.custom_fields import (
    ChoiceDraft,
    OwnFieldDraft,
    remove_own_field,
    save_custom_field,
    take_back_own_field,
)
from cadrin.people.commands.departments import DepartmentDraft, merge_departments, save_department
from cadrin.people.commands.lists import COMPANIES, KINDS, ListedDraft, save_listed
from cadrin.people.commands.settings import SettingsDraft, save_settings
from cadrin.people.lists import departments
from cadrin.people.models import Cardholder, Company, CustomField, CustomFieldKey, Department
from cadrin.people.queries import find_ids, rules
from tests.house import ANYBODY, NOON, House, an_operator

BOOTS = OwnFieldDraft({"en": "Boot size"}, {}, FieldType.NUMBER)
PLAIN = SettingsDraft("S-", 5, 1, DisplayRule.FIRST_LAST, 60, "GB", (), (), 1)


class SettingUp(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor

    def refused(self, act: Callable[[], Any], *problems: tuple[str | None, str]) -> None:
        """Check that an act is refused for just these reasons, and leaves no trace."""
        before = (Entry.objects.count(), Mark.objects.count())

        with self.assertRaises(CadrinError) as caught:
            act()

        self.assertEqual({(p.field, p.code) for p in caught.exception.problems}, set(problems))
        self.assertEqual((Entry.objects.count(), Mark.objects.count()), before)

    def a_department(self, number: str, parent: int | None = None) -> int:
        return save_department(
            self.actor, None, DepartmentDraft(number, f"Department {number}", parent), NOON
        )


class Departments(SettingUp):
    def test_one_moves_with_everybody_in_it(self) -> None:
        array, crew = self.a_department("20"), self.a_department("22")
        self.house.enrol(self.house.draft(department_id=crew))

        save_department(
            self.actor, crew, DepartmentDraft("22", "Turbine Crew", array, version=1), NOON
        )

        self.assertEqual(Department.objects.get(pk=crew).parent_id, array)
        self.assertEqual(Cardholder.objects.get().department_id, crew)
        self.assertEqual(Entry.objects.latest("id").changes["parent"], [None, "Department 20"])

    def test_none_goes_below_itself_or_too_deep(self) -> None:
        top = self.a_department("T1")
        line = [top]
        for level in range(2, 31):
            line.append(self.a_department(f"T{level}", line[-1]))

        self.refused(
            lambda: save_department(
                self.actor, top, DepartmentDraft("T1", "A", line[4], version=1), NOON
            ),
            ("parent_id", "department.below_itself"),
        )
        self.refused(
            lambda: self.a_department("T31", line[-1]), ("parent_id", "department.too_deep")
        )
        self.refused(
            lambda: save_department(
                self.actor,
                top,
                DepartmentDraft("1", "A", self.house.department.pk, version=1),
                NOON,
            ),
            ("parent_id", "department.too_deep"),
        )
        self.assertEqual(max(one["depth"] for one in departments(ANYBODY)), 29)

    def test_numbers_are_unique_whatever_their_case_and_spaces(self) -> None:
        self.a_department("A 7")

        self.refused(lambda: self.a_department("a7"), ("number", "department.number_taken"))
        self.refused(
            lambda: save_department(self.actor, None, DepartmentDraft(" ", ""), NOON),
            ("number", "input.blank"),
            ("name", "input.blank"),
        )

    def test_merging_moves_everybody_and_tells_each_history(self) -> None:
        old, new = self.a_department("30"), self.a_department("31")
        below = self.a_department("32", old)
        id_ = self.house.enrol(self.house.draft(department_id=old))

        moved = merge_departments(self.actor, old, new, NOON)

        person = Cardholder.objects.get(pk=id_)
        self.assertEqual((moved, person.department_id, person.version), (1, new, 2))
        self.assertEqual(Department.objects.get(pk=below).parent_id, new)
        self.assertFalse(Department.objects.filter(pk=old).exists())
        told = Entry.objects.filter(topics__kind="cardholder", topics__object_id=id_).latest("id")
        self.assertEqual(told.changes, {"department": ["Department 30", "Department 31"]})
        self.refused(
            lambda: merge_departments(self.actor, new, below, NOON),
            ("into", "department.below_itself"),
        )

    def test_one_that_is_retired_keeps_its_people_and_takes_nobody_new(self) -> None:
        old = self.a_department("40")
        id_ = self.house.enrol(self.house.draft(department_id=old))
        save_department(self.actor, old, DepartmentDraft("40", "Old", None, True, 1), NOON)

        draft = replace(self.house.draft("S-2", department_id=old), cards=())
        self.refused(lambda: self.house.enrol(draft), ("department", "input.retired"))
        self.assertEqual(Cardholder.objects.get(pk=id_).department_id, old)

    def test_two_operators_at_once_and_one_without_permission(self) -> None:
        id_ = self.a_department("50")
        save_department(self.actor, id_, DepartmentDraft("50", "New name", version=1), NOON)

        with self.assertRaises(Stale):
            save_department(self.actor, id_, DepartmentDraft("50", "Other", version=1), NOON)
        with self.assertRaises(NotPermitted):
            save_department(
                actor_of(an_operator("g", Permission.EDIT)), None, DepartmentDraft("1", "A"), NOON
            )


class Lists(SettingUp):
    def test_names_and_short_names_are_unique(self) -> None:
        save_listed(self.actor, COMPANIES, None, ListedDraft("Ardle Divers", "AD"), NOON)
        save_listed(self.actor, COMPANIES, None, ListedDraft("Holm & Sons"), NOON)

        self.refused(
            lambda: save_listed(
                self.actor, COMPANIES, None, ListedDraft("ARDLE DIVERS", "ad"), NOON
            ),
            ("name", "listed.taken"),
            ("short_name", "listed.taken"),
        )
        self.refused(
            lambda: save_listed(self.actor, KINDS, None, ListedDraft("a" * 41), NOON),
            ("name", "input.too_long"),
        )
        self.assertEqual(Company.objects.filter(short_name="").count(), 1)


class OwnFields(SettingUp):
    def enrol_with(self, number: str, **own: str) -> int:
        values = {int(id_[1:]): value for id_, value in own.items()}
        return self.house.enrol(replace(self.house.draft(number, own=values), cards=()))

    def test_values_are_kept_found_and_told_in_the_history(self) -> None:
        name = save_custom_field(self.actor, None, BOOTS._replace(type=FieldType.TEXT), NOON)

        id_ = self.enrol_with("S-1", **{f"f{name}": "Forty Two"})

        self.assertEqual(Cardholder.objects.get(pk=id_).own, {str(name): "Forty Two"})
        self.assertEqual(find_ids(ANYBODY, "forty"), [id_])
        self.assertEqual(
            Entry.objects.filter(action="cardholder.enrolled").get().changes["Boot size"][1],
            "Forty Two",
        )

    def test_a_removed_one_keeps_its_values_until_it_is_taken_back(self) -> None:
        boots = save_custom_field(self.actor, None, BOOTS, NOON)
        id_ = self.enrol_with("S-1", **{f"f{boots}": "42"})
        remove_own_field(self.actor, boots, NOON)
        self.assertEqual(rules().custom_fields, ())
        draft = replace(self.house.draft("S-1", title="Diver"), cards=(), version=1)
        self.house.save(id_, draft)

        take_back_own_field(self.actor, boots, NOON)

        self.assertEqual(Cardholder.objects.get(pk=id_).own, {str(boots): "42"})
        self.assertEqual(CustomFieldKey.objects.filter(field_id=boots).count(), 1)

    def test_a_unique_value_is_refused_to_the_second(self) -> None:
        plate = save_custom_field(
            self.actor, None, BOOTS._replace(type=FieldType.TEXT, is_unique=True), NOON
        )
        self.enrol_with("S-1", **{f"f{plate}": "SK 1"})

        self.refused(
            lambda: self.enrol_with("S-2", **{f"f{plate}": "sk  1"}), (f"own.{plate}", "own.taken")
        )

    def test_a_change_that_would_lose_values_is_refused(self) -> None:
        choices = (ChoiceDraft("s", {"en": "Small"}), ChoiceDraft("l", {"en": "Large"}))
        draft = BOOTS._replace(type=FieldType.CHOICE, choices=choices)
        size = save_custom_field(self.actor, None, draft, NOON)
        for number in ("S-1", "S-2"):
            self.enrol_with(number, **{f"f{size}": "s"})
        changed = draft._replace(version=1)

        self.refused(
            lambda: save_custom_field(
                self.actor, size, changed._replace(choices=choices[1:]), NOON
            ),
            ("choices", "own_field.choice_in_use"),
        )
        self.refused(
            lambda: save_custom_field(
                self.actor, size, changed._replace(type=FieldType.TEXT, choices=()), NOON
            ),
            ("type", "own_field.has_values"),
        )
        self.refused(
            lambda: save_custom_field(self.actor, size, changed._replace(is_unique=True), NOON),
            ("is_unique", "own_field.not_unique"),
        )
        renamed = (ChoiceDraft("s", {"en": "Little"}), choices[1], ChoiceDraft("x", {"en": "Huge"}))
        save_custom_field(
            self.actor, size, changed._replace(labels={"en": "Size"}, choices=renamed), NOON
        )
        self.assertEqual(CustomFieldKey.objects.filter(field_id=size, key="s").count(), 2)

    def test_labels_and_choices_must_be_told_apart(self) -> None:
        save_custom_field(self.actor, None, BOOTS, NOON)
        twice = (ChoiceDraft("a", {"en": "Red"}), ChoiceDraft("b", {"en": "red"}))

        self.refused(
            lambda: save_custom_field(self.actor, None, BOOTS, NOON),
            ("labels.en", "own_field.label_taken"),
        )
        self.refused(
            lambda: save_custom_field(
                self.actor, None, OwnFieldDraft({"en": "Colour"}, {}, FieldType.CHOICE, twice), NOON
            ),
            ("choices.0", "own_field.choice_twice"),
            ("choices.1", "own_field.choice_twice"),
        )
        self.assertEqual(CustomField.objects.count(), 1)


class Rules(SettingUp):
    def test_a_new_rule_for_names_is_true_at_once_and_on_its_way_to_the_doors(self) -> None:
        id_ = self.house.enrol()
        own = self.house.enrol(
            replace(self.house.draft("S-2", display_override="Skipper"), cards=())
        )
        Mark.objects.all().delete()

        save_settings(self.actor, PLAIN._replace(display_rule=DisplayRule.LAST_FIRST), NOON)

        names = dict(Cardholder.objects.values_list("id", "display_name"))
        self.assertEqual(names, {id_: "Reve, Tomas", own: "Skipper"})
        self.assertEqual(list(Mark.objects.values_list("subject_id", flat=True)), [id_])

    def test_what_the_site_requires_is_asked_for(self) -> None:
        save_settings(self.actor, PLAIN._replace(required=("email", "phones")), NOON)

        self.refused(
            self.house.enrol, ("email", "cardholder.required"), ("phones", "cardholder.required")
        )

    def test_rules_that_cannot_be_are_refused(self) -> None:
        self.refused(
            lambda: save_settings(
                self.actor,
                PLAIN._replace(number_prefix="A1", number_width=99, longest_name=2, region="XX"),
                NOON,
            ),
            ("number_prefix", "settings.prefix_ends_in_digit"),
            ("number_width", "input.out_of_range"),
            ("longest_name", "input.out_of_range"),
            ("region", "settings.unknown_region"),
        )
        with self.assertRaises(Invalid):
            save_settings(self.actor, PLAIN._replace(image_names=("a", "b", "c")), NOON)

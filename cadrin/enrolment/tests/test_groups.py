from django.test import TestCase

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup, Membership
from cadrin.access.plan import access_plan
from cadrin.core.errors import Invalid, NotPermitted, Stale
from cadrin.core.schedules import Hours
from cadrin.enrolment.commands.memberships import add_people
from cadrin.enrolment.commands.undo import undo
from cadrin.journal.queries import history_of
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder
from cadrin.sites.commands.schedules import ScheduleDraft, remove_schedule, save_schedule
from tests.house import NOON, ZONE, House, an_operator


class Groups(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.grant = GrantDraft(self.house.slip.pk, self.house.office.pk)

    def save(self, group_id: int | None, name: str, *grants: GrantDraft, version: int = 0) -> int:
        return save_group(self.house.actor, group_id, GroupDraft(name, "", grants, version), NOON)

    def test_a_new_group_is_in_the_plan_at_once_and_marked(self) -> None:
        before = access_plan()

        id_ = self.save(None, "Divers", self.grant)

        self.assertNotIn(id_, before.groups)
        self.assertEqual(
            access_plan().groups[id_].schedules_of_door,
            {self.house.slip.pk: (self.house.office.pk,)},
        )
        self.assertEqual([(m.subject, m.subject_id) for m in Mark.objects.all()], [("group", id_)])
        self.assertEqual(
            history_of("group", id_)[0]["changes"]["grants"], [[], ["Slip: Office hours"]]
        )

    def test_each_fault_is_beside_its_field(self) -> None:
        gone = GrantDraft(999, 999)
        cases = {
            "name": ("boats", []),
            "grants.1.door": ("Divers", [self.grant, self.grant]),
            "grants.0.door": ("Divers", [gone]),
        }

        for field, (name, grants) in cases.items():
            with self.subTest(field):
                with self.assertRaises(Invalid) as caught:
                    self.save(None, name, *grants)
                self.assertIn(field, [problem.field for problem in caught.exception.problems])
        self.assertEqual(AccessGroup.objects.count(), 2)

    def test_a_stale_save_changes_nothing(self) -> None:
        boats = self.house.boats
        self.save(boats.pk, "Boats and slip", self.grant, version=1)

        with self.assertRaises(Stale):
            self.save(boats.pk, "Boats only", version=1)

        boats.refresh_from_db()
        self.assertEqual((boats.name, boats.version), ("Boats and slip", 2))

    def test_a_group_with_people_is_not_removed(self) -> None:
        self.house.enrol()

        with self.assertRaises(Invalid) as caught:
            remove_group(self.house.actor, self.house.day_group.pk, NOON)

        self.assertEqual(
            (caught.exception.code, caught.exception.problems[0].params["count"]),
            ("group.has_people", 1),
        )
        remove_group(self.house.actor, self.house.boats.pk, NOON)
        self.assertNotIn(self.house.boats.pk, access_plan().groups)

    def test_many_people_are_put_in_at_once_in_one_act_that_is_in_the_history_of_each(self) -> None:
        ids = self.house.enrol_many(3)
        Mark.objects.all().delete()

        added = add_people(self.house.actor, self.house.boats.pk, [*ids, ids[0]], NOON)
        again = add_people(self.house.actor, self.house.boats.pk, ids, NOON)

        self.assertEqual((added, again), (3, 0))
        self.assertEqual(Membership.objects.filter(group=self.house.boats).count(), 3)
        self.assertEqual(sorted(Mark.objects.values_list("subject_id", flat=True)), sorted(ids))
        entries = {history_of("cardholder", id_)[0]["id"] for id_ in ids}
        self.assertEqual(entries, {history_of("group", self.house.boats.pk)[0]["id"]})
        self.assertEqual(set(Cardholder.objects.values_list("version", flat=True)), {2})

        (entry,) = entries
        undo(self.house.actor, ids[0], entry, NOON)
        left = Membership.objects.filter(group=self.house.boats).values_list(
            "cardholder_id", flat=True
        )
        self.assertEqual(sorted(left), sorted(ids[1:]))

    def test_whoever_may_not_change_access_changes_none(self) -> None:
        actor = actor_of(an_operator("guard", Permission.SEE))

        for act in (
            lambda: save_group(actor, None, GroupDraft("X", "", ()), NOON),
            lambda: remove_group(actor, self.house.boats.pk, NOON),
            lambda: add_people(actor, self.house.boats.pk, [], NOON),
            lambda: remove_schedule(actor, self.house.office.pk, NOON),
        ):
            with self.assertRaises(NotPermitted):
                act()
        self.assertEqual(AccessGroup.objects.count(), 2)


class Schedules(TestCase):
    def setUp(self) -> None:
        self.house = House()

    def test_bad_hours_zones_and_names_are_refused_together(self) -> None:
        hours = (Hours(0, 480, 600), Hours(0, 540, 700), Hours(1, 480, 480))

        with self.assertRaises(Invalid) as caught:
            save_schedule(
                self.house.actor, None, ScheduleDraft("ALWAYS", "Moon/Crater", hours), NOON
            )

        self.assertEqual(
            {(problem.field, problem.code) for problem in caught.exception.problems},
            {
                ("hours.1", "schedule.hours_overlap"),
                ("hours.2", "schedule.hours_empty"),
                ("zone", "schedule.unknown_zone"),
                ("name", "schedule.name_taken"),
            },
        )

    def test_a_changed_schedule_marks_the_groups_that_use_it(self) -> None:
        draft = ScheduleDraft("Office hours", ZONE, (Hours(0, 540, 600),), version=1)

        save_schedule(self.house.actor, self.house.office.pk, draft, NOON)

        self.assertEqual(
            [(m.subject, m.subject_id) for m in Mark.objects.all()],
            [("group", 0), ("group", self.house.day_group.pk)],
        )
        self.assertFalse(access_plan().schedules[self.house.office.pk].is_open(NOON))

    def test_a_schedule_in_use_is_not_removed(self) -> None:
        with self.assertRaises(Invalid) as caught:
            remove_schedule(self.house.actor, self.house.office.pk, NOON)

        self.assertEqual(caught.exception.code, "schedule.in_use")

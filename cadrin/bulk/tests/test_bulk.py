"""One act on many: weighed first, done in steps, told in each history, taken back."""

from dataclasses import replace
from unittest import mock

from django.test import TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Membership
from cadrin.bulk import steps
from cadrin.bulk.commands import (
    begin_bulk_change,
    get_bulk_change,
    stop_bulk_change,
    undo_bulk_change,
)
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.models import BulkState
from cadrin.bulk.preview import preview_bulk_change
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.bulk import BulkAct, LeftAlone
from cadrin.core.errors import Invalid, NotPermitted
from cadrin.core.validity import Span, Standing
from cadrin.enrolment import writer
from cadrin.enrolment.commands.memberships import add_people
from cadrin.enrolment.commands.undo import undo
from cadrin.journal.queries import history_of
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder, Department
from cadrin.register.filters import Filters
from cadrin.register.selection import Selection
from tests.house import ANYBODY, DAY, NOON, House, an_operator

EVERYBODY = Selection(filters=Filters())


class BulkChanges(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.lab = Department.objects.create(number="20", name="Lab")
        self.ids = self.house.enrol_many(7)
        Mark.objects.all().delete()

    def do(self, draft: BulkDraft, selection: Selection = EVERYBODY) -> int:
        id_ = begin_bulk_change(self.house.actor, draft, selection, NOON)
        self.work()
        return id_

    def work(self) -> None:
        while work_on_bulk_changes(NOON):
            pass

    def departments(self) -> list[int | None]:
        return list(Cardholder.objects.order_by("id").values_list("department_id", flat=True))

    def test_changes_everybody_who_matches_but_those_taken_out(self) -> None:
        chosen = Selection(filters=Filters(text="reve"), without=(self.ids[0],))

        id_ = self.do(BulkDraft(BulkAct.DEPARTMENT, self.lab.pk), chosen)

        bulk_change = get_bulk_change(ANYBODY, id_)
        self.assertEqual(self.departments(), [None, *[self.lab.pk] * 6])
        self.assertEqual(
            (bulk_change.state, bulk_change.total, bulk_change.done, bulk_change.changed),
            (BulkState.DONE, 6, 6, 6),
        )
        told = history_of("cardholder", self.ids[3])[0]
        self.assertEqual(
            (told["action"], told["changes"]), ("cardholder.changed", {"department": [None, "Lab"]})
        )
        self.assertFalse(Mark.objects.exists(), "a department is not in the records")

    def test_puts_people_into_a_group_for_a_time_and_takes_only_that_back(self) -> None:
        group, until = self.house.boats.pk, NOON + 7 * DAY
        first = self.ids[0]
        add_people(self.house.actor, group, [first], NOON)
        draft = BulkDraft(BulkAct.ADD_GROUP, group, span=Span(NOON + DAY, until))
        id_ = self.do(draft)
        members = Membership.objects.filter(group=group)
        spans = dict(members.values_list("cardholder_id", "expiry_at"))
        self.assertIsNone(spans.pop(first), "whoever was in it stays as they were")
        self.assertEqual((len(spans), set(spans.values())), (6, {until}))
        undo_bulk_change(self.house.actor, id_, NOON)
        self.work()
        self.assertEqual(list(members.values_list("cardholder_id", flat=True)), [first])
        with self.assertRaises(Invalid) as refused:
            wrong = draft._replace(span=Span(until, NOON))
            begin_bulk_change(self.house.actor, wrong, EVERYBODY, NOON)
        self.assertEqual(refused.exception.problems[0].field, "expiry_at")

    def test_what_is_weighed_is_what_is_done(self) -> None:
        self.house.save(
            self.ids[1],
            replace(
                self.house.draft("M-1", activation_at=NOON + 3 * DAY),
                cards=(self.house.card(10_001),),
                version=1,
            ),
        )
        draft = BulkDraft(BulkAct.EXPIRY, (NOON + DAY).isoformat())

        weighed = preview_bulk_change(ANYBODY, draft, EVERYBODY, NOON)
        bulk_change = get_bulk_change(ANYBODY, self.do(draft))

        self.assertEqual((weighed.total, weighed.changed), (7, 6))
        self.assertEqual(weighed.left_alone, {LeftAlone.ENDS_BEFORE_IT_BEGINS: 1})
        self.assertEqual((bulk_change.changed, bulk_change.total), (6, 7))
        self.assertEqual(Cardholder.objects.filter(expiry_at=NOON + DAY).count(), 6)
        self.assertEqual(Mark.objects.values("subject_id").distinct().count(), 7)

    def test_is_taken_back_wherever_nothing_later_stands_against_it(self) -> None:
        id_ = self.do(BulkDraft(BulkAct.STANDING, Standing.SUSPENDED, "storm"))
        later = replace(
            self.house.draft("M-0", standing=Standing.BARRED),
            cards=(self.house.card(10_000),),
            version=2,
        )
        self.house.save(self.ids[0], later)

        back = get_bulk_change(ANYBODY, undo_bulk_change(self.house.actor, id_, NOON))
        self.work()

        back.refresh_from_db()
        standings = dict(Cardholder.objects.values_list("id", "standing"))
        self.assertEqual((back.changed, back.total), (6, 7))
        self.assertEqual(standings.pop(self.ids[0]), Standing.BARRED)
        self.assertEqual(set(standings.values()), {Standing.ACTIVE})
        self.assertEqual(
            set(
                Cardholder.objects.exclude(pk=self.ids[0]).values_list("standing_reason", flat=True)
            ),
            {""},
        )
        with self.assertRaises(Invalid):
            undo_bulk_change(self.house.actor, id_, NOON)

    def test_a_group_comes_and_goes_with_its_spans(self) -> None:
        group = self.house.day_group.pk
        span = (MembershipDraft(group, None, NOON + DAY),)
        self.house.save(
            self.ids[0],
            replace(
                self.house.draft("M-0"),
                cards=(self.house.card(10_000),),
                memberships=span,
                version=1,
            ),
        )

        id_ = self.do(BulkDraft(BulkAct.REMOVE_GROUP, group))
        self.assertFalse(Membership.objects.filter(group_id=group).exists())
        undo_bulk_change(self.house.actor, id_, NOON)
        self.work()

        ends = dict(
            Membership.objects.filter(group_id=group).values_list("cardholder_id", "expiry_at")
        )
        self.assertEqual(len(ends), 7)
        self.assertEqual(ends[self.ids[0]], NOON + DAY)
        self.assertIsNone(ends[self.ids[1]])

    def test_goes_on_where_it_was_when_the_worker_stopped(self) -> None:
        with mock.patch.object(steps, "STEP", 3):
            begin_bulk_change(
                self.house.actor, BulkDraft(BulkAct.DEPARTMENT, self.lab.pk), EVERYBODY, NOON
            )
            work_on_bulk_changes(NOON)
            self.assertEqual(self.departments().count(self.lab.pk), 3)
            with (
                mock.patch.object(writer, "mark_for_delivery"),
                mock.patch.object(writer, "record", side_effect=OSError),
            ):
                self.assertRaises(OSError, work_on_bulk_changes, NOON)
            self.assertEqual(
                self.departments().count(self.lab.pk), 3, "a step that failed left no trace"
            )

            self.work()

        self.assertEqual(self.departments().count(self.lab.pk), 7)
        told = [entry["action"] for entry in history_of("cardholder", self.ids[0])]
        self.assertEqual(told.count("cardholder.changed"), 1)

    def test_is_stopped_where_it_is_and_that_much_is_taken_back(self) -> None:
        with mock.patch.object(steps, "STEP", 3):
            id_ = begin_bulk_change(
                self.house.actor, BulkDraft(BulkAct.KIND, None), EVERYBODY, NOON
            )
            self.work()
            id_ = begin_bulk_change(
                self.house.actor, BulkDraft(BulkAct.DEPARTMENT, self.lab.pk), EVERYBODY, NOON
            )
            work_on_bulk_changes(NOON)
            stop_bulk_change(self.house.actor, id_, NOON)
            self.work()
        self.assertEqual(self.departments().count(self.lab.pk), 3)

        undo_bulk_change(self.house.actor, id_, NOON)
        self.work()

        self.assertEqual(self.departments().count(self.lab.pk), 0)

    def test_what_people_were_in_may_be_gone_by_then(self) -> None:
        office, shed = self.house.department.pk, Department.objects.create(number="30", name="Shed")
        self.do(BulkDraft(BulkAct.DEPARTMENT, office))
        self.do(BulkDraft(BulkAct.DEPARTMENT, shed.pk), Selection(ids=(self.ids[0],)))
        id_ = self.do(BulkDraft(BulkAct.DEPARTMENT, self.lab.pk))
        shed.delete()

        back = get_bulk_change(ANYBODY, undo_bulk_change(self.house.actor, id_, NOON))
        self.work()

        self.assertEqual(self.departments(), [self.lab.pk, *[office] * 6])
        self.assertEqual(
            list(back.targets.exclude(left_alone="").values_list("left_alone", flat=True)), ["gone"]
        )

        to_nowhere = begin_bulk_change(
            self.house.actor, BulkDraft(BulkAct.ADD_GROUP, self.house.boats.pk), EVERYBODY, NOON
        )
        self.house.boats.delete()
        self.work()
        self.assertEqual(
            (
                get_bulk_change(ANYBODY, to_nowhere).state,
                get_bulk_change(ANYBODY, to_nowhere).changed,
            ),
            (BulkState.STOPPED, 0),
        )

    def test_one_persons_part_of_it_is_taken_back_with_its_span(self) -> None:
        group = self.house.day_group.pk
        span = (MembershipDraft(group, None, NOON + DAY),)
        file = replace(
            self.house.draft("M-0"), cards=(self.house.card(10_000),), memberships=span, version=1
        )
        self.house.save(self.ids[0], file)
        self.do(BulkDraft(BulkAct.REMOVE_GROUP, group))
        act = history_of("cardholder", self.ids[0])[0]

        undo(self.house.actor, self.ids[0], act["id"], NOON)

        self.assertEqual(Membership.objects.get(cardholder_id=self.ids[0]).expiry_at, NOON + DAY)
        self.assertEqual(Membership.objects.filter(group_id=group).count(), 1)

    def test_what_cannot_be_is_refused_before_it_begins(self) -> None:
        Department.objects.filter(pk=self.lab.pk).update(is_retired=True)
        for draft, selection, problem in (
            (BulkDraft(BulkAct.DEPARTMENT, self.lab.pk), EVERYBODY, ("value", "input.retired")),
            (BulkDraft(BulkAct.ADD_GROUP, 999), EVERYBODY, ("value", "input.no_longer_there")),
            (BulkDraft(BulkAct.ADD_GROUP, None), EVERYBODY, ("value", "input.blank")),
            (BulkDraft(BulkAct.KIND, None), Selection(ids=(999,)), (None, "batch.nobody")),
        ):
            with self.subTest(draft), self.assertRaises(Invalid) as caught:
                begin_bulk_change(self.house.actor, draft, selection, NOON)
            self.assertEqual([(p.field, p.code) for p in caught.exception.problems], [problem])
        editor = actor_of(an_operator("ed", Permission.EDIT))
        with self.assertRaises(NotPermitted):
            begin_bulk_change(
                editor, BulkDraft(BulkAct.ADD_GROUP, self.house.boats.pk), EVERYBODY, NOON
            )

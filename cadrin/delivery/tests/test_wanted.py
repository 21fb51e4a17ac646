from dataclasses import replace

from django.conf import settings
from django.test import TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.delivery.models import Record
from cadrin.delivery.preview import preview_cardholder, preview_group
from cadrin.delivery.wanted import take_marks
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.draft import CardholderDraft
from cadrin.outbox.models import Mark
from cadrin.outbox.subjects import Subject
from cadrin.people.models import Cardholder
from tests.house import ANYBODY, DAY, NOON, House


class FromMarksToRecords(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.house.mark_everything()
        self.settle()

    def settle(self) -> None:
        """Take every mark, and believe that all of it arrived."""
        while take_marks(NOON):
            pass
        for row in Record.objects.all():
            row.confirmed, row.state = row.wanted, RecordState.HELD
            row.save()

    def save(self, id_: int, draft: CardholderDraft) -> None:
        version = Cardholder.objects.values_list("version", flat=True).get(pk=id_)
        save_cardholder(self.house.actor, id_, replace(draft, version=version), NOON)
        while take_marks(NOON):
            pass

    def waiting(self) -> set[tuple[int, str, int, bool]]:
        rows = Record.objects.exclude(state=RecordState.HELD)
        return {(row.controller_id, row.kind, row.subject_id, bool(row.wanted)) for row in rows}

    def test_a_cardholder_is_wanted_where_a_group_of_theirs_has_a_door(self) -> None:
        id_ = self.house.enrol()

        take_marks(NOON)

        self.assertEqual(self.waiting(), {(self.house.north.pk, RecordKind.CARDHOLDER, id_, True)})
        self.assertFalse(Mark.objects.exists())

    def test_moving_to_another_group_puts_here_and_takes_away_there(self) -> None:
        id_ = self.house.enrol()
        self.settle()

        self.save(
            id_, replace(self.house.draft(), memberships=(MembershipDraft(self.house.boats.pk),))
        )

        self.assertEqual(
            self.waiting(),
            {
                (self.house.north.pk, RecordKind.CARDHOLDER, id_, False),
                (self.house.south.pk, RecordKind.CARDHOLDER, id_, True),
            },
        )

    def test_the_departed_are_taken_away_everywhere(self) -> None:
        id_ = self.house.enrol()
        self.settle()

        self.save(id_, self.house.draft(standing=Standing.DEPARTED))

        self.assertEqual(self.waiting(), {(self.house.north.pk, RecordKind.CARDHOLDER, id_, False)})

    def test_extended_time_is_sent_to_whoever_holds_the_door(self) -> None:
        id_ = self.house.enrol()
        self.settle()

        self.save(id_, self.house.draft(extended_time=True))

        self.assertEqual(self.waiting(), {(self.house.north.pk, RecordKind.CARDHOLDER, id_, True)})

    def test_a_change_that_no_door_cares_about_sends_nothing(self) -> None:
        id_ = self.house.enrol()
        self.settle()

        self.save(
            id_, self.house.draft(title="Diver", remarks="Left-handed", email="t@skerrow.example")
        )

        self.assertEqual(self.waiting(), set())

    def test_taking_a_change_back_before_it_was_sent_leaves_nothing_to_send(self) -> None:
        id_ = self.house.enrol()
        self.settle()

        self.save(id_, self.house.draft(expiry_at=NOON + DAY))
        self.assertEqual(len(self.waiting()), 1)
        self.save(id_, self.house.draft())

        self.assertEqual(self.waiting(), set())

    def test_what_is_on_its_way_counts_as_unknown_until_it_was_answered(self) -> None:
        id_ = self.house.enrol()
        self.settle()
        self.save(id_, self.house.draft(expiry_at=NOON + DAY))
        Record.objects.filter(subject_id=id_, kind=RecordKind.CARDHOLDER).update(
            state=RecordState.SENT
        )

        self.save(id_, self.house.draft())

        self.assertEqual(len(self.waiting()), 1)

    def test_a_group_s_hours_are_its_own_record_and_its_people_s_are_not_sent_again(self) -> None:
        self.house.enrol()
        self.settle()
        grant = GrantDraft(self.house.lab.pk, self.house.always.pk)

        save_group(
            self.house.actor, self.house.day_group.pk, GroupDraft("Day", "", (grant,), 1), NOON
        )
        while take_marks(NOON):
            pass

        kinds = {(kind, is_wanted) for _, kind, _, is_wanted in self.waiting()}
        self.assertEqual(kinds, {(RecordKind.GROUP, True), (RecordKind.SCHEDULE, False)})

    def test_a_controller_that_is_marked_has_its_people_worked_out_anew_and_no_others(self) -> None:
        here, elsewhere = self.house.enrol(), self.house.enrol_many(1, self.house.boats.pk)[0]
        self.settle()
        Record.objects.filter(kind=RecordKind.CARDHOLDER).update(
            wanted="0" * 32, confirmed="0" * 32
        )

        if not settings.IS_SHARED:  # its number is also that of a group, which has other people
            self.assertEqual(self.house.north.pk, self.house.day_group.pk)
        Mark.objects.create(subject=Subject.CONTROLLER, subject_id=self.house.south.pk)
        while take_marks(NOON):
            pass

        anew = Record.objects.filter(kind=RecordKind.CARDHOLDER).exclude(wanted="0" * 32)
        self.assertEqual(list(anew.values_list("subject_id", flat=True)), [elsewhere])
        self.assertNotEqual(here, elsewhere)

    def test_a_group_that_comes_to_a_controller_brings_its_people(self) -> None:
        id_ = self.house.enrol()
        self.settle()
        grants = tuple(
            GrantDraft(d.pk, self.house.always.pk) for d in (self.house.gate, self.house.slip)
        )
        draft = GroupDraft("Day", "", grants, 1)
        promised = preview_group(self.house.day_group.pk, draft)

        save_group(self.house.actor, self.house.day_group.pk, draft, NOON)
        while take_marks(NOON):
            pass

        south = {row for row in self.waiting() if row[0] == self.house.south.pk}
        self.assertIn((self.house.south.pk, RecordKind.CARDHOLDER, id_, True), south)
        self.assertEqual(
            (promised.gained, promised.lost), ((self.house.slip.pk,), (self.house.lab.pk,))
        )
        told = {one.controller_id: one.records for one in promised.to_send}
        self.assertEqual(told[self.house.south.pk], len(south))

    def test_a_group_that_gives_the_same_already_is_told(self) -> None:
        day = self.house.day_group
        grants = tuple(
            GrantDraft(row.door_id, row.schedule_id) for row in day.grants.order_by("-id")
        )

        again = preview_group(None, GroupDraft("Day again", "", grants))
        less = preview_group(None, GroupDraft("Less", "", grants[1:]))
        itself = preview_group(day.pk, GroupDraft("Day", "", grants, 1))

        self.assertEqual(again.same_as, (day.pk,))
        self.assertEqual((less.same_as, itself.same_as), ((), ()))

    def test_the_preview_says_what_saving_then_sends(self) -> None:
        id_ = self.house.enrol()
        self.settle()
        drafts = {
            "nothing": self.house.draft(),
            "a name": self.house.draft(last_name="Reve-Lund"),
            "an expiry": self.house.draft(expiry_at=NOON - DAY),
            "another group": replace(
                self.house.draft(), memberships=(MembershipDraft(self.house.boats.pk),)
            ),
            "both groups": replace(
                self.house.draft(),
                memberships=(
                    MembershipDraft(self.house.boats.pk),
                    MembershipDraft(self.house.day_group.pk),
                ),
            ),
            "no card": replace(self.house.draft(), cards=()),
        }

        for name, draft in drafts.items():
            with self.subTest(name):
                promised = {
                    (s.controller_id, s.act == "put")
                    for s in preview_cardholder(ANYBODY, id_, draft, NOON, NOON).to_send
                }
                self.save(id_, draft)
                sent = {(controller, wanted) for controller, _, _, wanted in self.waiting()}
                self.assertEqual(promised, sent)
                self.settle()

    def test_the_preview_tells_doors_gained_and_lost_before_anything_is_saved(self) -> None:
        id_ = self.house.enrol()
        draft = replace(self.house.draft(), memberships=(MembershipDraft(self.house.boats.pk),))

        found = preview_cardholder(ANYBODY, id_, draft, NOON, NOON)

        self.assertEqual(found.difference.gained, (self.house.slip.pk,))
        self.assertEqual(found.difference.lost, (self.house.gate.pk, self.house.lab.pk))
        self.assertEqual([one.door_id for one in found.reach if one.is_open], [self.house.slip.pk])

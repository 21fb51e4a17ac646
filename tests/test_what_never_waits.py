"""A pause holds back what people gain, and nothing else; what somebody may do about it."""

from dataclasses import replace

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup
from cadrin.core.doors.rules import Ordered
from cadrin.core.errors import NotPermitted
from cadrin.core.validity import Standing
from cadrin.delivery.commands import set_sending
from cadrin.delivery.models import Link
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.operators.actor import actor_of
from cadrin.operators.permissions import Permission
from cadrin.people.queries import get_cardholder, rules
from cadrin.sites.commands.orders import end_order, order_door
from cadrin.sites.door_rules import rules_of_doors
from tests.house import ANYBODY, NOON, an_operator
from tests.line_case import LineCase


class Paused(LineCase):
    def setUp(self) -> None:
        super().setUp()
        self.person = self.house.enrol()
        self.house.mark_everything()
        self.rounds()
        self.assertEqual(self.shown(4751), "granted")
        self.pause()

    def pause(self, *, is_paused: bool = True) -> None:
        north, actor = self.house.north.pk, self.house.actor
        set_sending(actor, north, is_paused=is_paused, schedule_id=None, at=NOON)

    def test_what_is_ordered_at_a_door_arrives_at_once(self) -> None:
        gate, actor = self.house.gate.pk, self.house.actor
        order_door(actor, gate, Ordered.SHUT, None, "Leak", NOON)
        self.rounds()
        self.assertEqual(self.shown(4751), "door_kept_shut")
        end_order(actor, gate, NOON)
        self.rounds()
        self.assertEqual(self.shown(4751), "granted")
        self.assertIsNone(rules_of_doors().get(gate) and rules_of_doors()[gate].ordered)

    def test_who_is_suspended_is_so_at_once_and_comes_back_after_the_pause(self) -> None:
        file = stored_cardholder(get_cardholder(ANYBODY, self.person), rules())
        details = replace(file.details, standing=Standing.SUSPENDED)
        self.house.save(self.person, replace(file, details=details))
        self.rounds()
        self.assertEqual(self.shown(4751), "cardholder_suspended")
        self.house.save(self.person, replace(file, version=file.version + 1))
        self.rounds()
        self.assertEqual(self.shown(4751), "cardholder_suspended", "it is something gained")
        self.pause(is_paused=False)
        self.rounds()
        self.assertEqual(self.shown(4751), "granted")

    def test_hours_of_a_group_are_changed_at_once_for_better_or_worse(self) -> None:
        group = AccessGroup.objects.get(pk=self.house.day_group.pk)
        for door in (self.house.lab, self.house.gate):  # so that the group stays known there
            group.refresh_from_db()
            grants = (GrantDraft(door.pk, self.house.always.pk),)
            draft = GroupDraft(group.name, "", grants, group.version)
            save_group(self.house.actor, group.pk, draft, NOON)
            self.rounds()
            self.assertEqual(self.shown(4751) == "granted", door == self.house.gate)

    def test_is_begun_and_ended_by_whoever_may_and_written_down(self) -> None:
        looker = actor_of(an_operator("looker", Permission.SEE))
        with self.assertRaises(NotPermitted):
            set_sending(looker, self.house.north.pk, is_paused=False, schedule_id=None, at=NOON)
        self.assertTrue(Link.objects.get(controller=self.house.north).is_paused)
        (entry,) = Entry.objects.filter(action="controller.changed")
        self.assertIn("North", str(entry.changes))
        self.pause()  # again: nothing happens
        self.assertEqual(Entry.objects.filter(action="controller.changed").count(), 1)

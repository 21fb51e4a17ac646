"""A controller that has no room for everybody, or cannot express everything: who is held, and what is
said before and after.
"""

from dataclasses import replace
from datetime import UTC, datetime

from cadrin.access.commands.groups import save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.core.errors import Invalid
from cadrin.core.records.cardholders import Cut
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.delivery.commands import check_controller
from cadrin.delivery.controllers import controllers, has_trouble
from cadrin.delivery.link_notes import LinkNotes
from cadrin.delivery.models import Link, Record
from cadrin.delivery.next_records import NextRecords
from cadrin.delivery.preview import preview_cardholder, preview_group
from cadrin.enrolment.queries import stored_cardholder
from cadrin.people.queries import get_cardholder, rules
from cadrin.sites.commands.controllers import ControllerDraft, save_controller
from tests.house import ANYBODY, DAY, NOON
from tests.line_case import LineCase


class Room(LineCase):
    def test_one_that_is_full_refuses_and_takes_the_next_when_there_is_room(self) -> None:
        self.start({"capacity": 1})
        ids = self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()

        refused = Record.objects.get(controller=self.house.north, state=RecordState.REFUSED)
        self.assertEqual((refused.refusal, refused.subject_id), ("no_place", ids[1]))
        # which is told before anybody else is enrolled, and not to who is there already
        (promised,) = preview_cardholder(ANYBODY, None, self.house.draft("S-9"), NOON, NOON).to_send
        self.assertTrue(promised.is_full)
        (promised,) = preview_cardholder(ANYBODY, ids[0], self.house.draft(), NOON, NOON).to_send
        self.assertFalse(promised.is_full)

        check_controller(self.house.actor, self.house.north.pk, NOON)
        self.rounds()
        self.assertEqual(Record.objects.get(pk=refused.pk).state, RecordState.REFUSED)

    def test_whoever_loses_their_place_is_removed_before_anything_else_is_sent(self) -> None:
        self.start({"capacity": 2})
        _, second = self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()
        mine = Record.objects.filter(controller=self.house.north)
        mine.filter(kind=RecordKind.GROUP).update(state=RecordState.WAITING)
        Link.objects.filter(controller=self.house.north).update(capacity=1)

        rows = NextRecords(self.house.north.pk, LinkNotes(self.house.north.pk)).rows(NOON)

        self.assertEqual([(row.kind, row.subject_id) for row in rows], [("cardholder", second)])

    def test_one_that_is_full_holds_the_more_important_and_says_who_goes(self) -> None:
        self.start({"capacity": 1})
        first, second = self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()
        self.assertEqual(self.held(), {first})

        people = {
            id_: stored_cardholder(get_cardholder(ANYBODY, id_), rules()) for id_ in (first, second)
        }
        suspended = replace(
            people[first], details=replace(people[first].details, standing=Standing.SUSPENDED)
        )
        self.house.save(first, suspended)
        self.rounds(3)
        self.assertEqual(self.held(), {second})
        # and whoever comes is told whose place they take
        for draft in (self.house.draft("S-9"), self.house.draft("S-9", expiry_at=NOON + DAY)):
            (promised,) = preview_cardholder(ANYBODY, None, draft, NOON, NOON).to_send
            self.assertEqual((promised.is_full, promised.in_place_of), (True, None))
        back = replace(people[first], version=people[first].version + 1)
        (promised,) = preview_cardholder(ANYBODY, first, back, NOON, NOON).to_send
        self.assertEqual((promised.is_full, promised.in_place_of), (False, second))

        self.house.save(first, back)
        self.rounds(3)
        self.assertEqual(self.held(), {first})
        self.start({"capacity": 2})
        self.rounds()
        self.assert_held_exactly()

    def test_what_somebody_knows_of_its_room_counts_as_if_it_told_it(self) -> None:
        self.start({"capacity": 5, "longest_name": 8})
        limits = {"capacity": 1, "longest_name": 20, "longest_span": 86_400}
        north = self.house.north
        known = ControllerDraft(north.name, north.address, north.version, limits)
        save_controller(self.house.actor, north.pk, known, NOON)
        first, _ = self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()

        self.assertEqual(self.held(), {first})
        link = Link.objects.get(controller=north)
        self.assertEqual(
            (link.capacity, link.longest_name, link.longest_span, link.latest), (1, 8, 86_400, None)
        )
        draft = self.house.draft("S-9", activation_at=NOON, expiry_at=NOON + 2 * DAY)
        (promised,) = preview_cardholder(ANYBODY, first, draft, NOON, NOON).to_send
        self.assertIn(Cut.SPANS, promised.cut)
        self.assertEqual(promised.longest_days, 1)
        wrong = ControllerDraft(north.name, north.address, north.version + 1, {"capacity": 0})
        with self.assertRaises(Invalid) as refused:
            save_controller(self.house.actor, north.pk, wrong, NOON)
        self.assertEqual(refused.exception.problems[0].field, "limits.capacity")

    def test_one_that_keeps_few_groups_and_schedules_says_which_open_nothing_there(self) -> None:
        self.start({"most_memberships": 1, "most_schedules": 1})
        house, north = self.house, self.house.north
        self.rounds(1)
        office = GroupDraft("Office", "", (GrantDraft(house.gate.pk, house.office.pk),))
        second = save_group(house.actor, None, office, NOON)
        draft = house.draft("S-1")
        until = (MembershipDraft(second, expiry_at=NOON + DAY),)
        both = replace(draft, memberships=(*until, *draft.memberships))
        (promised,) = preview_cardholder(ANYBODY, None, both, NOON, NOON).to_send
        self.assertIn(Cut.MEMBERSHIPS, promised.cut)
        self.assertEqual(promised.most_memberships, 1)
        house.enrol(both)
        house.mark_everything()
        self.rounds()

        self.assertFalse(Record.objects.filter(state=RecordState.REFUSED).exists())
        self.assert_held_exactly()
        (told,) = [one for one in controllers(ANYBODY, NOON) if one["id"] == north.pk]
        self.assertEqual(told["schedules_left_out"], ["Always"])
        self.assertTrue(has_trouble(told))
        again = office._replace(name="Again", grants=(GrantDraft(house.gate.pk, house.always.pk),))
        (told_before,) = [
            one for one in preview_group(None, again).to_send if one.controller_id == north.pk
        ]
        self.assertEqual(told_before.schedules_left_out, (house.always.pk,))

    def held(self) -> set[int]:
        """Return whom the northern controller holds."""
        keys = (str(key).split(":") for key in self.standins.digests(self.house.north.pk))
        return {int(id_) for kind, id_ in keys if kind == "cardholder"}

    def test_whoever_comes_after_the_line_has_looked_has_their_place_all_the_same(self) -> None:
        self.start({"capacity": 1})
        first = self.house.enrol(self.house.draft("S-1", expiry_at=NOON + 400 * DAY))
        self.house.mark_everything()
        self.rounds()
        self.assertEqual(self.held(), {first})
        second = self.house.enrol(replace(self.house.draft("S-2"), cards=(self.house.card(77),)))
        self.line.turn(lambda: datetime.now(UTC))  # before their record was written
        self.rounds()
        self.assertEqual(self.held(), {second}, "who works for longer")
        refused = Record.objects.get(controller=self.house.north, state=RecordState.REFUSED)
        self.assertEqual((refused.refusal, refused.subject_id), ("no_place", first))

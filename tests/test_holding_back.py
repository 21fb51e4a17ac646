"""What people gain can be held back at a controller; what they lose never is."""

from dataclasses import replace
from datetime import UTC, datetime

from cadrin.core.errors import Invalid
from cadrin.delivery.commands import set_sending
from cadrin.enrolment.commands.memberships import remove_people
from cadrin.outbox.commands import move_plan_version
from cadrin.sites.commands.schedules import remove_schedule
from cadrin.sites.models import Schedule
from tests.house import NOON
from tests.line_case import LineCase


class HoldingBack(LineCase):
    def test_what_people_gain_waits_while_paused_and_what_they_lose_never(self) -> None:
        north, actor = self.house.north.pk, self.house.actor
        known, _ = self.house.enrol_many(2)
        self.house.mark_everything()
        self.rounds()
        self.assertEqual(self.shown(10_000), "granted")
        set_sending(actor, north, is_paused=True, schedule_id=None, at=NOON)

        self.house.enrol(replace(self.house.draft("S-9"), cards=(self.house.card(77),)))
        remove_people(actor, self.house.day_group.pk, [known], NOON)
        self.rounds()

        self.assertEqual(self.shown(77), "unknown_card")
        self.assertEqual(self.shown(10_000), "unknown_card", "they lost it at once")
        self.assertEqual(self.shown(10_001), "granted")

        set_sending(actor, north, is_paused=False, schedule_id=None, at=NOON)
        self.rounds()
        self.assertEqual(self.shown(77), "granted")
        self.assert_held_exactly()

    def test_what_people_gain_is_sent_when_its_hours_begin(self) -> None:
        in_three_days = (datetime.now(UTC).weekday() + 3) % 7
        closed = Schedule.objects.create(
            name="Another day", zone="UTC", hours=[[in_three_days, 0, 1440]]
        )
        self.house.mark_everything()
        self.rounds()
        north, actor = self.house.north.pk, self.house.actor
        set_sending(actor, north, is_paused=False, schedule_id=closed.pk, at=NOON)
        self.house.enrol()
        self.rounds()
        self.assertEqual(self.shown(4751), "unknown_card")

        Schedule.objects.filter(pk=closed.pk).update(hours=[[day, 0, 1440] for day in range(7)])
        move_plan_version()
        self.line.turn(lambda: datetime.now(UTC), is_news=False)
        self.line.turn(lambda: datetime.now(UTC), is_news=False)

        self.assertEqual(self.shown(4751), "granted")
        with self.assertRaises(Invalid):
            remove_schedule(actor, closed.pk, NOON)

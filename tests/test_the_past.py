"""What was true at an instant is told so later, whatever has been done since."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

from django.test import TestCase

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.errors import Invalid
from cadrin.core.schedules import Hours
from cadrin.core.validity import Standing
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.people.queries import get_cardholder, rules
from cadrin.questions import then
from cadrin.questions.doors import at_a_door
from cadrin.questions.reaches import at_two_instants, of_a_person
from cadrin.sites.commands.schedules import ScheduleDraft, remove_schedule, save_schedule
from cadrin.sites.models import Schedule
from tests.house import NOON, House

HOUR = timedelta(hours=1)


class ThePast(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.tomas = self.house.enrol()
        draft = self.house.draft("S-2", first_name="Runa", last_name="Vale")
        self.runa = self.house.enrol(replace(draft, cards=(self.house.card(4752),)))
        self.at = NOON

    def change(self, id_: int, **parts: Any) -> None:
        person = get_cardholder(self.actor, id_)
        file = stored_cardholder(person, rules())
        details = parts.pop("details", {})
        changed: CardholderDraft = replace(file, **parts, details=replace(file.details, **details))
        save_cardholder(self.actor, id_, changed, self.at)

    def card(self, number: int, **more: Any) -> Any:
        return self.house.card(number, **more)

    def grant(self, *grants: GrantDraft, overrides: bool = False) -> None:
        group = AccessGroup.objects.get(pk=self.house.day_group.pk)
        draft = GroupDraft(group.name, "", grants, group.version, overrides)
        save_group(self.actor, group.pk, draft, self.at)

    def hours(self, schedule: Schedule, *hours: Hours) -> None:
        schedule.refresh_from_db()
        draft = ScheduleDraft(schedule.name, schedule.zone, hours, schedule.version)
        save_schedule(self.actor, schedule.pk, draft, self.at)

    def told(self, at: datetime, now: datetime) -> Any:
        """Return who may open which door, and what of everybody's the journal cannot take back."""
        doors = [
            at_a_door(self.actor, door.pk, at, now)
            for door in (self.house.gate, self.house.lab, self.house.slip)
        ]
        people = [of_a_person(self.actor, id_, at, now) for id_ in (self.tomas, self.runa)]
        self.assertFalse({word for answer in (*doors, *people) for word in answer.as_now})
        return [answer.lines for answer in (*doors, *people)]

    def test_is_told_as_it_was_whatever_is_done_since(self) -> None:
        day, boats = MembershipDraft(self.house.day_group.pk), MembershipDraft(self.house.boats.pk)
        night = Schedule.objects.create(name="Night", zone="UTC", hours=[[0, 0, 60]])
        acts: list[Callable[[], object]] = [
            lambda: self.change(self.tomas, details={"standing": Standing.BARRED}),
            lambda: self.change(self.tomas, details={"standing": Standing.ACTIVE}),
            lambda: self.change(self.tomas, details={"title": "Diver"}),
            lambda: self.change(self.tomas, details={"expiry_at": self.at + 40 * HOUR}),
            lambda: self.change(self.runa, memberships=(day, boats)),
            lambda: self.change(
                self.runa, memberships=(replace(day, activation_at=self.at + 2 * HOUR), boats)
            ),
            lambda: self.change(self.tomas, cards=()),
            lambda: self.change(
                self.runa,
                cards=(self.card(4752), self.card(4751, expiry_at=self.at + 3 * HOUR)),
            ),
            lambda: self.change(self.runa, cards=(self.card(4752, status=CardStatus.LOST),)),
            lambda: self.change(self.tomas, cards=(self.card(4753),)),
            lambda: self.grant(GrantDraft(self.house.slip.pk, self.house.always.pk)),
            lambda: self.grant(
                GrantDraft(None, self.house.office.pk, self.house.gate.area_id), overrides=True
            ),
            lambda: self.hours(self.house.office, Hours(0, 0, 1440), Hours(1, 0, 600)),
            lambda: self.change(self.runa, memberships=()),
            lambda: remove_group(self.actor, self.house.boats.pk, self.at),
            lambda: remove_schedule(self.actor, night.pk, self.at),
            lambda: self.change(self.runa, memberships=(day,)),
        ]
        seen = {self.at: self.told(self.at, self.at)}
        for act in acts:
            self.at += HOUR
            act()
            self.at += HOUR
            seen[self.at] = self.told(self.at, self.at)
        self.assertGreater(len({str(one) for one in seen.values()}), 10)
        for at, told in seen.items():
            with self.subTest(at=at):
                self.assertEqual(self.told(at, self.at + HOUR), told)

    def test_of_two_instants_is_told_door_by_door(self) -> None:
        self.at += HOUR
        self.change(self.tomas, memberships=())
        found = at_two_instants(self.actor, self.tomas, NOON, self.at, self.at + HOUR).lines
        self.assertEqual(
            [(one.door, one.hours, one.other_hours) for one in found],
            [("Gate", 168.0, 0.0), ("Lab", 50.0, 0.0)],
        )

    def test_somebody_who_was_not_there_yet_opens_nothing(self) -> None:
        before = NOON - HOUR
        self.assertEqual(of_a_person(self.actor, self.tomas, before, self.at).lines, [])
        self.assertEqual(at_a_door(self.actor, self.house.gate.pk, before, self.at).lines, [])

    def test_of_two_who_became_one_it_says_that_it_does_not_know(self) -> None:
        self.at += HOUR
        draft = stored_cardholder(get_cardholder(self.actor, self.tomas), rules())
        version = get_cardholder(self.actor, self.runa).version
        merge_cardholders(self.actor, self.tomas, draft, self.runa, version, self.at)
        found = of_a_person(self.actor, self.tomas, NOON, self.at + HOUR)
        self.assertEqual(found.as_now, {"people"})
        self.assertEqual([one.door for one in found.lines], ["Gate", "Lab"])

    def test_says_what_cannot_be_taken_back_and_does_not_try_too_much(self) -> None:
        then.MOST_CHANGED, kept = 1, then.MOST_CHANGED
        try:
            with self.assertRaises(Invalid) as refused:
                at_a_door(self.actor, self.house.gate.pk, NOON - HOUR, self.at)
        finally:
            then.MOST_CHANGED = kept
        self.assertEqual(refused.exception.problems[0].code, "question.too_much_since")

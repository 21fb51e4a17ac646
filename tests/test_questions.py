"""Questions are answered by what is there, within reach, on the screen and as a file."""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.test import Client, TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.activity.models import Read
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound
from cadrin.operators.permissions import Permission
from cadrin.operators.scope import Scope
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.questions.answers import alone_in_a_group, at_a_door, compared, unused, way_of
from cadrin.sites.models import Area, Door
from tests.house import DAY, NOON, House, an_operator

NIGHT = NOON + timedelta(hours=13)


class Questions(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.tomas = self.house.enrol()
        boats = (MembershipDraft(self.house.boats.pk),)
        draft = self.house.draft("S-2", first_name="Runa", last_name="Vale")
        self.runa = self.house.enrol(
            replace(draft, cards=(self.house.card(4752),), memberships=boats)
        )

    def names(self, answers: list[Any]) -> list[str]:
        return [one.name for one in answers]

    def let_in(self, person: int, door: Door, days_ago: int) -> None:
        Read.objects.create(
            at=NOON - days_ago * DAY,
            controller=door.controller,
            store="s",
            event_number=Read.objects.count() + 1,
            reader_name=door.name,
            door=door,
            reason=Reason.GRANTED,
            cardholder_id=person,
            cardholder_name=Cardholder.objects.get(pk=person).display_name,
        )

    def test_who_may_open_a_door_then_and_by_which_group(self) -> None:
        (now,) = at_a_door(self.actor, self.house.lab.pk, NOON)
        self.assertEqual((now.cardholder_id, now.group), (self.tomas, "Day"))
        self.assertEqual(at_a_door(self.actor, self.house.lab.pk, NIGHT), [])

    def test_who_has_access_that_nobody_used(self) -> None:
        doors = [self.house.gate.pk, self.house.slip.pk]
        self.let_in(self.tomas, self.house.gate, days_ago=100)
        self.let_in(self.runa, self.house.slip, days_ago=5)

        found = unused(self.actor, doors, 90, NOON)

        self.assertEqual(
            [(one.name, one.last_at) for one in found], [("Tomas Reve", NOON - 100 * DAY)]
        )
        self.assertEqual(
            self.names(unused(self.actor, doors, 1, NOON)), ["Tomas Reve", "Runa Vale"]
        )
        self.let_in(self.tomas, self.house.lab, days_ago=1)  # which was not asked about
        self.assertEqual(len(unused(self.actor, doors, 90, NOON)), 1)

    def test_whose_access_comes_only_through_a_group_of_one(self) -> None:
        found = {(one.name, one.group, one.door) for one in alone_in_a_group(self.actor)}
        self.assertEqual(
            found,
            {
                ("Tomas Reve", "Day", "Gate"),
                ("Tomas Reve", "Day", "Lab"),
                ("Runa Vale", "Boats", "Slip"),
            },
        )

    def test_how_somebody_could_get_there_and_where_they_are_stopped(self) -> None:
        inner = Area.objects.create(site=self.house.site, name="Inner")
        self.house.lab.from_area, self.house.lab.area = self.house.gate.area, inner
        self.house.lab.save()
        move_plan_version()
        way = way_of(self.actor, self.tomas, inner.pk, NOON)
        assert way is not None
        self.assertEqual(
            [(one.door, one.reason) for one in way],
            [("Gate", Reason.GRANTED), ("Lab", Reason.GRANTED)],
        )
        stopped = way_of(self.actor, self.runa, inner.pk, NOON)
        assert stopped is not None
        self.assertEqual(
            [(one.door, one.reason) for one in stopped],
            [("Slip", Reason.GRANTED), ("Lab", Reason.NO_MEMBERSHIP)],
        )
        nowhere = Area.objects.create(site=self.house.site, name="Nowhere")
        self.assertIsNone(way_of(self.actor, self.tomas, nowhere.pk, NOON))

    def test_what_two_people_have_not_alike(self) -> None:
        found = {
            one.door: (one.reason, one.other_reason, one.hours, one.other_hours)
            for one in compared(self.actor, self.tomas, self.runa, NOON)
        }
        self.assertEqual(found["Gate"][2:], (168.0, 0.0))
        self.assertEqual(found["Lab"], (Reason.GRANTED, Reason.NO_MEMBERSHIP, 50.0, 0.0))
        self.assertEqual(compared(self.actor, self.tomas, self.tomas, NOON), [])

    def test_of_what_is_out_of_reach_are_as_if_it_were_not_there(self) -> None:
        away = replace(self.actor, scope=Scope(sites=frozenset({999})))
        asks: tuple[Callable[[], object], ...] = (
            lambda: at_a_door(away, self.house.gate.pk, NOON),
            lambda: unused(away, [self.house.gate.pk], 1, NOON),
            lambda: compared(away, self.tomas, self.runa, NOON),
            lambda: way_of(away, self.tomas, self.house.gate.area_id, NOON),
        )
        for ask in asks:
            with self.assertRaises(NotFound):
                ask()
        self.assertEqual(alone_in_a_group(away), [])

    def test_come_as_a_file_to_whoever_may_export(self) -> None:
        client, path = Client(), f"/api/questions/door/?door={self.house.gate.pk}&csv=true"
        client.force_login(an_operator("looker", Permission.SEE))
        self.assertEqual(client.get(path).status_code, 403)
        client.force_login(an_operator("taker", Permission.SEE, Permission.EXPORT))
        answer = client.get(path)
        text = b"".join(answer.streaming_content).decode("utf-8-sig")  # type: ignore[attr-defined]
        self.assertEqual(text.splitlines(), ["Name,Number,Access group", "Tomas Reve,S-1,Day"])
        refused = client.get("/api/questions/unused/?doors=1,x")
        self.assertEqual(refused.status_code, 422)

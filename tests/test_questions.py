"""Questions are answered by what is there, within reach, on the screen and as a file."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

from django.test import Client, TestCase

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.activity.models import Read
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import NotFound, NotPermitted
from cadrin.operators.permissions import Permission
from cadrin.operators.scope import Scope
from cadrin.outbox.commands import move_plan_version
from cadrin.people.models import Cardholder
from cadrin.questions.doors import at_a_door, into_an_area, way_of
from cadrin.questions.matrix import matrix
from cadrin.questions.reaches import at_two_instants, compared, of_a_group, of_a_person
from cadrin.questions.saved import save_question
from cadrin.questions.unused import alone_in_a_group, unused
from cadrin.sites.models import Area, Door
from tests.house import ANYBODY, DAY, NOON, House, an_operator

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

    def names(self, answers: Sequence[Any]) -> list[str]:
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
        (now,) = at_a_door(self.actor, self.house.lab.pk, NOON, NOON).lines
        self.assertEqual((now.cardholder_id, now.group), (self.tomas, "Day"))
        self.assertEqual(at_a_door(self.actor, self.house.lab.pk, NIGHT, NOON).lines, [])

    def test_who_has_access_that_nobody_used(self) -> None:
        doors = [self.house.gate.pk, self.house.slip.pk]
        self.let_in(self.tomas, self.house.gate, days_ago=100)
        self.let_in(self.runa, self.house.slip, days_ago=5)

        found = unused(self.actor, doors, 90, NOON).lines

        self.assertEqual(
            [(one.name, one.last_at) for one in found], [("Tomas Reve", NOON - 100 * DAY)]
        )
        self.assertEqual(
            self.names(unused(self.actor, doors, 1, NOON).lines), ["Tomas Reve", "Runa Vale"]
        )
        self.let_in(self.tomas, self.house.lab, days_ago=1)  # which was not asked about
        self.assertEqual(len(unused(self.actor, doors, 90, NOON).lines), 1)

    def test_whose_access_comes_only_through_a_group_of_one(self) -> None:
        found = {(one.name, one.group, one.door) for one in alone_in_a_group(self.actor).lines}
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
        way = way_of(self.actor, self.tomas, inner.pk, NOON, NOON).lines
        self.assertEqual(
            [(one.door, one.reason) for one in way],
            [("Gate", Reason.GRANTED), ("Lab", Reason.GRANTED)],
        )
        stopped = way_of(self.actor, self.runa, inner.pk, NOON, NOON).lines
        self.assertEqual(
            [(one.door, one.reason) for one in stopped],
            [("Slip", Reason.GRANTED), ("Lab", Reason.NO_MEMBERSHIP)],
        )
        nowhere = Area.objects.create(site=self.house.site, name="Nowhere")
        self.assertFalse(way_of(self.actor, self.tomas, nowhere.pk, NOON, NOON).has_way)

    def test_what_two_people_have_not_alike(self) -> None:
        found = {
            one.door: (one.reason, one.other_reason, one.hours, one.other_hours)
            for one in compared(self.actor, self.tomas, self.runa, NOON, NOON).lines
        }
        self.assertEqual(found["Gate"][2:], (168.0, 0.0))
        self.assertEqual(found["Lab"], (Reason.GRANTED, Reason.NO_MEMBERSHIP, 50.0, 0.0))
        self.assertEqual(compared(self.actor, self.tomas, self.tomas, NOON, NOON).lines, [])

    def test_of_what_is_out_of_reach_are_as_if_it_were_not_there(self) -> None:
        away = replace(self.actor, scope=Scope(sites=frozenset({999})))
        asks: tuple[Callable[[], object], ...] = (
            lambda: at_a_door(away, self.house.gate.pk, NOON, NOON),
            lambda: unused(away, [self.house.gate.pk], 1, NOON),
            lambda: compared(away, self.tomas, self.runa, NOON, NOON),
            lambda: way_of(away, self.tomas, self.house.gate.area_id, NOON, NOON),
            lambda: into_an_area(away, self.house.gate.area_id, NOON, NOON),
            lambda: of_a_person(away, self.tomas, NOON, NOON),
            lambda: at_two_instants(away, self.tomas, NOON, NIGHT, NOON),
        )
        for ask in asks:
            with self.assertRaises(NotFound):
                ask()
        self.assertEqual(alone_in_a_group(away).lines, [])

    def test_who_could_come_into_an_area_and_by_which_doors(self) -> None:
        inner = Area.objects.create(site=self.house.site, name="Inner")
        self.house.lab.from_area, self.house.lab.area = self.house.gate.area, inner
        self.house.lab.save()
        move_plan_version()
        found = into_an_area(self.actor, inner.pk, NOON, NOON).lines
        self.assertEqual([(one.name, one.door) for one in found], [("Tomas Reve", "Gate → Lab")])
        self.assertEqual(into_an_area(self.actor, inner.pk, NIGHT, NOON).lines, [])

    def test_what_a_person_and_a_group_open_then_and_in_a_week(self) -> None:
        found = of_a_person(self.actor, self.tomas, NIGHT, NOON).lines
        self.assertEqual(
            [(one.door, one.reason, one.group, one.hours) for one in found],
            [
                ("Gate", Reason.GRANTED, "Day", 168.0),
                ("Lab", Reason.OUTSIDE_HOURS, "Day", 50.0),
            ],
        )
        of_group = of_a_group(self.actor, self.house.day_group.pk, NIGHT, NOON).lines
        self.assertEqual(
            [(one.door, one.reason, one.hours) for one in of_group],
            [("Gate", Reason.GRANTED, 168.0), ("Lab", Reason.OUTSIDE_HOURS, 50.0)],
        )

    def test_the_picture_of_a_day_shows_each_group_at_its_doors(self) -> None:
        shown = matrix(self.actor, None, NOON)
        lit = {
            (shown.groups[group]["name"], shown.doors[door]["name"]): shown.strips[strip]
            for group, door, strip in shown.cells
        }
        self.assertEqual(
            lit,
            {
                ("Day", "Gate"): ((0, 1440),),
                ("Day", "Lab"): ((480, 1080),),
                ("Boats", "Slip"): ((0, 1440),),
            },
        )
        clocks_go_back = matrix(self.actor, date(2026, 10, 25), NOON)  # 25 hours; a Sunday
        self.assertEqual(clocks_go_back.minutes, 1500)
        self.assertIn(((0, 1500),), clocks_go_back.strips)

    def test_are_kept_by_each_operator_for_themselves(self) -> None:
        client, path = Client(), "/api/questions/saved/"
        client.force_login(an_operator("asker", Permission.SEE))
        asked = {"name": "Lab at night", "question": "door", "asked": {"door": "2"}}
        for name in ("Lab at night", " Lab at night "):  # the same again takes its place
            answer = client.post(path, asked | {"name": name}, "application/json")
            self.assertEqual(answer.status_code, 201)
        (kept,) = client.get(path).json()
        self.assertEqual({key: kept[key] for key in asked}, asked)
        blank = client.post(path, asked | {"name": " "}, "application/json")
        self.assertEqual(blank.status_code, 422)
        other = Client()
        other.force_login(an_operator("another", Permission.SEE))
        self.assertEqual(other.get(path).json(), [])
        self.assertEqual(other.delete(f"{path}{kept['id']}/").status_code, 404)
        self.assertEqual(client.delete(f"{path}{kept['id']}/").status_code, 204)
        self.assertEqual(client.get(path).json(), [])
        with self.assertRaises(NotPermitted):  # a script has none of its own
            save_question(ANYBODY, "Lab at night", "door", {})

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

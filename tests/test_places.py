"""Places are set up from nothing, moved and removed; what is in use stays, and whoever was slower is told."""

from unittest.mock import patch

from django.test import TestCase, override_settings

from cadrin.access.commands.doors import loss_with_door, remove_door
from cadrin.access.models import AccessGroup
from cadrin.access.plan import access_plan, holders
from cadrin.core.access.finder import Roster
from cadrin.core.access.reach import A_WEEK, reach
from cadrin.core.credentials.factors import ANY_CARD, Factor
from cadrin.core.decision.reasons import Reason
from cadrin.core.doors.rules import DoorRules
from cadrin.core.errors import Invalid, Stale
from cadrin.core.validity import Span
from cadrin.delivery.devices import replace_controller, take_in, take_out_of_use
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import plans_here, take_marks
from cadrin.journal.models import Entry
from cadrin.sites.commands.controllers import (
    ControllerDraft,
    Plug,
    remove_reader,
    rename_reader,
)
from cadrin.sites.commands.doors import DoorDraft, save_door, stored_door
from cadrin.sites.commands.places import (
    AreaDraft,
    SiteDraft,
    remove_area,
    remove_site,
    save_area,
    save_site,
)
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.models import Area, Controller, Door, Reader, Site
from tests.house import NOON, House

PLUGS = (Plug(1, "reader 1"), Plug(2, "reader 2", has_keypad=True))


def codes(refused: Invalid) -> set[tuple[str, str | None]]:
    return {(problem.code, problem.field) for problem in refused.problems}


@override_settings(STANDINS_URL="http://127.0.0.1:9")
class Places(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.area = self.house.gate.area

    def refused(self, door_id: int, draft: DoorDraft) -> set[tuple[str, str | None]]:
        with self.assertRaises(Invalid) as caught:
            save_door(self.actor, door_id, draft, NOON)
        return codes(caught.exception)

    def take_in(self, name: str = "East", address: str = "standin:901") -> Controller:
        with patch("cadrin.delivery.devices.claim", return_value=PLUGS):
            id_ = take_in(self.actor, ControllerDraft(name, address), NOON)
        return Controller.objects.get(pk=id_)

    def draft_of(self, door: Door, **changes: object) -> DoorDraft:
        return stored_door(door.pk)._replace(**changes)  # type: ignore[arg-type]

    def test_a_site_an_area_a_controller_and_a_door_from_nothing(self) -> None:
        site = save_site(self.actor, None, SiteDraft("Ardle", "Europe/Oslo"), NOON)
        hall = save_area(self.actor, None, AreaDraft(site, "Hall"), NOON)
        east = self.take_in()
        way_in, way_out = east.readers.order_by("plug").values_list("id", flat=True)
        draft = DoorDraft("Hall door", hall, self.area.pk, east.pk, (way_in,), (way_out,), 7, 30)

        door = save_door(self.actor, None, draft, NOON)

        here = plans_here()[east.pk]
        self.assertEqual(here.door_of_reader, {way_in: door, way_out: door})
        self.assertEqual(here.doors, {door: DoorRules(7, 30)})
        self.assertEqual(here.plugs, {way_in: 1, way_out: 2})
        self.assertEqual(access_plan().readers_out, {way_out})
        self.assertLessEqual(
            {"site.made", "area.made", "controller.made", "reader.made", "door.made"},
            set(Entry.objects.values_list("action", flat=True)),
        )

    def test_what_is_wrong_with_a_door_stands_beside_each_field(self) -> None:
        elsewhere = self.house.slip_reader.pk
        draft = self.draft_of(
            self.house.gate,
            name=" lab ",
            from_area_id=self.area.pk,
            readers_in=(elsewhere, 999),
            readers_out=(self.house.lab_reader.pk,),
            open_seconds=0,
        )
        self.assertEqual(
            self.refused(self.house.gate.pk, draft),
            {
                ("door.name_taken", "name"),
                ("door.into_its_own_area", "from_area_id"),
                ("input.out_of_range", "open_seconds"),
                ("door.reader_of_another_controller", "readers_in"),
                ("input.no_longer_there", "readers_in"),
                ("door.reader_at_another_door", "readers_out"),
            },
        )

    def test_a_door_keeps_longer_open_for_whoever_needs_it(self) -> None:
        draft = self.draft_of(self.house.gate, open_seconds=9, extended_open_seconds=5)
        self.assertEqual(
            self.refused(self.house.gate.pk, draft),
            {("door.extended_is_shorter", "extended_open_seconds")},
        )

    def test_a_door_moved_to_another_controller_is_known_there_and_no_longer_here(self) -> None:
        self.house.enrol()
        take_marks(NOON)
        reader = Reader.objects.create(name="South 2", controller=self.house.south)
        moved = self.draft_of(
            self.house.gate, controller_id=self.house.south.pk, readers_in=(reader.pk,)
        )

        save_door(self.actor, self.house.gate.pk, moved, NOON)
        while take_marks(NOON):
            pass

        self.assertEqual(
            plans_here()[self.house.south.pk].door_of_reader[reader.pk], self.house.gate.pk
        )
        self.assertNotIn(
            self.house.gate_reader.pk, plans_here()[self.house.north.pk].door_of_reader
        )
        people = Record.objects.filter(kind="cardholder").exclude(wanted="")
        self.assertEqual(
            set(people.values_list("controller_id", flat=True)),
            {self.house.north.pk, self.house.south.pk},
        )

    def test_whoever_was_slower_is_told_and_changes_nothing(self) -> None:
        first = self.draft_of(self.house.gate, name="Main gate")
        second = self.draft_of(self.house.gate, name="Old gate")
        save_door(self.actor, self.house.gate.pk, first, NOON)

        with self.assertRaises(Stale) as stale:
            save_door(self.actor, self.house.gate.pk, second, NOON)

        self.assertEqual(stale.exception.since[-1]["action"], "door.changed")

    def test_removing_a_door_says_who_loses_it_and_takes_its_grants_along(self) -> None:
        self.house.enrol()
        loss = loss_with_door(self.actor, self.house.lab.pk)
        self.assertEqual(loss, (("Day",), 1))

        remove_door(self.actor, self.house.lab.pk, NOON)
        take_marks(NOON)

        day = AccessGroup.objects.get(name="Day")
        self.assertEqual((day.grants.count(), day.version), (1, 2))
        self.assertEqual(Reader.objects.get(pk=self.house.lab_reader.pk).door_id, None)
        self.assertNotIn(self.house.lab.pk, plans_here()[self.house.north.pk].doors)
        change = Entry.objects.get(action="group.changed")
        self.assertEqual(change.changes, {"grants": [["Lab: Office hours"], []]})

    def test_what_is_in_use_is_not_removed(self) -> None:
        for remove, id_, code in (
            (remove_site, self.house.site.pk, "site.in_use"),
            (remove_area, self.area.pk, "area.in_use"),
            (take_out_of_use, self.house.north.pk, "controller.in_use"),
            (remove_reader, self.house.gate_reader.pk, "reader.at_a_door"),
        ):
            with self.subTest(code), self.assertRaises(Invalid) as refused:
                remove(self.actor, id_, NOON)
            self.assertEqual(refused.exception.code, code)

    def test_what_is_not_in_use_is(self) -> None:
        site = save_site(self.actor, None, SiteDraft("Ardle", "Europe/Oslo"), NOON)
        area = save_area(self.actor, None, AreaDraft(site, "Hall"), NOON)

        remove_area(self.actor, area, NOON)
        remove_site(self.actor, site, NOON)

        self.assertFalse(
            Site.objects.filter(pk=site).exists() or Area.objects.filter(pk=area).exists()
        )

    def test_a_controller_taken_out_of_use_leaves_its_name_and_address_free(self) -> None:
        east = self.take_in()
        take_out_of_use(self.actor, east.pk, NOON)

        again = self.take_in()

        self.assertNotEqual(again.pk, east.pk)
        self.assertFalse(Reader.objects.filter(controller=east.pk).exists())

    def test_another_device_takes_its_place_with_the_same_doors_and_another_key(self) -> None:
        north = self.house.north
        had = (set(north.readers.values_list("id", "door_id")), north.sealed_key)
        with patch("cadrin.delivery.devices.claim", return_value=PLUGS):
            replace_controller(self.actor, north.pk, "standin:902", north.version, NOON)

        north.refresh_from_db()
        self.assertEqual(set(north.readers.values_list("id", "door_id")), had[0])
        self.assertEqual(sorted(north.readers.values_list("plug", flat=True)), [1, 2])
        self.assertEqual(north.address, "standin:902")
        self.assertNotEqual(north.sealed_key, had[1])

    def test_one_with_too_few_plugs_does_not(self) -> None:
        with (
            patch("cadrin.delivery.devices.claim", return_value=PLUGS[:1]),
            self.assertRaises(Invalid) as refused,
        ):
            north = self.house.north
            replace_controller(self.actor, north.pk, "standin:902", north.version, NOON)
        self.assertEqual(refused.exception.code, "controller.too_few_plugs")

    def test_an_address_that_is_anothers_or_no_devices_is_refused_before_anything_is_said(
        self,
    ) -> None:
        for address, code in (
            (self.house.north.address, "controller.address_taken"),
            ("http://127.0.0.1:8000", "controller.address_not_a_device"),
            ("http://169.254.169.254/latest", "controller.address_not_a_device"),
            ("http://localhost:1", "controller.address_not_a_device"),
            ("gatehouse", "controller.address"),
            ("http://nowhere.invalid", "controller.no_such_host"),
        ):
            with self.subTest(address):
                with self.assertRaises(Invalid) as refused:
                    take_in(self.actor, ControllerDraft("East", address), NOON)
                self.assertEqual(codes(refused.exception), {(code, "address")})

    def test_a_door_that_loses_its_reader_is_promised_to_nobody(self) -> None:
        holder = holders([self.house.enrol()])
        save_door(
            self.actor,
            self.house.gate.pk,
            self.draft_of(self.house.gate, readers_in=()),
            NOON,
        )

        week = Span(NOON, NOON + A_WEEK)
        for person in holder.values():
            (door,) = reach(person, [self.house.gate.pk], access_plan(), NOON, week)
            self.assertEqual((door.reason, door.open_spans), (Reason.NO_WAY_IN, ()))
            self.assertNotIn(
                person.id,
                Roster([person]).who_may_open(self.house.gate.pk, access_plan(), NOON),
            )

    def test_whoever_has_a_reader_open_is_told_that_it_was_placed_elsewhere(self) -> None:
        reader = self.house.gate_reader
        turned = self.draft_of(self.house.gate, readers_in=(), readers_out=(reader.pk,))
        save_door(self.actor, self.house.gate.pk, turned, NOON)

        with self.assertRaises(Stale):
            save_reader(
                self.actor,
                reader.pk,
                ReaderDraft(ANY_CARD.alternatives, False, frozenset(), reader.version),
                NOON,
            )

        reader.refresh_from_db()
        self.assertTrue(reader.is_way_out)

    def test_what_a_reader_will_ask_for_can_be_said_before_it_stands_at_a_door(self) -> None:
        reader = self.take_in().readers.get(plug=2)
        both = (Factor.CARD, Factor.PIN)
        draft = ReaderDraft((both,), True, frozenset(), reader.version)

        save_reader(self.actor, reader.pk, draft, NOON)

        reader.refresh_from_db()
        self.assertEqual(reader.policy, [["card", "pin"]])

    def test_a_reader_is_renamed(self) -> None:
        reader = self.house.gate_reader
        rename_reader(self.actor, reader.pk, " Gate, left ", reader.version, NOON)
        self.assertEqual(Reader.objects.get(pk=reader.pk).name, "Gate, left")
        with self.assertRaises(Invalid):
            rename_reader(self.actor, reader.pk, "LAB", reader.version + 1, NOON)

"""Every door rule is tried at the bench: saved here, sent to the stand-ins, and seen at the door."""

from datetime import timedelta
from typing import Any

from django.test import TransactionTestCase, override_settings
from django.utils import timezone

from cadrin.access.commands.groups import save_group
from cadrin.access.commands.presence import forgive
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup
from cadrin.access.presence import whereabouts
from cadrin.activity.models import Read
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.doors.rules import Ordered, Passback
from cadrin.core.records.states import RecordState
from cadrin.credentials.queries import raw_of
from cadrin.delivery.models import Record
from cadrin.outbox.models import Mark
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.orders import act_at_door, end_order, order_door
from cadrin.sites.commands.places import AreaDraft, save_area
from cadrin.sites.commands.releases import (
    ReleaseGroupDraft,
    begin_release,
    end_release,
    save_release_group,
)
from cadrin.sites.models import Door, DoorAct, DoorNow, Reader
from tests.house import NOON, House
from tests.running import BENCH_KEY, RunningWorker, StandIns, until

PLAIN: dict[str, Any] = {
    "unlocked_schedule_id": None,
    "closed_schedule_id": None,
    "first_person": False,
    "second_seconds": None,
    "consent_seconds": None,
    "interlock": (),
}


class DoorsAtWork(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.house.use_standins()
        self.gate, self.lab, self.slip = self.house.gate, self.house.lab, self.house.slip
        self.gate_out = Reader.objects.create(
            name="Gate out", controller=self.house.north, door=self.gate, is_way_out=True
        )
        always = tuple(
            GrantDraft(door.pk, self.house.always.pk) for door in (self.gate, self.lab, self.slip)
        )
        day = AccessGroup.objects.get(pk=self.house.day_group.pk)
        save_group(self.actor, day.pk, GroupDraft("Day", "", always, day.version), NOON)
        self.people = self.house.enrol_many(3)
        self.standins = StandIns(self.house.setups())
        self.addCleanup(self.standins.stop)
        found = override_settings(STANDINS_URL=self.standins.url, STANDINS_KEY=BENCH_KEY)
        found.enable()
        self.addCleanup(found.disable)
        self.worker = RunningWorker()
        self.addCleanup(self.worker.stop)
        self.all_is_held()

    def set_rules(self, door: Door, **changes: Any) -> None:
        """Give a door these rules and no others."""
        rules = PLAIN | changes
        save_door(self.actor, door.pk, stored_door(door.pk)._replace(**rules), timezone.now())
        self.all_is_held()

    def all_is_held(self) -> None:
        def is_held() -> bool:
            waiting = Record.objects.exclude(state=RecordState.HELD)
            return not Mark.objects.exists() and not waiting.exists()

        until(is_held, "all is held")

    def read(self, person: int = 0, reader: Reader | None = None) -> str:
        raw = str(raw_of(CardKey(self.house.format.pk, 12, 10_000 + person)))
        return str(self.standins.show((reader or self.house.gate_reader).pk, raw)["reason"])

    def move(self, door: Door, move: str) -> None:
        path = f"/bench/controllers/{door.controller_id}/doors/{door.pk}"
        self.standins.ask("POST", path, {"move": move})

    def lock(self, door: Door) -> str:
        for controller in self.standins.ask("GET", "/bench")["controllers"]:
            for told in controller["doors"]:
                if told["id"] == door.pk:
                    return str(told["lock"])
        raise AssertionError("no such door")

    def happened(self, kind: str) -> bool:
        return Read.objects.filter(happening=kind).exists()

    def now(self) -> DoorNow | None:
        return DoorNow.objects.filter(door=self.gate).first()

    def test_forced_and_held_doors_are_told_until_they_are_shut(self) -> None:
        self.set_rules(self.gate, tells_forced=True, held_seconds=1, open_seconds=1)
        self.move(self.gate, "open")
        until(lambda: self.happened("forced"), "it was forced")
        until(lambda: self.happened("held"), "it is open for too long")
        now = self.now()
        assert now
        self.assertEqual((now.is_open, now.alarm), (True, "forced"))
        self.move(self.gate, "shut")
        until(lambda: (row := self.now()) and not row.is_open and not row.alarm, "it is shut")

        Read.objects.all().delete()
        self.assertEqual(self.read(), "granted")
        self.move(self.gate, "open")
        until(lambda: (row := self.now()) and row.is_open, "it is open")
        self.assertFalse(self.happened("forced"))

    def test_a_button_unlocks_only_where_there_is_one(self) -> None:
        self.set_rules(self.gate, open_seconds=20)
        self.move(self.gate, "button")
        self.assertEqual(self.lock(self.gate), "locked")
        self.set_rules(self.gate, open_seconds=20, has_exit_button=True)
        self.move(self.gate, "button")
        self.assertEqual(self.lock(self.gate), "released")

    def test_unlocked_and_closed_hours_and_who_may_override(self) -> None:
        self.set_rules(self.gate, unlocked_schedule_id=self.house.always.pk)
        self.assertEqual(self.lock(self.gate), "by_hours")
        self.set_rules(
            self.gate, unlocked_schedule_id=self.house.always.pk, first_person=True, open_seconds=1
        )
        self.assertEqual(self.lock(self.gate), "locked")
        self.read()
        until(lambda: self.lock(self.gate) == "by_hours", "the first person unlocked it")

        self.set_rules(self.gate, closed_schedule_id=self.house.always.pk)
        self.assertEqual(self.read(), "door_closed")
        day = AccessGroup.objects.get(pk=self.house.day_group.pk)
        grants = (GrantDraft(self.gate.pk, self.house.always.pk),)
        draft = GroupDraft("Day", "", grants, day.version, overrides=True)
        save_group(self.actor, day.pk, draft, timezone.now())
        self.all_is_held()
        self.assertEqual(self.read(), "granted")

    def test_two_people_and_doors_of_an_interlock(self) -> None:
        self.set_rules(self.gate, second_seconds=60)
        self.assertEqual(self.read(0), "second_person_awaited")
        self.assertEqual(self.read(1), "granted")

        self.set_rules(self.gate, interlock=(self.lab.pk,))
        self.move(self.lab, "open")
        self.assertEqual(self.read(), "interlocked")
        self.move(self.lab, "shut")
        self.assertEqual(self.read(), "granted")

    def test_whoever_is_inside_at_one_controller_is_inside_at_the_other(self) -> None:
        area = self.gate.area
        draft = AreaDraft(self.house.site.pk, area.name, Passback.HARD, None, 2, version=1)
        save_area(self.actor, area.pk, draft, timezone.now())
        self.all_is_held()
        mara, ewan, piran = self.people
        self.assertEqual(self.read(0), "granted")
        until(lambda: mara in whereabouts(), "it is known where they are")
        self.all_is_held()
        self.assertEqual(self.read(0, self.house.slip_reader), "passed_back")
        self.assertEqual(self.read(1, self.house.slip_reader), "granted")
        until(lambda: ewan in whereabouts(), "it is known where they are")
        self.all_is_held()
        self.assertEqual(self.read(2), "area_full")
        self.assertEqual(self.read(0, self.gate_out), "granted")
        until(lambda: whereabouts()[mara].area_id == 0, "they went out")
        self.all_is_held()
        self.assertEqual(self.read(2, self.house.slip_reader), "granted")
        until(lambda: piran in whereabouts(), "it is known where they are")

        forgive(self.actor, [piran], timezone.now())
        self.all_is_held()
        self.assertEqual(self.read(2), "granted")

    def test_orders_emergencies_and_consent_reach_the_door(self) -> None:
        later = timezone.now() + timedelta(hours=1)
        order_door(self.actor, self.gate.pk, Ordered.SHUT, later, "Leak", timezone.now())
        until(lambda: self.lock(self.gate) == "kept_shut", "it is kept shut")
        self.assertEqual(self.read(), "door_kept_shut")

        doors = (self.gate.pk, self.slip.pk)
        group = save_release_group(
            self.actor, None, ReleaseGroupDraft("Way out", doors), timezone.now()
        )
        begin_release(self.actor, group, "Fire alarm", timezone.now())
        until(lambda: {self.lock(self.gate), self.lock(self.slip)} == {"kept_open"}, "all are open")
        end_release(self.actor, group, "False alarm", timezone.now())
        until(lambda: self.lock(self.slip) == "locked", "it goes by its rules again")
        end_order(self.actor, self.gate.pk, timezone.now())
        until(lambda: self.lock(self.gate) == "locked", "it goes by its rules again")

        act = act_at_door(self.actor, self.gate.pk, DoorAct.Kind.RELEASE, timezone.now())
        until(lambda: DoorAct.objects.get(pk=act).outcome == "done", "it was unlocked once")
        self.assertEqual(self.lock(self.gate), "released")

        self.set_rules(self.lab, consent_seconds=30)
        self.assertEqual(self.read(0, self.house.lab_reader), "consent_awaited")
        self.assertEqual(self.lock(self.lab), "locked")
        act = act_at_door(self.actor, self.lab.pk, DoorAct.Kind.CONSENT, timezone.now())
        until(lambda: DoorAct.objects.get(pk=act).outcome == "done", "they were let in")
        self.assertEqual(self.lock(self.lab), "released")
        reads = Read.objects.filter(door=self.lab).order_by("id")
        until(lambda: reads.count() == 2, "it is on record")
        self.assertEqual([read.reason for read in reads], ["consent_awaited", "granted"])
        again = act_at_door(self.actor, self.lab.pk, DoorAct.Kind.CONSENT, timezone.now())
        until(lambda: DoorAct.objects.get(pk=again).outcome == "late", "nobody asks any more")

    def test_what_a_silent_controller_was_asked_is_not_done_later(self) -> None:
        self.standins.switch(self.house.north.pk, is_on=False)
        act = act_at_door(self.actor, self.gate.pk, DoorAct.Kind.RELEASE, timezone.now())
        until(lambda: DoorAct.objects.get(pk=act).outcome == "late", "it is too late")
        self.standins.switch(self.house.north.pk, is_on=True)
        self.all_is_held()
        self.assertEqual(self.lock(self.gate), "locked")

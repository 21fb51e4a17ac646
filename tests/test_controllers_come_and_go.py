"""While the worker runs, controllers come, listen elsewhere, are replaced and taken out of use."""

from django.test import TransactionTestCase, override_settings

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.records.states import RecordState
from cadrin.credentials.queries import raw_of
from cadrin.delivery.devices import replace_controller, take_in, take_out_of_use
from cadrin.delivery.models import Record
from cadrin.sites.commands.controllers import ControllerDraft
from cadrin.sites.commands.doors import DoorDraft, remove_bare_door, save_door
from cadrin.sites.models import Controller
from tests.house import NOON, House
from tests.running import BENCH_KEY, RunningWorker, StandIns, until


class ControllersComeAndGo(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        self.actor = self.house.actor
        self.house.use_standins()
        self.standins = StandIns(self.house.setups())
        self.addCleanup(self.standins.stop)
        found = override_settings(STANDINS_URL=self.standins.url, STANDINS_KEY=BENCH_KEY)
        found.enable()
        self.addCleanup(found.disable)
        self.house.enrol()
        self.worker = RunningWorker()
        self.addCleanup(self.worker.stop)

    def unbox(self) -> str:
        return f"standin:{self.standins.ask('POST', '/bench/controllers')['number']}"

    def opens(self, reader_id: int) -> bool:
        raw = str(raw_of(CardKey(self.house.format.pk, 12, 4751)))
        return bool(self.standins.show(reader_id, raw)["reason"] == "granted")

    def all_is_held(self, controller_id: int) -> bool:
        records = Record.objects.filter(controller=controller_id)
        return records.exists() and not records.exclude(state=RecordState.HELD).exists()

    def test_a_new_one_opens_its_door_and_another_takes_its_place(self) -> None:
        east = take_in(self.actor, ControllerDraft("East", self.unbox()), NOON)
        reader = Controller.objects.get(pk=east).readers.order_by("plug").first()
        assert reader
        draft = DoorDraft("Cellar", self.house.gate.area_id, None, east, (reader.pk,))
        door = save_door(self.actor, None, draft, NOON)
        day = AccessGroup.objects.get(pk=self.house.day_group.pk)
        grants = (GrantDraft(door, self.house.always.pk),)
        save_group(self.actor, day.pk, GroupDraft("Day", "", grants, day.version), NOON)
        until(lambda: self.all_is_held(east), "the new one holds what it should")
        self.assertTrue(self.opens(reader.pk))

        controller = Controller.objects.get(pk=east)
        other = self.unbox()
        replace_controller(self.actor, east, other, controller.version, NOON)
        # the one before still stands there, and says what it held
        number = int(controller.address.partition(":")[2])
        self.standins.empty(number)

        def other_holds_it() -> bool:
            told = self.standins.ask("GET", "/bench")["controllers"]
            held = {one["id"]: one["held"] for one in told}
            return bool(held.get(int(other.partition(":")[2]))) and self.all_is_held(east)

        until(other_holds_it, "everything was sent to the other one")
        self.assertTrue(self.opens(reader.pk))

        remove_grants = GroupDraft("Day", "", (), AccessGroup.objects.get(pk=day.pk).version)
        save_group(self.actor, day.pk, remove_grants, NOON)
        remove_bare_door(self.actor, door, NOON)
        take_out_of_use(self.actor, east, NOON)
        self.assertFalse(Record.objects.filter(controller=east).exists())
        again = take_in(self.actor, ControllerDraft("East", self.unbox()), NOON)
        self.assertNotEqual(again, east)
        self.assertFalse(Record.objects.filter(controller=east).exists())

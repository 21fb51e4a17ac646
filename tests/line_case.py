"""A line and a stand-in, round by round, without the worker."""

from datetime import UTC, datetime
from typing import Any

from django.test import TestCase, override_settings

from cadrin.activity.commands.reads import take_events
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.records.states import RecordState
from cadrin.credentials.queries import raw_of
from cadrin.delivery.line import Line
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import take_marks
from cadrin.delivery.wire import Wire
from cadrin.sites.controller_keys import key_of_controller
from tests.house import NOON, House, wanted_anew
from tests.running import StandIns


class LineCase(TestCase):
    """A line and a stand-in, round by round, without the worker."""

    def setUp(self) -> None:
        self.house = House()
        self.house.use_standins()
        self.start({})

    def start(self, more: dict[str, Any]) -> None:
        setups = [{**one, **more} for one in self.house.setups()]
        self.standins = StandIns(setups)
        self.addCleanup(self.standins.stop)
        settings = override_settings(STANDINS_URL=self.standins.url)
        settings.enable()
        self.addCleanup(settings.disable)
        self.line = self.a_line()

    def a_line(self) -> Line:
        self.wire = Wire(self.house.north.address, key_of_controller(self.house.north.pk))
        self.addCleanup(self.wire.close)
        return Line(self.house.north.pk, self.wire, take_events)

    def rounds(self, count: int = 12) -> bool:
        while take_marks(NOON):
            pass
        return [self.line.turn(lambda: datetime.now(UTC)) for _ in range(count)][-1]

    def assert_held_exactly(self) -> None:
        rows = Record.objects.filter(controller=self.house.north)
        self.assertEqual(set(rows.values_list("state", flat=True)), {RecordState.HELD})
        wanted = {f"{row.kind}:{row.subject_id}": row.wanted for row in rows}
        self.assertEqual(self.standins.digests(self.house.north.pk), wanted)
        self.assertEqual(wanted_anew(self.house.north.pk), wanted)

    def shown(self, card_number: int) -> str:
        raw = str(raw_of(CardKey(self.house.format.pk, 12, card_number)))
        return str(self.standins.show(self.house.gate_reader.pk, raw)["reason"])

"""What the reach promised and what the controllers decided, over the demo, in thousands
of cases.
"""

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory

from django.test import TransactionTestCase, override_settings

from cadrin.access.plan import access_plan, holders
from cadrin.activity.commands.reads import take_events
from cadrin.biometrics.models import Template
from cadrin.core.access.reach import reach
from cadrin.core.credentials.factors import ANY_CARD, Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.decision.reasons import OF_A_DOORS_OWN, REASONS, Reason
from cadrin.core.made_up.laying import seed_of
from cadrin.core.made_up.showing import face_seed_of
from cadrin.core.records.states import RecordState
from cadrin.core.schedules import Hours
from cadrin.core.validity import Span
from cadrin.credentials.models import Pin
from cadrin.credentials.queries import raw_of
from cadrin.delivery.line import Line
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import take_marks
from cadrin.delivery.wire import Wire
from cadrin.demo.loading import load_demo
from cadrin.demo.places import write_standins
from cadrin.operators.sealing import unseal
from cadrin.people.models import Cardholder
from cadrin.sites.commands.holidays import (
    CalendarDraft,
    DayDraft,
    KindDraft,
    save_calendar,
    save_kind,
)
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Controller, Reader, Schedule, Site
from tests.house import ANYBODY
from tests.running import StandIns

CASES = 12_000
AT_ONCE = 400
LOADED_AT = datetime(2026, 3, 25, 9, tzinfo=UTC)
"""Days before the clocks go forward: the cases lie on both sides."""


def keep_holidays() -> None:
    """Make holidays about the day on which the demo was loaded, and let every schedule follow them."""
    closed, short = (
        save_kind(ANYBODY, None, KindDraft(name), LOADED_AT) for name in ("Closed", "Short")
    )
    today = LOADED_AT.date()
    days = (
        DayDraft("Regatta", closed, today - timedelta(5), today - timedelta(4)),
        DayDraft("Eve", closed, today + timedelta(2), today + timedelta(2), start_minute=780),
        DayDraft("Season", short, today - timedelta(1), today + timedelta(7)),
    )
    site = Site.objects.order_by("id").first()
    draft = CalendarDraft("Skerrow", site.pk if site else 0, days)
    calendar = save_calendar(ANYBODY, None, draft, LOADED_AT)
    for one in Schedule.objects.all():
        hours = tuple(Hours(*window) for window in one.hours)
        special = {closed: (), short: ((540, 720), (840, 1020))} if one.pk % 2 else {closed: ()}
        kept = ScheduleDraft(one.name, one.zone, hours, one.version, calendar, special)
        save_schedule(ANYBODY, one.pk, kept, LOADED_AT)


class ReachAndControllers(TransactionTestCase):
    def deliver_everything(self) -> None:
        lines = []
        for controller in Controller.objects.filter(is_desk=False):
            self.standins.switch(controller.pk, is_on=True)
            wire = Wire(controller.address, key_of_controller(controller.pk))
            self.addCleanup(wire.close)
            lines.append(Line(controller.pk, wire, take_events))
        for _ in range(20):  # what a controller cannot express is known from its first answer on
            while take_marks(LOADED_AT):
                pass
            for line in lines:
                line.turn(lambda: LOADED_AT)
        self.assertFalse(Record.objects.exclude(state=RecordState.HELD).exists())

    def test_agree_in_every_case(self) -> None:
        load_demo(LOADED_AT)
        keep_holidays()
        with TemporaryDirectory() as folder:
            write_standins(Path(folder) / "standins.json")
            setups = json.loads((Path(folder) / "standins.json").read_text())["controllers"]
        self.standins = StandIns(setups)
        self.addCleanup(self.standins.stop)
        with override_settings(STANDINS_URL=self.standins.url):
            self.deliver_everything()
        random = Random(12)
        plan, doors = (
            access_plan(),
            dict(Reader.objects.filter(door__isnull=False).values_list("id", "door_id")),
        )
        everybody = holders(Cardholder.objects.values_list("id", flat=True))
        carriers = [holder for holder in everybody.values() if len(holder.cards) == 1]
        pins = {pin.holder_id: unseal(pin.sealed) for pin in Pin.objects.all()}
        fingers = {
            row.holder_id: seed_of(row.holder_id, Finger(row.position))
            for row in Template.objects.filter(factor=Factor.FINGER)
        }
        asked, promised = [], []
        for _ in range(CASES):
            holder, reader_id = random.choice(carriers), random.choice(list(doors))
            at = LOADED_AT + timedelta(seconds=random.randrange(-9 * 86400, 9 * 86400))
            shown = {
                "reader": reader_id,
                "raw": str(raw_of(holder.cards[0].key)),
                "at": at.isoformat(),
            }
            policy = plan.policy_of_reader.get(reader_id, ANY_CARD).at(at)
            asked.append(
                shown
                | (
                    {"finger": {"seed": fingers[holder.id], "how": "well"}}
                    if holder.id in fingers and policy.takes(Factor.FINGER)
                    else {}
                )
                | (
                    {"face": {"seed": face_seed_of(holder.id), "how": "as_it_is"}}
                    if holder.faces and policy.takes(Factor.FACE)
                    else {}
                )
                | (
                    {"typed": pins[holder.id]}
                    if holder.id in pins and policy.takes(Factor.PIN)
                    else {}
                )
            )
            day = Span(at - timedelta(hours=1), at + timedelta(hours=1))
            (door,) = reach(holder, [doors[reader_id] or 0], plan, at, day)
            self.assertEqual(any(at in lit for lit in door.open_spans), door.is_open)
            promised.append(door.reason)

        decided = [
            Reason(verdict["reason"])
            for begin in range(0, CASES, AT_ONCE)
            for verdict in self.standins.rehearse(asked[begin : begin + AT_ONCE])
        ]

        differences = [
            (case, promise, verdict)
            for case, promise, verdict in zip(asked, promised, decided, strict=True)
            # a controller at which none of their groups has a door does not hold the card at all
            if promise is not verdict
            # what a door asks beside rights depends on who else is there
            and not (promise is Reason.GRANTED and REASONS[verdict].check in OF_A_DOORS_OWN)
            and not (promise is not Reason.GRANTED and verdict is Reason.UNKNOWN_CARD)
        ]
        self.assertEqual(differences[:5], [])
        self.assertGreater(decided.count(Reason.GRANTED), CASES // 50)
        self.assertGreater(len(set(decided)), 6)

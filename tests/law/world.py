"""A small house in which anything may happen, with stand-ins in this process, and its acts at
random.
"""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from random import Random
from typing import Any

from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.drafts import GrantDraft, GroupDraft, RuleDraft
from cadrin.access.models import AccessGroup
from cadrin.activity.commands.reads import take_events
from cadrin.bulk.commands import begin_bulk_change
from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.steps import work_on_bulk_changes
from cadrin.core.access.plan import Way
from cadrin.core.bulk import BulkAct
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.errors import CadrinError
from cadrin.core.people.details import Details
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.states import TO_BE_SENT
from cadrin.core.schedules import Hours
from cadrin.core.tests.builders import Asks
from cadrin.core.validity import Standing
from cadrin.credentials.commands.settings import CardSettingsDraft, save_card_settings
from cadrin.credentials.models import CardFormat
from cadrin.credentials.settings import card_settings, pin_rule
from cadrin.delivery.commands import check_controller
from cadrin.delivery.line import Line
from cadrin.delivery.models import Record
from cadrin.delivery.wanted import take_marks
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.commands.merge import merge_cardholders
from cadrin.enrolment.commands.rules import keep_rules
from cadrin.enrolment.commands.undo import CAN_BE_UNDONE, undo
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.journal.models import Entry
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder, Department
from cadrin.people.queries import rules
from cadrin.register.selection import Selection
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import (
    Area,
    Controller,
    Door,
    HolidayCalendar,
    Reader,
    Schedule,
)
from cadrin.standins.controller import Setup
from tests.house import DAY, NOON, House
from tests.law.calendars import change_calendar, holiday_hours
from tests.law.doors import change_closed_hours, move_door, order_something
from tests.law.drafts import ZONES, Drafts
from tests.law.standins import PatientStandIn, ShortWire

MOST_PEOPLE = 14
MOST_ROUNDS = 40


class World(Drafts):
    """``now`` is everybody's clock: the house's, the controllers', and the operators'."""

    def __init__(self, random: Random, folder: Path) -> None:
        self.random, self.folder = random, folder
        self.now = NOON
        self.house = house = House()
        longer = next(one.layout for one in READY_MADE if one.name == "34-bit")
        self.longer = CardFormat.objects.create(name="34-bit", layout=encode_format(longer))
        Reader.objects.create(
            name="Gate, way out", door=house.gate, controller=house.north, is_way_out=True
        )
        Area.objects.create(site=house.site, name="Yard")
        below = Department.objects.create(number="11", name="Below", parent=house.department)
        self.departments = [house.department.pk, below.pk]
        self.controllers = [house.north, house.south]
        self.limits: dict[int, dict[str, int | None]] = {one.pk: {} for one in self.controllers}
        self.standins: dict[int, PatientStandIn] = {}
        self.lines: dict[int, Line] = {}
        for controller in self.controllers:
            self.start(controller)
        house.mark_everything()
        self.settings()
        for _ in range(6):
            with suppress(CadrinError):
                self.enrol()
        self.deliver()

    @property
    def actor(self) -> Any:
        return self.house.actor

    # -- controllers -------------------------------------------------------------------------

    def start(self, controller: Controller) -> None:
        """Switch a stand-in on: its memory is what it was."""
        readers = dict(controller.readers.values_list("id", "name"))
        setup = Setup(
            controller.pk,
            controller.name,
            readers,
            key_of_controller(controller.pk),
            **self.limits[controller.pk],  # type: ignore[arg-type]
        )
        standin = PatientStandIn(setup, self.folder / f"{controller.pk}.sqlite3")
        standin.world = self
        self.standins[controller.pk] = standin
        self.lines[controller.pk] = Line(controller.pk, ShortWire(standin), take_events)

    def deliver(self) -> None:
        """Let the worker work until nothing is left that it could do."""
        while work_on_bulk_changes(self.now):
            pass
        while keep_rules(self.now):
            pass
        for _ in range(MOST_ROUNDS):
            while take_marks(self.now):
                pass
            for line in self.lines.values():
                for _ in range(
                    3
                    # what was changed behind its back is noticed in one round, and mended in the
                    # next
                ):
                    line.turn(lambda: self.now)
            reached = [id_ for id_, standin in self.standins.items() if standin.is_on]
            waiting = Record.objects.filter(controller_id__in=reached, state__in=TO_BE_SENT)
            if not Mark.objects.exists() and not waiting.exists():
                return

    # -- acts --------------------------------------------------------------------------------

    def act(self) -> str:
        """Do something at random, and say what; what is refused is no act."""
        doing: Callable[[], object] = self.random.choice(
            [self.enrol, self.change, self.change, self.change, self.change, self.group, self.group, self.schedule,
             self.holidays, self.reader, self.reader, self.closed_hours, self.move, self.order, self.order,
             self.settings, self.bulk_change, self.merge, self.erase,
             self.undo, self.restart,
             self.empty, self.switch, self.limit, self.tamper, self.check]
        )  # fmt: skip
        try:
            doing()
        except CadrinError as refused:
            return f"{doing.__name__}: {refused.code}"
        return doing.__name__

    def somebody(self) -> Cardholder | None:
        ids = list(
            Cardholder.objects.filter(erased_at=None).order_by("id").values_list("id", flat=True)
        )
        return Cardholder.objects.get(pk=self.random.choice(ids)) if ids else None

    def enrol(self) -> None:
        if Cardholder.objects.count() < MOST_PEOPLE:
            number = f"S-{self.random.randrange(10**6)}"
            details = Details(first_name="Tomas", last_name="Reve", **self.details(number))
            cards = tuple(self.card() for _ in range(self.random.randrange(3)))
            save_and_show(
                self.actor,
                None,
                CardholderDraft(
                    details, cards, self.memberships(), pins=self.pin(), plates=self.plate()
                ),
                self.now,
            )

    def a_changed_file(self) -> tuple[int, CardholderDraft] | None:
        """Return somebody's file with one thing or two changed, not saved yet."""
        one = self.somebody()
        if one is None:
            return None
        file = stored_cardholder(one, rules())
        for what in self.random.sample(
            ["details", "cards", "memberships", "pins", "plates"], self.random.randrange(1, 3)
        ):
            if what == "details":
                file = replace(file, details=replace(file.details, **self.details(one.number)))
            elif what == "cards":
                kept = tuple(card for card in file.cards if self.random.random() < 0.7)
                file = replace(
                    file, cards=(*kept, self.card()) if self.random.random() < 0.7 else kept
                )
            elif what == "memberships":
                file = replace(file, memberships=self.memberships())
            elif what == "pins":
                file = replace(file, pins=self.pin())
            else:
                file = replace(file, plates=self.plate())
        return one.pk, file

    def change(self) -> None:
        if changed := self.a_changed_file():
            save_and_show(self.actor, *changed, self.now)

    def a_changed_group(self) -> tuple[int | None, GroupDraft]:
        """Return a group, or a new one, with other doors, not saved yet."""
        groups, doors = (
            list(AccessGroup.objects.all()),
            list(Door.objects.values_list("id", flat=True)),
        )
        overrides = self.random.random() < 0.3
        rules = tuple(RuleDraft(id_) for id_ in self.departments if self.random.random() < 0.2)
        schedules = list(Schedule.objects.values_list("id", flat=True))
        ways = {
            (self.random.choice(doors), self.random.choice(schedules)): self.random.choice([*Way])
            for _ in range(self.random.randrange(1, 5))
        }
        grants = {GrantDraft(*place, way=way) for place, way in ways.items()}
        if self.random.random() < 0.4:
            area = self.random.choice(list(Area.objects.all()))
            grants = {
                GrantDraft(None, self.random.choice(schedules), area.pk, self.random.choice([*Way]))
            }
        if not groups or (len(groups) < 5 and self.random.random() < 0.3):
            return None, GroupDraft(
                f"Group {AccessGroup.objects.count()} of {self.now} {self.random.randrange(10**6)}",
                "",
                tuple(sorted(grants)),
                overrides=overrides,
                rules=rules,
            )
        one = self.random.choice(groups)
        return one.pk, GroupDraft(
            one.name, "", tuple(sorted(grants)), one.version, overrides, rules=rules
        )

    def group(self) -> None:
        groups = list(AccessGroup.objects.all())
        if groups and self.random.random() < 0.1:
            remove_group(self.actor, self.random.choice(groups).pk, self.now)
        else:
            save_group(self.actor, *self.a_changed_group(), self.now)

    def schedule(self) -> None:
        """Change the hours of a schedule; there is always one that is open at any time."""
        if Schedule.objects.count() < 4:
            draft = ScheduleDraft(f"Hours {self.now}", ZONES[1], (Hours(0, 480, 1080),))
            save_schedule(self.actor, None, draft, self.now)
        one = self.random.choice(list(Schedule.objects.exclude(pk=self.house.always.pk)))
        starts = sorted(self.random.sample(range(0, 7 * 1440, 15), 4))
        hours = [
            Hours(begin // 1440, begin % 1440, begin % 1440 + min(end - begin, 1440))
            for begin, end in zip(starts[::2], starts[1::2], strict=True)
        ]
        calendar = HolidayCalendar.objects.first() if self.random.random() < 0.7 else None
        special = holiday_hours(self.random) if calendar else {}
        zone = self.random.choice(ZONES)
        draft = ScheduleDraft(
            one.name, zone, tuple(hours), one.version, calendar.pk if calendar else None, special
        )
        save_schedule(self.actor, one.pk, draft, self.now)

    def holidays(self) -> None:
        """Change the calendar."""
        change_calendar(self.actor, self.house.site.pk, self.random, self.now)

    def closed_hours(self) -> None:
        change_closed_hours(self.actor, self.random, self.now)

    def move(self) -> None:
        move_door(self.actor, self.random, self.now)

    def order(self) -> None:
        until = self.maybe(0.5)
        later = until if until and until > self.now else None
        order_something(self.actor, self.random, later, self.now)

    def reader(self) -> None:
        one = self.random.choice(list(Reader.objects.exclude(door=None)))
        formats = self.random.choice([set(), set(), {self.house.format.pk}, {self.longer.pk}])
        draft = ReaderDraft(
            self.random.choice([*Asks.EVERY, Asks.CARD, Asks.CARD_OR_PIN]),
            True,
            frozenset(formats),
            one.version,
            self.random.random() < 0.3,
            has_camera=True,
        )
        save_reader(self.actor, one.pk, draft, self.now)

    def settings(self) -> None:
        kept = card_settings()
        rule = replace(
            pin_rule(kept),
            duress=self.random.choice([*DuressRule]),
            length=5,
            is_unique=self.random.random() < 0.5,
            forbids_own_numbers=False,
            holds_days=self.random.choice([None, 3]),
        )
        save_card_settings(
            self.actor, CardSettingsDraft(kept.most_cards, rule, kept.version), self.now
        )

    def bulk_change(self) -> None:
        groups = list(AccessGroup.objects.values_list("id", flat=True))
        order = self.random.choice(
            [BulkAct.STANDING, BulkAct.EXPIRY, BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP]
        )
        value: Any = self.random.choice(groups) if groups else None
        if order is BulkAct.STANDING:
            value = self.random.choice([*Standing]).value
        elif order is BulkAct.EXPIRY:
            value = self.instant().isoformat()
        ids = list(Cardholder.objects.filter(erased_at=None).values_list("id", flat=True))
        chosen = tuple(self.random.sample(ids, min(len(ids), 3)))
        begin_bulk_change(
            self.actor, BulkDraft(order, value, "law"), Selection(ids=chosen), self.now
        )
        while work_on_bulk_changes(self.now):
            pass

    def merge(self) -> None:
        one, other = self.somebody(), self.somebody()
        if one and other and self.random.random() < 0.5:
            merge_cardholders(
                self.actor,
                one.pk,
                stored_cardholder(one, rules()),
                other.pk,
                other.version,
                self.now,
            )

    def erase(self) -> None:
        if (one := self.somebody()) and self.random.random() < 0.3:
            erase_cardholder(self.actor, one.pk, one.version, "they asked for it", self.now)

    def undo(self) -> None:
        entries = list(
            Entry.objects.filter(action__in=CAN_BE_UNDONE, topics__kind="cardholder").order_by(
                "-id"
            )[:5]
        )
        if entries:
            entry = self.random.choice(entries)
            topic = entry.topics.filter(kind="cardholder").first()
            assert topic
            undo(self.actor, topic.object_id, entry.pk, self.now)

    # -- what happens to controllers ---------------------------------------------------------

    def restart(self) -> None:
        one = self.random.choice(self.controllers)
        self.standins[one.pk].close()
        self.start(one)

    def empty(self) -> None:
        self.random.choice(list(self.standins.values())).empty()

    def switch(self) -> None:
        one = self.random.choice(list(self.standins.values()))
        one.is_on = not one.is_on

    def limit(self) -> None:
        """Put another box in the place of a controller, with the same memory and less or
        more room.
        """
        one = self.random.choice(self.controllers)
        self.limits[one.pk] = {
            "capacity": self.random.choice([None, None, 4]),
            "most_cards": self.random.choice([None, None, 1]),
            "longest_name": self.random.choice([None, 5]),
            "latest": self.random.choice([None, 2**31 - 1]),
        }
        self.standins[one.pk].close()
        self.start(one)

    def tamper(self) -> None:
        """Take a record out of a memory, or change one, behind everybody's back."""
        one = self.random.choice(list(self.standins.values()))
        keys = sorted(one.digests())
        if keys:
            one.take([], [self.random.choice(keys)])

    def check(self) -> None:
        for one in self.controllers:
            check_controller(self.actor, one.pk, self.now)

    def time_passes(self) -> None:
        self.now += self.random.choice([timedelta(seconds=1), timedelta(hours=5), DAY])

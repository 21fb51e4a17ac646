"""The law: what stands on the screen is what lies at the controllers, and what the doors do.

After every act at random, whatever it was: each record is at its controller as it should be, or is
shown as not held; reach, lists, previews and doors agree to the second, and in their reasons, with
an oracle that shares nothing with them; what was is told as it was; and what is offered against a
denial opens the door.
``CADRIN_LAW_ROUNDS`` makes it long.
"""

import os
from collections import Counter
from datetime import datetime, timedelta
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory

from django.test import TestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.plan import access_plan, holders
from cadrin.activity.models import Read
from cadrin.core.access.finder import Roster
from cadrin.core.access.reach import reach
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.factors import Evidence
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import CadrinError
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Span
from cadrin.credentials.queries import raw_of
from cadrin.delivery.models import Record
from cadrin.delivery.preview import preview_cardholder, preview_group
from cadrin.desk.explaining import explanation
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.people.models import Cardholder
from cadrin.questions.doors import at_a_door
from cadrin.sites.models import Door, Reader
from tests.house import wanted_anew
from tests.law.oracle import Oracle, Shown, is_open
from tests.law.remedying import Operator
from tests.law.world import World

ROUNDS = int(os.environ.get("CADRIN_LAW_ROUNDS", "40"))
SEED = int(os.environ.get("CADRIN_LAW_SEED", "11"))
INSTANTS, READS = 4, 40
"""In each round: at how many instants everything is compared, and how many reads at each."""
TRIES = 20
SECOND, DAY = timedelta(seconds=1), timedelta(days=1)


class TheLaw(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.random = Random(SEED)
        self.world = World(self.random, Path(folder.name))
        self.counted: Counter[str] = Counter()
        self.acts: list[str] = []
        self.remembered: list[tuple[datetime, int, set[int | None]]] = []

    def where(self) -> str:
        return f"after {self.acts[-6:]}, seed {SEED}, round {len(self.acts)}"

    def test_holds_whatever_is_done(self) -> None:
        for turn in range(ROUNDS):
            if turn % 3 == 2:
                self.random.choice(
                    [self.preview_then_save, self.preview_then_save, self.preview_then_save_a_group]
                )()
            else:
                self.acts.append(self.world.act())
            self.world.deliver()
            self.what_is_held_is_what_is_wanted()
            oracle = Oracle()
            for at in self.instants(oracle):
                self.everything_agrees(oracle, at)
            self.what_is_offered_opens(oracle)
            self.what_was_is_told_so(oracle)
            self.world.time_passes()
        print(f"the law, {ROUNDS} acts:", dict(self.counted), flush=True)
        if ROUNDS > 100:
            print(dict(Counter(self.acts)), flush=True)
        for what in (
            "records",
            "reads",
            "doors",
            "lists",
            "previews",
            "told of the past",
            "opened by what was offered",
        ):
            self.assertGreater(self.counted[what], 0, what)

    # -- (a) ---------------------------------------------------------------------------------

    def what_is_held_is_what_is_wanted(self) -> None:
        for id_, standin in self.world.standins.items():
            if not standin.is_on:
                continue
            held, wanted = standin.digests(), wanted_anew(id_)
            state = {
                f"{row.kind}:{row.subject_id}": row.state
                for row in Record.objects.filter(controller_id=id_)
            }
            for key in held.keys() | wanted.keys():
                self.counted["records"] += 1
                if held.get(key) != wanted.get(key):
                    self.assertEqual(
                        state.get(key), RecordState.REFUSED, f"{key} at {id_} {self.where()}"
                    )
                elif key in wanted:
                    self.assertEqual(
                        state.get(key), RecordState.HELD, f"{key} at {id_} {self.where()}"
                    )

    # -- (b) ---------------------------------------------------------------------------------

    def instants(self, oracle: Oracle) -> list[datetime]:
        """Choose instants: mostly where something begins or ends, a second before, at it, and a
        second after.
        """
        edges = oracle.edges()
        found = [self.world.instant() for _ in range(INSTANTS)]
        for place in range(INSTANTS - 1):
            if edges:
                found[place] = self.random.choice(edges) + self.random.choice(
                    [-SECOND, timedelta(), SECOND]
                )
        return found

    def everything_agrees(self, oracle: Oracle, at: datetime) -> None:
        plan, everybody = access_plan(), holders(Cardholder.objects.values_list("id", flat=True))
        doors = list(Door.objects.values_list("id", flat=True))
        roster, span = Roster(list(everybody.values())), Span(at - DAY, at + DAY)
        for door_id in doors:
            let_in = {id_ for id_ in everybody if oracle.is_let_in(id_, door_id, at)}
            self.counted["lists"] += 1
            has_way_in = any(
                r.door_id == door_id and not r.is_way_out for r in oracle.readers.values()
            )
            if not has_way_in:
                let_in = set()
            self.assertEqual(
                set(roster.who_may_open(door_id, plan, at)),
                let_in,
                f"door {door_id} at {at} {self.where()}",
            )
        for holder in everybody.values():
            for one in reach(holder, doors, plan, at, span):
                self.counted["doors"] += 1
                is_in = oracle.is_let_in(holder.id, one.door_id, at)
                told = f"{holder.id} at door {one.door_id} at {at} {self.where()}"
                self.assertEqual(
                    (one.is_open, any(at in span for span in one.open_spans)), (is_in, is_in), told
                )
                is_out = oracle.is_let_in(holder.id, one.door_id, at, is_out=True)
                self.assertEqual(one.reason_out is Reason.GRANTED, is_out, told)
        for _ in range(READS):
            self.a_door_does_as_the_oracle_says(oracle, at)

    def a_door_does_as_the_oracle_says(self, oracle: Oracle, at: datetime) -> None:
        reader = self.random.choice([one for one in oracle.readers.values() if one.door_id])
        standin = self.world.standins[reader.controller_id]
        shown = self.something(oracle)
        if shown is None or not standin.is_on or self.is_not_held(oracle, shown, reader):
            return
        read = raw_of(CardKey(*shown.card)) if shown.card else None
        decided = standin.rehearse(reader.pk, Evidence(read, shown.typed, shown.plate), at)[
            "reason"
        ]
        self.counted["reads"] += 1
        self.assertEqual(
            decided,
            oracle.reason(reader.pk, shown, at),
            f"{shown} at {reader} at {at} {self.where()}",
        )

    def something(self, oracle: Oracle) -> Shown | None:
        """Choose something to show: what somebody has, somebody else's PIN with it, or what nobody
        has.
        """
        everything = [one for id_ in oracle.people for one in oracle.shown_by(id_)]
        if not everything:
            return None
        shown = self.random.choice(everything)
        typed = self.random.choice([*oracle.digits.values(), "48105", None])
        return shown._replace(typed=typed) if shown.card and self.random.random() < 0.3 else shown

    def is_not_held(self, oracle: Oracle, shown: Shown, reader: Reader) -> bool:
        """Say whether a record about this is shown as not held, or a card of theirs as left out: no
        promise, then.
        """
        most = self.world.limits[reader.controller_id].get("most_cards")
        missing = Record.objects.filter(controller_id=reader.controller_id, kind="cardholder")
        without = set(missing.exclude(state=RecordState.HELD).values_list("subject_id", flat=True))
        about = {pin.holder_id for pin in oracle.pins} if shown.typed else set()
        if shown.plate in oracle.plates:
            about.add(oracle.plates[shown.plate])
        if shown.card:
            about.update(
                card.holder_id or 0 for key, card in oracle.cards.items() if key == shown.card
            )
        carried = Counter(card.holder_id for card in oracle.cards.values())
        return bool(about & without) or (
            most is not None and any(carried[id_] > most for id_ in about)
        )

    def preview_then_save(self) -> None:
        """What is shown before saving is so afterwards: at the doors, and in what is sent."""
        changed, at = self.world.a_changed_file(), self.world.instant()
        if changed is None:
            return
        id_, draft = changed
        before = {
            controller: wanted_anew(controller).get(f"cardholder:{id_}")
            for controller in self.world.lines
        }
        promised = preview_cardholder(self.world.actor, id_, draft, self.world.now, at)
        try:
            save_and_show(self.world.actor, id_, draft, self.world.now)
        except CadrinError as refused:
            self.acts.append(f"preview: {refused.code}")
            return
        self.acts.append("preview")
        plan, doors = access_plan(), [one.door_id for one in promised.reach]
        found = reach(holders([id_])[id_], doors, plan, at, promised.week)
        self.counted["previews"] += len(found)
        self.assertEqual(
            [(one.door_id, one.reason, one.open_spans) for one in promised.reach],
            [(one.door_id, one.reason, one.open_spans) for one in found],
            self.where(),
        )
        after = {
            controller: wanted_anew(controller).get(f"cardholder:{id_}")
            for controller in self.world.lines
        }
        sent = {controller for controller in after if after[controller] != before[controller]}
        self.assertEqual({one.controller_id for one in promised.to_send}, sent, self.where())

    def preview_then_save_a_group(self) -> None:
        """What saving a group is said to send is what is then wanted otherwise."""
        id_, draft = self.world.a_changed_group()
        before = {controller: wanted_anew(controller) for controller in self.world.lines}
        promised = preview_group(id_, draft)
        save_group(self.world.actor, id_, draft, self.world.now)
        self.acts.append("preview of a group")
        sent = {}
        for controller, old in before.items():
            new = wanted_anew(controller)
            if changed := sum(1 for key in old.keys() | new.keys() if old.get(key) != new.get(key)):
                sent[controller] = changed
        self.counted["previews"] += 1
        self.assertEqual(
            {one.controller_id: one.records for one in promised.to_send}, sent, self.where()
        )

    def what_was_is_told_so(self, oracle: Oracle) -> None:
        """Who may open a door now is remembered; of the instants before it is told the same, or it is
        said that something cannot be known any more.
        """
        now, actor = self.world.now, self.world.actor
        for at, door_id, people in self.remembered[-12:]:
            told = at_a_door(actor, door_id, at, now)
            self.counted["told of the past"] += 1
            if told.as_now:
                self.counted["not known any more"] += 1
                continue
            found = {one.cardholder_id for one in told.lines}
            self.assertEqual(found, people, f"at {at}, door {door_id}, {self.where()}")
        doors = sorted({one.door_id for one in oracle.readers.values() if one.door_id})
        for door_id in self.random.sample(doors, 2):
            there = at_a_door(actor, door_id, now, now).lines
            self.remembered.append((now, door_id, {one.cardholder_id for one in there}))

    # -- (c) ---------------------------------------------------------------------------------

    def what_is_offered_opens(self, oracle: Oracle) -> None:
        """Show something that is denied, do the first that is offered against it, and show it
        again.
        """
        world, now = self.world, self.world.now
        for _ in range(TRIES):
            reader = self.random.choice([one for one in oracle.readers.values() if one.door_id])
            shown = (
                self.something(oracle)
                if self.random.random() < 0.9
                else Shown((world.house.format.pk, 12, 999))
            )
            standin = world.standins[reader.controller_id]
            if (
                shown is None
                or not standin.is_on
                or oracle.reason(reader.pk, shown, now) == "granted"
            ):
                continue
            if self.is_not_held(oracle, shown, reader):
                continue
            break
        else:
            return
        self.present(reader, shown)
        world.deliver()
        row = Read.objects.latest("id")
        found = explanation(world.actor, row.pk, now)
        self.counted["denied"] += 1
        told = f"{shown} at {reader}: {row.reason}, {found} {self.where()}"
        if not found.remedies:
            self.counted["where nothing can be done"] += 1
            self.assertTrue(self.nothing_can_be_done(oracle, reader, found.against[-1], now), told)
            return
        try:
            shown = Operator(world, oracle, reader, shown, found.holder_id).do(found.remedies[0])
        except CadrinError as refused:
            self.counted[f"refused: {refused.code}"] += 1
            self.fail(f"{refused}: {told}")
        self.acts.append("remedy")
        world.deliver()
        if Record.objects.filter(
            controller_id=reader.controller_id, state=RecordState.REFUSED
        ).exists():
            self.counted["no room at the controller, as is shown"] += 1
            return
        self.assertEqual(self.present(reader, shown), "granted", told)
        self.counted["opened by what was offered"] += 1

    def present(self, reader: Reader, shown: Shown) -> str:
        standin = self.world.standins[reader.controller_id]
        standin.unlock_keypads()
        read = raw_of(CardKey(*shown.card)) if shown.card else None
        return str(standin.present(reader.pk, Evidence(read, shown.typed, shown.plate))["reason"])

    def nothing_can_be_done(
        self, oracle: Oracle, reader: Reader, last: Reason, at: datetime
    ) -> bool:
        """Say whether no act could open the door: nobody's PIN, or an hour at which no group opens
        it.
        """
        if last is Reason.PIN_WRONG:
            return True
        hours = [
            oracle.schedules[schedule_id]
            for grants in oracle.grants.values()
            for door_id, schedule_id, way in grants
            if door_id == reader.door_id and way in ("both", "out" if reader.is_way_out else "in")
        ]
        return not any(is_open(one, oracle.holidays, at) for one in hours)

"""Whatever is killed, whenever: in the end every controller holds exactly what it should."""

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory

import httpx
from django.conf import settings
from django.db.models import Count
from django.test import TransactionTestCase

from cadrin.access.commands.groups import save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.models import AccessGroup
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.delivery.models import Record
from cadrin.delivery.wire import Wire
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.commands.memberships import add_people
from cadrin.outbox.models import Mark
from cadrin.people.models import Cardholder
from cadrin.sites.controller_keys import key_of_controller
from tests.house import DAY, NOON, House, wanted_anew
from tests.running import (
    BENCH_KEY,
    PATIENCE_SECONDS,
    bench_headers,
    database_of_tests,
    free_port,
    until,
)

ROUNDS = int(os.environ.get("CADRIN_KILL_ROUNDS", "16"))
"""In half of them one process is killed, in a quarter two; ``scripts/fuzz`` makes many more."""
WORKERS = 3
"""On a server of databases, where several may work; a file has one."""
PEOPLE = 120
LONG_SECONDS = 4 * PATIENCE_SECONDS
"""Each process takes seconds to start, and is started dozens of times beside the others."""


class Process:
    """One of Cadrin's processes, started, killed without warning, and started again."""

    def __init__(self, *arguments: str, **environment: str) -> None:
        self._arguments = [sys.executable, *arguments]
        self._environment = {**os.environ, **environment}
        self.start()

    def start(self) -> None:
        self._process = subprocess.Popen(self._arguments, env=self._environment, cwd=settings.ROOT)

    def kill(self) -> None:
        self._process.send_signal(signal.SIGKILL)
        self._process.wait()


class Killed(TransactionTestCase):
    def setUp(self) -> None:
        self.random = Random(37)
        self.house = House()
        self.house.use_standins()
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        setup = Path(folder.name) / "setup.json"
        setup.write_text(json.dumps({"bench_key": BENCH_KEY, "controllers": self.house.setups()}))
        port = str(free_port())
        self.url = f"http://127.0.0.1:{port}"
        self.standins = Process(
            "-m",
            "cadrin.standins",
            "--port",
            port,
            "--setup",
            str(setup),
            "--memory",
            f"{folder.name}/memory",
        )
        self.addCleanup(self.standins.kill)
        self.workers = [self.a_worker() for _ in range(WORKERS if settings.IS_SHARED else 1)]

    def a_worker(self) -> Process:
        worker = Process(
            "manage.py", "work", CADRIN_DATABASE=database_of_tests(), CADRIN_STANDINS=self.url
        )
        self.addCleanup(worker.kill)
        return worker

    def any_worker(self) -> Process:
        return self.random.choice(self.workers)

    def held(self, controller_id: int) -> dict[str, str]:
        wire = Wire(
            f"{self.url}/controllers/{controller_id}",
            key_of_controller(controller_id),
            anywhere=True,
        )
        try:
            return {str(key): one for key, one in wire.digests()[1].items()}
        finally:
            wire.close()

    def slow_down(self, seconds: float) -> None:
        for controller in (self.house.north, self.house.south):
            with suppress(httpx.HTTPError):
                httpx.patch(
                    f"{self.url}/bench/controllers/{controller.pk}",
                    json={"delay_seconds": seconds},
                    headers=bench_headers(),
                )

    def acts(self, ids: list[int]) -> Iterator[None]:
        """Do what operators do, again and again: people, groups, doors and hours."""
        house, random = self.house, self.random
        while True:
            for id_ in random.sample(ids, 12):
                version = Cardholder.objects.values_list("version", flat=True).get(pk=id_)
                draft = house.draft(
                    f"M-{ids.index(id_)}",
                    standing=random.choice(
                        [Standing.ACTIVE, Standing.SUSPENDED, Standing.DEPARTED]
                    ),
                    expiry_at=random.choice([None, NOON + DAY, NOON + 9 * DAY]),
                )
                groups = random.sample([house.day_group.pk, house.boats.pk], random.randrange(3))
                draft = replace(
                    draft,
                    cards=(house.card(10_000 + ids.index(id_)),),
                    memberships=tuple(MembershipDraft(group) for group in groups),
                    version=version,
                )
                save_cardholder(house.actor, id_, draft, NOON)
            yield
            add_people(house.actor, house.boats.pk, random.sample(ids, 40), NOON)
            yield
            boats = AccessGroup.objects.get(pk=house.boats.pk)
            doors = random.sample([house.gate, house.lab, house.slip], random.randrange(1, 4))
            grants = tuple(
                GrantDraft(door.pk, random.choice([house.office.pk, house.always.pk]))
                for door in doors
            )
            save_group(house.actor, boats.pk, GroupDraft("Boats", "", grants, boats.version), NOON)
            yield

    def test_at_random_moments_and_in_the_end_all_is_held(self) -> None:
        ids = self.house.enrol_many(PEOPLE)
        self.house.mark_everything()
        acts = self.acts(ids)
        faults = (
            lambda: self.kill(acts, self.any_worker()),
            lambda: self.kill(acts, self.standins),
            lambda: self.kill(acts, self.any_worker(), self.standins),
            self.empty_one,
        )
        for turn in range(ROUNDS):
            self.slow_down(self.random.choice([0.0, 0.05, 0.3]))
            for _ in range(self.random.randrange(1, 4)):
                next(acts)
            until(self.marks_are_taken, "the worker is at work", LONG_SECONDS)
            next(acts)
            time.sleep(self.random.random() * 0.6)  # the moment is the test's own
            faults[turn % len(faults)]()
        until(self.standins_answer, "the stand-ins answer again")
        self.slow_down(0.0)

        # a controller that was emptied a moment ago is found within a second: until then the
        # database cannot know
        until(self.all_is_held, lambda: f"everything is held; {self.what_is_amiss()}", LONG_SECONDS)

        self.assertGreater(len(self.held(self.house.north.pk)), 10)

    def all_is_held(self) -> bool:
        """Say that the worker thinks that all is held, and that each controller holds it."""
        if Mark.objects.exists() or Record.objects.exclude(state=RecordState.HELD).exists():
            return False
        both = (self.house.north, self.house.south)
        return all(self.held(controller.pk) == wanted_anew(controller.pk) for controller in both)

    def what_is_amiss(self) -> str:
        """Tell the state of the records, and how far what each controller holds is from what it
        should.
        """
        states = dict(Record.objects.values_list("state").annotate(Count("id")).order_by())
        told = [f"{Mark.objects.count()} marks, records {states}"]
        for controller in (self.house.north, self.house.south):
            held, wanted = self.held(controller.pk), wanted_anew(controller.pk)
            other = sum(1 for key, one in wanted.items() if key in held and held[key] != one)
            told.append(
                f"{controller.name}: {len(wanted)} wanted, {len(held)} held, {other} other, "
                f"{len(wanted.keys() - held.keys())} lacking, {len(held.keys() - wanted.keys())} too many"
            )
        return "; ".join(told)

    def marks_are_taken(self) -> bool:
        """Say that the worker has come so far that records are on their way."""
        return not Mark.objects.exists()

    def kill(self, acts: Iterator[None], *processes: Process) -> None:
        for process in processes:
            process.kill()
            next(acts)
            process.start()

    def empty_one(self) -> None:
        """Empty a controller as a factory reset does, whatever is on its way to it."""
        until(self.standins_answer, "the stand-ins answer")
        controller = self.random.choice([self.house.north, self.house.south])
        httpx.delete(
            f"{self.url}/bench/controllers/{controller.pk}/store",
            timeout=LONG_SECONDS,
            headers=bench_headers(),
        ).raise_for_status()

    def standins_answer(self) -> bool:
        with suppress(httpx.HTTPError):
            return httpx.get(f"{self.url}/bench", headers=bench_headers()).is_success
        return False

"""A controller out of its box: it is found, takes the first key, and is told its readers by their plugs."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

import httpx

from cadrin.core.access.plan import AccessGroup, Plan
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.tests.builders import a_card, a_holder, a_plan, a_read
from cadrin.standins.boxes import FIRST_NUMBER
from tests.running import StandIns, Talking

KEY, OTHERS = bytes(range(32)), bytes(32)
READER = 57
HOLDER = RecordKey(RecordKind.CARDHOLDER, 1)


def plan_with_plug(plug: int) -> Plan:
    """Return a plan with one reader, which is plugged in somewhere."""
    plan = a_plan()
    door = next(iter(plan.door_of_reader.values()))
    groups = {
        id_: AccessGroup(id_, group.name, {door: group.schedules_of_door[door]})
        for id_, group in plan.groups.items()
        if door in group.schedules_of_door
    }
    return Plan(plan.schedules, groups, plan.formats, {READER: door}, plugs={READER: plug})


class OutOfItsBox(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.start()
        self.number = int(self.standins.ask("POST", "/bench/controllers")["number"])

    def start(self) -> None:
        self.standins = StandIns([], self.folder)
        self.addCleanup(self.standins.stop)

    def claim(self, key: bytes) -> int:
        path = f"/controllers/{self.number}/claim"
        return self.standins.client.post(path, json={"key": key.hex()}).status_code

    def said(self, method: str, path: str, body: Any = None) -> dict[str, Any]:
        """Say something to it as whoever has its key does."""
        path = f"/controllers/{self.number}/{path}"
        talking = Talking(f"{self.standins.url}/controllers/{self.number}", KEY)
        answer = self.standins.client.request(method, path, json=body, auth=talking)
        answer.raise_for_status()
        found: dict[str, Any] = answer.json()
        return found

    def found(self) -> list[tuple[int, bool]]:
        told = self.standins.ask("GET", "/search")["controllers"]
        return [(one["number"], one["is_claimed"]) for one in told]

    def test_is_found_before_and_after_it_is_claimed(self) -> None:
        self.assertEqual(self.found(), [(FIRST_NUMBER, False)])
        self.assertEqual(self.claim(KEY), 200)
        self.assertEqual(self.found(), [(FIRST_NUMBER, True)])

    def test_takes_the_first_key_and_no_other(self) -> None:
        self.assertEqual([self.claim(key) for key in (KEY, OTHERS, KEY)], [200, 409, 200])

    def test_says_and_takes_nothing_before(self) -> None:
        answer = self.standins.client.get(f"/controllers/{self.number}/state")
        self.assertEqual(answer.status_code, 404)
        self.assertEqual(self.claim(b""), 404)

    def test_decides_at_the_reader_that_is_plugged_in(self) -> None:
        self.claim(KEY)
        here = plan_with_plug(3)
        bodies = {**plan_records(here), HOLDER: encode_cardholder(a_holder(), here) or {}}
        put = [(str(key), body) for key, body in bodies.items()]
        self.assertEqual(self.said("POST", "records", {"put": put, "remove": []})["refused"], {})

        shown = self.standins.show(READER, str(a_read(a_card())))

        self.assertEqual((shown["reader"], shown["reader_name"]), (READER, "reader 3"))
        (told,) = self.standins.ask("GET", "/bench")["controllers"]
        self.assertEqual(
            [(one["id"], one["has_keypad"]) for one in told["readers"]], [(READER, True)]
        )

    def test_knows_no_reader_that_it_was_not_told_of(self) -> None:
        self.claim(KEY)
        with self.assertRaises(httpx.HTTPStatusError):
            self.standins.show(READER, str(a_read(a_card())))

    def test_is_as_new_once_it_is_emptied(self) -> None:
        self.claim(KEY)
        self.standins.empty(self.number)

        self.assertEqual(self.found(), [(FIRST_NUMBER, False)])
        self.assertEqual(self.claim(OTHERS), 200)

    def test_still_knows_its_key_after_a_power_cut(self) -> None:
        self.claim(KEY)
        self.standins.stop()
        self.start()

        self.assertEqual(self.claim(OTHERS), 409)
        self.assertEqual(self.said("GET", "digests")["digests"], {})

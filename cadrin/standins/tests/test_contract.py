"""What Cadrin may rely on from any controller; a real one's adapter would have to pass the same."""

import json
import sqlite3
from base64 import urlsafe_b64encode
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

from cryptography.fernet import Fernet
from hypothesis import given, settings
from hypothesis import strategies as st

from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import Evidence, ReaderPolicy
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import Body, RecordKey, RecordKind, digest, sum_of
from cadrin.core.records.plan_records import plan_records
from cadrin.core.tests.builders import (
    FRONT_READER,
    LAB_READER,
    MONDAY_NOON,
    TYPED,
    Asks,
    a_card,
    a_holder,
    a_pin,
    a_plan,
    a_read,
)
from cadrin.core.validity import Standing
from cadrin.standins.controller import Controller, Setup
from tests.running import StandIns, Talking

READERS = {FRONT_READER: "Front", LAB_READER: "Lab"}
HOLDER = RecordKey(RecordKind.CARDHOLDER, 1)
CARD = str(a_read(a_card()))
KEY = bytes(range(32))
JSON = {"Content-Type": "application/json"}


def everything() -> dict[str, Body]:
    bodies = {str(key): body for key, body in plan_records(a_plan()).items()}
    return bodies | {str(HOLDER): encode_cardholder(a_holder(), a_plan()) or {}}


class AController(TestCase):
    def setUp(self) -> None:
        one = {
            "id": 1,
            "name": "One",
            "readers": READERS,
            "keypads": (FRONT_READER,),
            "key": KEY.hex(),
        }
        small = {
            "id": 2,
            "name": "Small",
            "readers": {},
            "capacity": 1,
            "most_cards": 1,
            "key": KEY.hex(),
        }
        self.standins = standins = StandIns([one, small])
        self.addCleanup(standins.stop)
        self.client = standins.client
        self.talking = {id_: standins.talking(id_) for id_ in (1, 2)}

    def put(
        self, *records: tuple[str, Body], remove: tuple[str, ...] = (), controller: int = 1
    ) -> dict[str, Any]:
        body = {"put": records, "remove": remove}
        answer = self.client.post(
            f"/controllers/{controller}/records", json=body, auth=self.talking[controller]
        )
        answer.raise_for_status()
        return dict(answer.json())

    def get(self, path: str, **params: Any) -> dict[str, Any]:
        answer = self.client.get(f"/controllers/1/{path}", params=params, auth=self.talking[1])
        return dict(answer.raise_for_status().json())

    def show(self, raw: str = CARD, reader: int = FRONT_READER) -> dict[str, Any]:
        return dict(
            self.client.post("/bench/reads", json={"reader": reader, "raw": raw})
            .raise_for_status()
            .json()
        )

    def test_answers_with_the_digest_of_everything_it_took(self) -> None:
        answer = self.put(*everything().items())

        expected = {
            text: digest(RecordKey.parse(text), body) for text, body in everything().items()
        }
        self.assertEqual((answer["held"], answer["refused"]), (expected, {}))
        self.assertEqual(self.get("digests")["digests"], expected)
        self.assertEqual(self.get("state")["sum"], sum_of(expected.values()))

    def test_decides_from_the_records_it_holds_and_keeps_the_event_until_it_was_fetched(
        self,
    ) -> None:
        before = self.show()
        self.put(*everything().items())
        after = self.show()

        self.assertEqual((before["reason"], after["reason"]), ("unknown_reader", "granted"))
        store = self.get("state")["store"]
        first = self.get("events", store=store, after=0)["events"]
        self.assertEqual([event["number"] for event in first], [1, 2])
        self.assertEqual(
            [e["number"] for e in self.get("events", store=store, after=1)["events"]], [2]
        )
        self.assertEqual(self.get("events", store=store, after=2)["events"], [])
        self.show()
        self.assertEqual(
            [e["number"] for e in self.get("events", store=store, after=2)["events"]], [3]
        )

    def test_a_door_stays_open_longer_for_whoever_needs_it(self) -> None:
        self.put(*everything().items())
        plain = self.show()
        slow = replace(a_holder(), extended_time=True)
        self.put((str(HOLDER), encode_cardholder(slow, a_plan()) or {}))

        self.assertEqual((plain["open_seconds"], self.show()["open_seconds"]), (5, 20))
        self.put(
            (
                str(HOLDER),
                encode_cardholder(replace(slow, standing=Standing.BARRED), a_plan()) or {},
            )
        )
        self.assertEqual(self.show()["open_seconds"], 0)

    def test_a_keypad_takes_pins_rests_after_wrong_ones_and_keeps_no_digit(self) -> None:
        asking = a_plan({FRONT_READER: ReaderPolicy(Asks.CARD_AND_PIN)})
        self.put(*((str(key), body) for key, body in plan_records(asking).items()))
        self.put((str(HOLDER), encode_cardholder(a_holder(pins=(a_pin(),)), asking) or {}))

        def type_in(digits: str) -> str:
            body = {"reader": FRONT_READER, "raw": CARD, "typed": digits}
            return str(
                self.client.post("/bench/reads", json=body).raise_for_status().json()["reason"]
            )

        self.assertEqual(type_in(TYPED[1]), "granted")
        tries = [type_in("000000") for _ in range(4)]
        self.assertEqual(tries, ["pin_wrong", "pin_wrong", "pin_wrong", "keypad_locked"])
        self.assertEqual(type_in(TYPED[1]), "keypad_locked")
        events = self.get("events", store=self.get("state")["store"], after=0)["events"]
        self.assertEqual([event["factors"] for event in events], [["card", "pin"]] * 6)
        self.assertNotIn(TYPED[1], str(events))
        without = self.client.post(
            "/bench/reads", json={"reader": LAB_READER, "raw": CARD, "typed": "1"}
        )
        self.assertEqual(without.status_code, 400)

    def test_a_card_with_a_use_limit_stops_and_the_count_outlives_a_new_record(self) -> None:
        self.put(*everything().items())
        card = replace(a_card(), limit=UseLimit(2, MONDAY_NOON))
        body = encode_cardholder(a_holder(cards=(card,)), a_plan()) or {}
        self.put((str(HOLDER), body))

        self.assertEqual([self.show()["reason"] for _ in range(2)], ["granted", "granted"])
        self.put((str(HOLDER), body))

        self.assertEqual(self.show()["reason"], "card_used_up")

    def test_one_that_keeps_few_cards_of_a_cardholder_says_so(self) -> None:
        two = encode_cardholder(a_holder(cards=(a_card(1), a_card(2))), a_plan()) or {}

        self.assertEqual(
            self.put((str(HOLDER), two), controller=2)["refused"], {str(HOLDER): "too_many_cards"}
        )

    def test_a_number_of_another_memory_forgets_nothing(self) -> None:
        self.show()

        self.assertEqual(len(self.get("events", store="of another", after=99)["events"]), 1)

    def test_refuses_what_it_cannot_read_and_whoever_does_not_fit_and_takes_the_rest(self) -> None:
        holder = everything()[str(HOLDER)]
        answer = self.put(
            (str(HOLDER), holder),
            ("cardholder:2", holder),
            ("group:7", {"no": "grants"}),
            ("what:1", {}),
            controller=2,
        )

        self.assertEqual(set(answer["held"]), {str(HOLDER)})
        self.assertEqual(
            answer["refused"],
            {"cardholder:2": "full", "group:7": "unknown_field:no", "what:1": "not_readable"},
        )

    def test_one_that_is_off_answers_nothing_and_its_doors_do_nothing(self) -> None:
        self.get("state")
        self.client.patch("/bench/controllers/1", json={"is_on": False})

        self.assertEqual(
            self.client.get("/controllers/1/state", auth=self.talking[1]).status_code, 503
        )
        self.assertEqual(
            self.client.get("/controllers/1/digests", auth=self.talking[1]).status_code, 503
        )
        self.assertEqual(self.show(), {"is_on": False})

    def test_one_that_was_emptied_holds_nothing_and_says_that_it_is_another_memory(self) -> None:
        self.put(*everything().items())
        before = self.get("state")

        self.client.delete("/bench/controllers/1/store")

        after = self.get("state")
        self.assertNotEqual(after["store"], before["store"])
        self.assertEqual((after["held"], after["sum"]), (0, sum_of([])))

    def test_listens_to_nobody_who_has_not_its_key_and_says_how_often_it_did_not(self) -> None:
        forged: dict[str, Callable[[], Any]] = {
            "unsigned": lambda: self.client.get("/controllers/1/state"),
            "signed with another key": lambda: self.client.get(
                "/controllers/1/state", auth=another
            ),
            "from a web page": lambda: self.client.post(
                "/controllers/1/records",
                content='{"remove": ["reader:1"]}',
                headers={"Content-Type": "text/plain"},
            ),
        }
        another = Talking(f"{self.standins.url}/controllers/1", bytes(32))
        for name, ask in forged.items():
            with self.subTest(name):
                self.assertEqual(ask().status_code, 401)

        self.assertEqual(self.get("state")["forged"], 3)

    def test_listens_to_nothing_a_second_time_or_that_was_changed_on_the_way(self) -> None:
        put = self.client.post(
            "/controllers/1/records", json={"put": []}, auth=self.talking[1]
        ).request

        again = self.client.send(put)
        changed = self.client.build_request(
            "POST", put.url, content=b'{"remove": ["reader:1"]}', headers=put.headers
        )
        changed.headers["Content-Length"] = str(len(changed.content))

        self.assertEqual((again.status_code, again.json()["refused"]), (401, "replayed"))
        self.assertEqual(self.client.send(changed).json()["refused"], "forged")
        told = self.get("state")
        self.assertEqual((told["forged"], told["replayed"]), (1, 1))

    def test_the_bench_is_for_whoever_has_its_key(self) -> None:
        read = {"reader": FRONT_READER, "raw": CARD}
        for name, headers in {
            "none": {"Authorization": ""},
            "a wrong one": {"Authorization": "Bearer no"},
        }.items():
            with self.subTest(name):
                self.assertEqual(
                    self.client.post("/bench/reads", json=read, headers=headers).status_code, 401
                )

        self.assertEqual(
            self.get("events", store=self.get("state")["store"], after=0)["events"], []
        )

    def test_nonsense_is_refused_and_changes_nothing(self) -> None:
        talk, deep = self.talking[1], "[" * 200_000
        asks: dict[str, Callable[[], Any]] = {
            "not JSON": lambda: self.client.post(
                "/controllers/1/records", content="{", auth=talk, headers=JSON
            ),
            "nested": lambda: self.client.post(
                "/controllers/1/records", content=deep, auth=talk, headers=JSON
            ),
            "not an object": lambda: self.client.post(
                "/controllers/1/records", json=[1], auth=talk
            ),
            "not records": lambda: self.client.post(
                "/controllers/1/records", json={"put": [1]}, auth=talk
            ),
            "no read": lambda: self.client.post(
                "/bench/reads", json={"reader": FRONT_READER, "raw": "26:ZZ"}
            ),
            "no number": lambda: self.client.get(
                "/controllers/1/events", params={"after": "x"}, auth=talk
            ),
        }
        for name, ask in asks.items():
            with self.subTest(name):
                self.assertEqual(ask().status_code, 400)
        self.assertEqual(self.client.get("/controllers/9/state").status_code, 404)
        self.assertEqual(self.get("state")["held"], 0)


class AMemory(TestCase):
    def test_that_was_changed_by_hand_says_what_lies_in_it(self) -> None:
        with TemporaryDirectory() as folder:
            path = Path(folder) / "memory.sqlite3"
            controller = Controller(Setup(1, "One", READERS, KEY), path)
            controller.take(everything().items(), [])
            before = controller.state()["sum"]
            body = {**everything()[str(HOLDER)], "standing": "barred"}

            with sqlite3.connect(path) as by_hand:
                by_hand.execute(
                    "UPDATE held SET body = ? WHERE key = ?", [json.dumps(body), str(HOLDER)]
                )

            self.assertNotEqual(controller.state()["sum"], before)
            self.assertEqual(controller.digests()[str(HOLDER)], digest(HOLDER, body))
            controller.close()
            by_hand.close()

    def test_holds_nothing_that_was_typed_in_the_clear(self) -> None:
        with TemporaryDirectory() as folder:
            path = Path(folder) / "memory.sqlite3"
            desk = Controller(
                Setup(1, "Desk", READERS, KEY, keypads=(FRONT_READER,), is_desk=True), path
            )

            desk.present(FRONT_READER, Evidence(typed=TYPED[1]))

            lying = b"".join(file.read_bytes() for file in Path(folder).iterdir())
            self.assertNotIn(TYPED[1].encode(), lying)
            (event,) = desk.events("", 0)
            self.assertEqual(
                Fernet(urlsafe_b64encode(KEY)).decrypt(event["typed"]).decode(), TYPED[1]
            )
            desk.close()

    @settings(max_examples=40)
    @given(
        st.lists(
            st.tuples(st.sampled_from(["put", "remove"]), st.integers(1, 3), st.integers(1, 3)),
            max_size=12,
        )
    )
    def test_after_a_power_cut_it_holds_and_decides_as_before(
        self, acts: list[tuple[str, int, int]]
    ) -> None:
        with TemporaryDirectory() as folder:
            path = Path(folder) / "memory.sqlite3"
            before = Controller(Setup(1, "One", READERS, KEY), path)
            before.take(
                [(text, body) for text, body in everything().items() if text != str(HOLDER)], []
            )
            for act, id_, card in acts:
                body = encode_cardholder(a_holder(id_=id_, cards=(a_card(card),)), a_plan()) or {}
                before.take(
                    [(f"cardholder:{id_}", body)] if act == "put" else [], [f"cardholder:{id_}"]
                )

            # the memory is opened a second time, as it lies on the disk
            after = Controller(Setup(1, "One", READERS, KEY), path)

            self.assertEqual(
                (after.digests(), after.state()["sum"]), (before.digests(), before.state()["sum"])
            )
            for card in (1, 2, 3):
                for at in (MONDAY_NOON, MONDAY_NOON + timedelta(hours=9)):
                    asked = (LAB_READER, Evidence(a_read(a_card(card))), at)
                    self.assertEqual(after.rehearse(*asked), before.rehearse(*asked))
            before.close()
            after.close()

"""Between Cadrin and its controllers: nothing that is said there, by whomever, stops or fools
Cadrin.
"""

import json
import socket
import sqlite3
import threading
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest.mock import patch

from django.test import TestCase, override_settings

from cadrin.activity.commands.reads import take_events
from cadrin.activity.models import Read
from cadrin.core.decision.events import Event
from cadrin.delivery import wire as wires
from cadrin.delivery.commands import check_controller
from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.delivery.line import Line
from cadrin.delivery.models import Incident, Link, Record
from cadrin.delivery.wanted import take_marks
from cadrin.delivery.wire import NoAnswer, Wire, device_at
from cadrin.desk.queries import deliveries_in_trouble
from cadrin.sites.controller_keys import key_of_controller
from tests.house import ANYBODY, NOON, House
from tests.running import BENCH_KEY, StandIns, bench_headers

KEY = bytes(range(32))


def utc_now() -> datetime:
    return datetime.now(UTC)


class WithALine(TestCase):
    """A house whose north controller has a line, round by round."""

    def setUp(self) -> None:
        self.house = House()
        self.house.use_standins()
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.standins = StandIns(self.house.setups(), self.folder)
        self.addCleanup(self.standins.stop)
        found = override_settings(STANDINS_URL=self.standins.url, STANDINS_KEY=BENCH_KEY)
        found.enable()
        self.addCleanup(found.disable)
        self.north = self.house.north.pk
        self.wire = Wire(self.house.north.address, key_of_controller(self.north))
        self.addCleanup(self.wire.close)
        self.line = Line(self.north, self.wire, take_events)

    def rounds(self, count: int = 12) -> bool:
        while take_marks(NOON):
            pass
        return [self.line.turn(utc_now) for _ in range(count)][-1]

    def incidents(self) -> list[str]:
        return list(
            Incident.objects.filter(controller_id=self.north)
            .order_by("id")
            .values_list("kind", flat=True)
        )


class WhatAControllerTells(WithALine):
    def tell(self, *events: dict[str, Any]) -> None:
        """Let the controller have kept these events, whatever they are."""
        with sqlite3.connect(self.folder / f"{self.north}.sqlite3") as memory:
            memory.executemany(
                "INSERT INTO event (body) VALUES (?)", [(json.dumps(event),) for event in events]
            )
        memory.close()

    def test_that_cannot_be_read_is_shown_and_blocks_nothing_after_it(self) -> None:
        good = {
            "at": NOON.isoformat(),
            "reader": self.house.gate_reader.pk,
            "raw": "26:1",
            "reason": "unknown_card",
        }
        self.tell(
            good,
            {**good, "reason": "because"},
            {**good, "at": "yesterday"},
            {**good, "at": "2026-06-01T12:00:00"},  # of no zone
            {**good, "reader": 2**70},
            {**good, "raw": "x" * 5000},
            {**good, "card": [1, 2]},
            {"nothing": True},
            good,
        )

        self.assertTrue(self.rounds(3))

        reads = list(Read.objects.order_by("event_number").values_list("reason", "unreadable"))
        self.assertEqual([bool(text) for _, text in reads], [False, *[True] * 7, False])
        self.assertEqual((reads[0][0], reads[-1][0]), ("unknown_card", "unknown_card"))
        self.assertIn("because", reads[1][1])
        self.assertEqual(
            Link.objects.get(controller=self.north).last_event, 9, "and it may forget them"
        )
        self.assertEqual(self.incidents(), [IncidentKind.UNREADABLE])
        (told,) = deliveries_in_trouble(ANYBODY, utc_now()).rows[:1]
        self.assertEqual((told["id"], told["incidents"][0]["count"]), (self.north, 7))

    def test_that_the_database_does_not_take_is_put_aside_too(self) -> None:
        good = {
            "at": NOON.isoformat(),
            "reader": self.house.gate_reader.pk,
            "raw": "26:1",
            "reason": "unknown_card",
        }
        self.tell(good, {**good, "name": "cannot be written"}, good)

        def refusing(controller_id: int, store: str, events: Any, at: datetime, off: int) -> None:
            if any(isinstance(event, Event) and event.name for event in events):
                raise ArithmeticError("whatever nobody foresaw")
            take_events(controller_id, store, events, at, off)

        self.line = Line(self.north, self.wire, refusing)
        self.rounds(3)

        self.assertEqual(
            [bool(read.unreadable) for read in Read.objects.order_by("event_number")],
            [False, True, False],
        )


class AMemoryChangedByHand(WithALine):
    def setUp(self) -> None:
        super().setUp()
        self.id_ = self.house.enrol()
        self.house.mark_everything()
        self.rounds()

    def by_hand(self, sql: str, *values: object) -> None:
        with sqlite3.connect(self.folder / f"{self.north}.sqlite3") as memory:
            memory.execute(sql, values)
        memory.close()

    def assert_held(self) -> None:
        wanted = {
            f"{r.kind}:{r.subject_id}": r.wanted
            for r in Record.objects.filter(controller=self.north)
        }
        self.assertEqual(self.standins.digests(self.north), wanted)

    def test_is_found_mended_and_told(self) -> None:
        body = json.dumps({"number": "S-9", "name": "Nobody", "standing": "active"})
        acts: dict[str, tuple[Callable[[], None], IncidentKind]] = {
            "beneath its digest": (
                lambda: self.by_hand(
                    "UPDATE held SET body = ? WHERE key = ?", body, f"cardholder:{self.id_}"
                ),
                IncidentKind.CHANGED,
            ),
            "a record nobody sent": (
                lambda: self.by_hand(
                    "INSERT INTO held (key, body) VALUES ('cardholder:999', ?)", body
                ),
                IncidentKind.STRAY,
            ),
        }
        for name, (act, kind) in acts.items():
            with self.subTest(name):
                act()
                self.rounds()
                self.assert_held()
                self.assertEqual(self.incidents()[-1], kind)

    def test_is_compared_when_somebody_asks_for_it(self) -> None:
        with patch.object(self.wire, "digests", wraps=self.wire.digests) as compared:
            check_controller(self.house.actor, self.north, NOON)
            self.rounds(2)

        self.assertEqual(compared.call_count, 1)


class ChangedOnTheWay(Wire):
    """A line on which somebody turns what a controller answers into something else."""

    def _exchange(self, *asked: Any) -> tuple[int, str, bytes]:
        status, told, answer = super()._exchange(*asked)
        return status, told, answer.replace(b'"held"', b'"hold"')


class Forged(WithALine):
    def test_messages_to_a_controller_are_refused_counted_and_told(self) -> None:
        self.rounds(2)
        url = f"{self.standins.url}/controllers/{self.north}/records"
        signed = self.standins.client.post(
            url, json={"put": []}, auth=self.standins.talking(self.north)
        )

        self.standins.client.post(url, json={"remove": ["reader:1"]})
        self.standins.client.request(
            "POST", url, content=signed.request.content, headers=signed.request.headers
        )
        self.rounds(2)

        self.assertEqual(self.incidents(), [IncidentKind.FORGED, IncidentKind.REPLAYED])
        self.assertTrue(deliveries_in_trouble(ANYBODY, utc_now()).rows)

    def test_answers_are_not_taken_for_a_controllers_own(self) -> None:
        another = Wire(self.house.north.address, KEY)
        self.addCleanup(another.close)

        with self.assertRaisesMessage(NoAnswer, "forged_answer"):
            another.digests()

        changed = ChangedOnTheWay(self.house.north.address, key_of_controller(self.north))
        self.addCleanup(changed.close)
        with self.assertRaisesMessage(NoAnswer, "forged_answer"):
            changed.digests()

    def test_reads_at_the_bench_need_its_key(self) -> None:
        read = {"reader": self.house.gate_reader.pk, "raw": "26:1"}
        without = {**bench_headers(), "Authorization": "", "Origin": "http://elsewhere.example"}

        answer = self.standins.client.post("/bench/reads", json=read, headers=without)
        self.rounds(2)

        self.assertEqual((answer.status_code, Read.objects.count()), (401, 0))

    def test_a_conversation_goes_on_after_the_controller_was_started_anew(self) -> None:
        self.rounds(2)
        self.standins.stop()
        self.standins = StandIns(self.house.setups(), self.folder)
        self.addCleanup(self.standins.stop)

        with override_settings(STANDINS_URL=self.standins.url):
            self.line.turn(utc_now)
            self.assertTrue(self.line.turn(utc_now))

        self.assertEqual(self.incidents(), [])


class Answering(ThreadingHTTPServer):
    """Something at a controller's address that answers as it likes."""

    daemon_threads = True

    def __init__(self, write: Callable[[Any], None]) -> None:
        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                self.rfile.read(int(self.headers.get("Content-Length", 0)))
                self.send_response(200)
                self.end_headers()
                with suppress(OSError):  # it is not listened to any longer
                    write(self.wfile)

            do_GET = do_POST  # noqa: N815 - the library's name

            def log_message(self, *_: Any) -> None:
                pass

        super().__init__(("127.0.0.1", 0), Handler)
        threading.Thread(target=self.serve_forever, daemon=True).start()


class Bounds(TestCase):
    def failure(self, write: Callable[[Any], None]) -> str:
        server = Answering(write)
        wire = Wire(f"http://127.0.0.1:{server.server_address[1]}", KEY, anywhere=True)
        try:
            with self.assertRaises(NoAnswer) as failed:
                wire.digests()
            return str(failed.exception)
        finally:
            wire.close()
            server.shutdown()
            server.server_close()

    def test_only_a_device_is_spoken_to_wherever_its_name_leads_by_now(self) -> None:
        asked: list[str] = []
        server = Answering(lambda file: asked.append("asked"))
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        port = server.server_address[1]
        for leads_to in ("127.0.0.1", "169.254.169.254", "::1", "::ffff:127.0.0.1"):
            found = [(socket.AF_INET, socket.SOCK_STREAM, 6, "", (leads_to, port))]
            with patch("cadrin.delivery.wire.socket.getaddrinfo", return_value=found):
                wire = Wire(f"http://gatehouse.example:{port}", KEY)
                with self.assertRaises(NoAnswer) as refused:
                    wire.digests()
                wire.close()
            self.assertEqual(str(refused.exception), "not_a_device")
        self.assertEqual(asked, [])
        at_home = [(socket.AF_INET, socket.SOCK_STREAM, 6, "", ("10.1.2.3", 80))]
        with patch("cadrin.delivery.wire.socket.getaddrinfo", return_value=at_home):
            self.assertEqual(
                device_at("http://gatehouse.example/north"),
                ("http://10.1.2.3:80/north", "gatehouse.example"),
            )

    def test_of_size_and_time_and_depth_hold_for_every_answer(self) -> None:
        stop = threading.Event()
        self.addCleanup(stop.set)

        def drip(file: Any) -> None:
            while not stop.wait(0.05):
                file.write(b" ")
                file.flush()

        def flood(file: Any) -> None:
            for _ in range(400):
                file.write(b"x" * 2**20)

        with patch.object(wires, "TIMEOUT_SECONDS", 1.0):
            dripping = self.failure(drip)
        with patch.object(wires, "LARGEST_ANSWER_BYTES", 2**22):
            found = {
                "floods": self.failure(flood),
                "is nested": self.failure(lambda file: file.write(b"[" * 200_000)),
                "is no JSON": self.failure(lambda file: file.write(b"<html>")),
                "is a list": self.failure(lambda file: file.write(b"[]")),
            }

        self.assertEqual(dripping.partition(":")[0], "too_slow")
        self.assertEqual(found["floods"], "too_large")
        self.assertEqual(
            {found[name] for name in ("is nested", "is no JSON", "is a list")}, {"not_readable"}
        )

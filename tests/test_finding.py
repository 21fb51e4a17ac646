"""Looking for controllers and giving one its key: what answers may be anything at all."""

import json
import threading
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from django.test import TestCase, override_settings

from cadrin.core.errors import Invalid
from cadrin.delivery import wire
from cadrin.delivery.finding import claim, search
from cadrin.sites.commands.controllers import Plug
from tests.house import House

KEY = bytes(range(32))
PLUG = {"number": 1, "name": "reader 1", "devices": ["keypads", "unheard of"]}


class Peer:
    """Something that listens on loopback, and answers what a test says."""

    def __init__(self, status: int, body: bytes, headers: dict[str, str] | None = None) -> None:
        peer = self
        self.asked: list[tuple[str, str, bytes]] = []

        class Handler(BaseHTTPRequestHandler):
            def answer(self) -> None:
                length = int(self.headers.get("Content-Length", 0))
                peer.asked.append((self.command, self.path, self.rfile.read(length)))
                self.send_response(status)
                for name, value in (headers or {}).items():
                    self.send_header(name, value)
                self.end_headers()
                self.wfile.write(body)

            do_GET = do_POST = answer  # noqa: N815 - the names that the library calls

            def log_message(self, *_: Any) -> None: ...

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.url = f"http://127.0.0.1:{self.server.server_address[1]}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def stop(self) -> None:
        self.server.shutdown()
        self.server.server_close()


class Peers(TestCase):
    def peer(self, body: Any, status: int = 200, headers: dict[str, str] | None = None) -> Peer:
        content = body if isinstance(body, bytes) else json.dumps(body).encode()
        peer = Peer(status, content, headers)
        self.addCleanup(peer.stop)
        return peer

    def refused(self, asked: Callable[[], object]) -> str:
        with self.assertRaises(Invalid) as caught:
            asked()
        self.assertEqual(caught.exception.problems[0].field, "address")
        return caught.exception.code

    def test_one_that_takes_the_key_tells_its_plugs(self) -> None:
        peer = self.peer({"plugs": [PLUG]})

        self.assertEqual(claim(peer.url, KEY), (Plug(1, "reader 1", has_keypad=True),))

        self.assertEqual(
            peer.asked, [("POST", "/claim", json.dumps({"key": KEY.hex()}, separators=(",", ":")).encode())]
        )  # fmt: skip

    def test_one_that_knows_somebody_else_is_called_so(self) -> None:
        peer = self.peer({}, 409)
        self.assertEqual(self.refused(lambda: claim(peer.url, KEY)), "controller.is_anothers")

    def test_whatever_else_answers_is_no_controller(self) -> None:
        bodies: tuple[Any, ...] = (
            b"", b"{", b"[]", b"null", b"[" * 2_000, {"plugs": {}}, {"plugs": "x"}, {"plugs": [7]},
            {"plugs": [{"number": "1"}]}, {"plugs": [{"number": True}]}, {"plugs": [{"number": -1}]},
            {"plugs": [{"number": 2**40}]}, {"plugs": [PLUG, PLUG]}, {"plugs": [PLUG] * 65},
            {"plugs": [PLUG | {"devices": 3}]},
        )  # fmt: skip
        for body in bodies:
            with self.subTest(body):
                peer = self.peer(body)
                self.assertEqual(
                    self.refused(lambda url=peer.url: claim(url, KEY)),  # type: ignore[misc]
                    "controller.no_answer",
                )

    def test_a_device_that_nobody_knows_is_passed_over(self) -> None:
        peer = self.peer({"plugs": [PLUG | {"devices": [["keypads"], "unheard of", None]}]})
        self.assertEqual(claim(peer.url, KEY), (Plug(1, "reader 1"),))

    def test_nobody_is_sent_on_to_another_place(self) -> None:
        secret = self.peer({"plugs": [PLUG]})
        peer = self.peer({}, 307, {"Location": f"{secret.url}/claim"})

        self.assertEqual(self.refused(lambda: claim(peer.url, KEY)), "controller.no_answer")
        self.assertEqual(secret.asked, [])

    def test_an_answer_without_end_is_not_read_to_its_end(self) -> None:
        peer = self.peer(b'{"plugs": [' + b" " * (wire.LARGEST_ANSWER_BYTES + 1))
        self.assertEqual(self.refused(lambda: claim(peer.url, KEY)), "controller.no_answer")

    def test_a_name_is_cut_and_one_that_is_here_is_known(self) -> None:
        house = House()
        told = [
            {"number": 1, "name": "N" * 500, "plugs": [], "is_claimed": True},
            {"number": 901, "name": "New", "plugs": [PLUG], "is_claimed": False},
        ]
        peer = self.peer({"controllers": told})
        with override_settings(STANDINS_URL=peer.url):
            found = search(house.actor)

        self.assertEqual(
            [(one.address, len(one.name), one.known_as) for one in found],
            [("standin:901", 3, ""), ("standin:1", 60, "North")],
        )

    def test_where_nothing_can_be_searched_it_says_so(self) -> None:
        house = House()
        with override_settings(STANDINS_URL=""), self.assertRaises(Invalid) as refused:
            search(house.actor)
        self.assertEqual(refused.exception.code, "controller.nothing_to_search")

"""Run the stand-ins and the worker within a test, as they are: over HTTP, in threads of
their own.
"""

import asyncio
import os
import socket
import threading
import time
from collections.abc import Callable, Generator, Iterable
from pathlib import Path
from typing import Any

import httpx
import uvicorn
from django.conf import settings
from django.db import connection

from cadrin.core.records.keys import Body, RecordKey
from cadrin.core.signing import conversation_key, request_parts, signature
from cadrin.delivery.wire import Sent, Wire
from cadrin.standins.app import application
from cadrin.standins.setup import setup_from
from cadrin.worker.worker import Worker


def _slowness() -> float:
    """Say how many times as slow as a desk this machine is now: 1 at least, 12 at most."""
    began = time.perf_counter()
    sum(place * place for place in range(300_000))
    return min(max((time.perf_counter() - began) / 0.02, 1.0), 12.0)


PATIENCE_SECONDS = float(os.environ.get("CADRIN_PATIENCE_SECONDS", 0)) or 20 * _slowness()
"""How long a test waits for what should come at once: seconds, and longer only where everything is
slower.
"""


def until(
    is_so: Callable[[], Any],
    what: str | Callable[[], str],
    patience_seconds: float = PATIENCE_SECONDS,
) -> Any:
    """Return the first answer that is true; fails after some seconds, with what was seen
    instead.
    """
    deadline = time.monotonic() + patience_seconds
    while not (answer := is_so()):
        if time.monotonic() > deadline:
            raise AssertionError(
                f"it never came to this: {what if isinstance(what, str) else what()}"
            )
        time.sleep(0.02)
    return answer


def free_port() -> int:
    """Return a port on loopback that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def database_of_tests() -> str:
    """Return the test's database as CADRIN_DATABASE names it, for processes that a test starts."""
    name = str(connection.settings_dict["NAME"])
    return f"{settings.DATABASE.rpartition('/')[0]}/{name}" if settings.IS_SHARED else name


BENCH_KEY = "the bench of a test"


def bench_headers() -> dict[str, str]:
    return {"Authorization": f"Bearer {BENCH_KEY}"}


class Talking(httpx.Auth):
    """Sign what a test says to a controller, word for word as it likes."""

    requires_request_body = requires_response_body = True

    def __init__(self, url: str, key: bytes) -> None:
        self._url, self._key, self._number = url, key, 0
        self._name, self._talk_key = "", b""

    def auth_flow(self, request: httpx.Request) -> Generator[httpx.Request, httpx.Response, None]:
        if not self._name:
            nonce = "of a test"
            told = (
                yield httpx.Request("POST", f"{self._url}/conversation", json={"nonce": nonce})
            ).json()
            self._name, self._talk_key = (
                told["conversation"],
                conversation_key(self._key, nonce, told["nonce"]),
            )
        self._number += 1
        target = request.url.raw_path.decode().split("/", 3)[3]
        parts = request_parts(
            self._name, self._number, request.method, f"/{target}", request.content
        )
        request.headers["X-Conversation"], request.headers["X-Number"] = (
            self._name,
            str(self._number),
        )
        request.headers["X-Signature"] = signature(self._talk_key, *parts)
        yield request


class StandIns:
    """The stand-ins of a house, on a port that is free; ``folder`` None keeps their memories in
    this process.

    ``setups`` are those of controllers, as a file has them.
    """

    def __init__(self, setups: Iterable[dict[str, Any]], folder: Path | None = None) -> None:
        told = list(setups)
        self._keys = {one["id"]: bytes.fromhex(one["key"]) for one in told}
        self._wires: dict[int, Wire] = {}
        listening = socket.socket()
        listening.bind(("127.0.0.1", 0))
        self.url = f"http://127.0.0.1:{listening.getsockname()[1]}"
        app = application(setup_from({"bench_key": BENCH_KEY, "controllers": told}), folder)
        config = uvicorn.Config(
            app, log_level="warning", access_log=False, lifespan="on", timeout_graceful_shutdown=1
        )
        self._server = uvicorn.Server(config)
        self._thread = threading.Thread(
            target=lambda: asyncio.run(self._server.serve([listening])), daemon=True
        )
        self._thread.start()
        self.client = httpx.Client(
            base_url=self.url, timeout=PATIENCE_SECONDS, trust_env=False, headers=bench_headers()
        )
        until(lambda: self._server.started, "the stand-ins listen")

    def stop(self) -> None:
        for wire in self._wires.values():
            wire.close()
        self.client.close()
        self._server.should_exit = True
        self._thread.join()

    def ask(self, method: str, path: str, body: Any = None) -> dict[str, Any]:
        answer = self.client.request(method, path, json=body)
        answer.raise_for_status()
        found: dict[str, Any] = answer.json()
        return found

    def show(self, reader_id: int, raw: str) -> dict[str, Any]:
        return self.ask("POST", "/bench/reads", {"reader": reader_id, "raw": raw})

    def switch(self, controller_id: int, **how: Any) -> None:
        self.ask("PATCH", f"/bench/controllers/{controller_id}", how)

    def empty(self, controller_id: int) -> None:
        self.ask("DELETE", f"/bench/controllers/{controller_id}/store")

    def talking(self, controller_id: int) -> Talking:
        return Talking(f"{self.url}/controllers/{controller_id}", self._keys[controller_id])

    def wire(self, controller_id: int) -> Wire:
        """Return a line of the test's own to a controller."""
        if controller_id not in self._wires:
            address = f"{self.url}/controllers/{controller_id}"
            self._wires[controller_id] = Wire(address, self._keys[controller_id], anywhere=True)
        return self._wires[controller_id]

    def digests(self, controller_id: int) -> dict[str, str]:
        return {str(key): one for key, one in self.wire(controller_id).digests()[1].items()}

    def put(
        self, controller_id: int, *records: tuple[str, Body], remove: Iterable[str] = ()
    ) -> Sent:
        """Push records to a controller, past everything that Cadrin knows."""
        put = {RecordKey.parse(key): body for key, body in records}
        return self.wire(controller_id).send(put, [RecordKey.parse(key) for key in remove])

    def rehearse(self, reads: list[dict[str, Any]]) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.ask("POST", "/bench/rehearsals", {"reads": reads})[
            "verdicts"
        ]
        return found


class RunningWorker:
    """The worker, in a thread of this process."""

    def __init__(self) -> None:
        self._stop = threading.Event()
        self._thread = threading.Thread(target=Worker(self._stop).run, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()
        self._thread.join()

"""Run the stand-ins and the worker within a test, as they are: over HTTP, in threads of their own."""

import asyncio
import os
import socket
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

import httpx
import uvicorn

from cadrin.activity.worker import Worker
from cadrin.standins.app import application
from cadrin.standins.controller import Setup

PATIENCE_SECONDS = float(os.environ.get("CADRIN_PATIENCE_MS", "180000")) / 1000


def until(is_so: Callable[[], Any], what: str, patience_seconds: float = PATIENCE_SECONDS) -> Any:
    """Give the first answer that is true; fails only after long, as a machine may be slow and busy."""
    deadline = time.monotonic() + patience_seconds
    while not (answer := is_so()):
        if time.monotonic() > deadline:
            raise AssertionError(f"it never came to this: {what}")
        time.sleep(0.02)
    return answer


class StandIns:
    """The stand-ins of a house, on a port that is free; ``folder`` None keeps their memories in this process."""

    def __init__(self, setups: Iterable[dict[str, Any]], folder: Path | None = None) -> None:
        listening = socket.socket()
        listening.bind(("127.0.0.1", 0))
        self.url = f"http://127.0.0.1:{listening.getsockname()[1]}"
        app = application([Setup(**one) for one in setups], folder)
        config = uvicorn.Config(app, log_level="warning", access_log=False, lifespan="off", timeout_graceful_shutdown=1)
        self._server = uvicorn.Server(config)
        self._thread = threading.Thread(target=lambda: asyncio.run(self._server.serve([listening])), daemon=True)
        self._thread.start()
        self.client = httpx.Client(base_url=self.url, timeout=PATIENCE_SECONDS, trust_env=False)
        until(lambda: self._server.started, "the stand-ins listen")

    def stop(self) -> None:
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

    def digests(self, controller_id: int) -> dict[str, str]:
        found: dict[str, str] = self.ask("GET", f"/controllers/{controller_id}/digests")["digests"]
        return found

    def rehearse(self, reads: list[dict[str, Any]]) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.ask("POST", "/bench/rehearsals", {"reads": reads})["verdicts"]
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

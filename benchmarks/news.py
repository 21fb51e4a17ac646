"""Two ways to tell pages of a new read: requests that wait, as Cadrin does it, and server-sent
events.
"""

import math
import os
import sys
import threading
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from functools import partial
from pathlib import Path
from subprocess import Popen

import httpx
from django.utils import timezone

from benchmarks.measuring import Table, milliseconds, percentile
from benchmarks.operators import come_in
from benchmarks.world import OPERATORS
from cadrin.activity.models import Read
from cadrin.sites.models import Controller

READS, EVERY_SECONDS = 20, 0.5
WAIT_SECONDS, PAUSE_SECONDS = 15, 5
"""As the pages have it (``kit/reads.ts``)."""
EVENTS_PORT = 8792

Listen = Callable[[int, threading.Event, Callable[[int], None]], None]
"""What one page does, by its number, until it is stopped; whenever it hears of reads it says the id
of the newest.
"""


def bench_ways(
    table: Table,
    server: "Popen[bytes]",
    url: str,
    running: Callable[..., AbstractContextManager["Popen[bytes]"]],
) -> None:
    """Measure how soon everybody hears of a read, and what it costs, with as many pages as may wait
    and with more.
    """
    with running(
        sys.executable, "-m", "benchmarks.events", os.environ["CADRIN_DATABASE"], str(EVENTS_PORT)
    ) as events:
        time.sleep(3)
        for pages in (40, 60):
            limits, least = _heard(events, _by_events, pages)
            heard, cost = _heard(server, _by_waiting(url), pages)
            for name, share in (("p50", 0.5), ("p95", 0.95)):
                ours, limit = percentile(heard, share), percentile(limits, share)
                what = f"{pages} pages hear of a read, {name}"
                table.add(
                    what,
                    milliseconds(ours),
                    f"by events {milliseconds(limit)}",
                    ours / limit,
                    "none set",
                )
            what = "  a processor's time for one read"
            table.add(
                what,
                milliseconds(cost),
                f"by events {milliseconds(least)}",
                cost / max(least, 0.001),
                "none set",
            )


def _heard(server: "Popen[bytes]", listen: Listen, pages: int) -> tuple[list[float], float]:
    """Return the seconds after which each page heard of each read, and the processor's seconds for
    each read.
    """
    controller = Controller.objects.get(pk=1)
    made: dict[int, float] = {}
    heard: list[list[tuple[int, float]]] = [[] for _ in range(pages)]
    stop = threading.Event()
    number = Read.objects.count()
    _read(controller, number)
    threads = [
        threading.Thread(target=listen, args=(page, stop, partial(_note, heard[page])))
        for page in range(pages)
    ]
    for thread in threads:
        thread.start()
    time.sleep(3)
    before = _seconds_of(server)
    for n in range(READS):
        id_ = _read(controller, number + 1 + n)
        made[id_] = time.perf_counter()
        time.sleep(EVERY_SECONDS)
    time.sleep(PAUSE_SECONDS + 1)
    cost = (_seconds_of(server) - before) / READS
    stop.set()
    _read(controller, number + READS + 1)  # lets go of whoever waits
    for thread in threads:
        thread.join()
    # a page that hears of several at once has heard of each of them then
    return [
        next((when - at for newest, when in of_page if newest >= id_), math.inf)
        for of_page in heard
        for id_, at in made.items()
    ], cost


def _note(heard: list[tuple[int, float]], id_: int) -> None:
    heard.append((id_, time.perf_counter()))


def _read(controller: Controller, number: int) -> int:
    made = Read.objects.create(
        at=timezone.now(),
        controller=controller,
        store="bench",
        event_number=number,
        reader_name="Door 001",
        raw="26:1",
    )
    return int(made.pk)


def _by_events(_page: int, stop: threading.Event, hear: Callable[[int], None]) -> None:
    url = f"http://127.0.0.1:{EVENTS_PORT}/"
    with httpx.Client(trust_env=False, timeout=60) as client, client.stream("GET", url) as answer:
        for line in answer.iter_lines():
            if stop.is_set():
                return
            if line.startswith("data: "):
                hear(int(line.removeprefix("data: ")))


def _by_waiting(url: str) -> Listen:
    """Do as the pages do: ask again at once, and pause when there is no place."""

    def listen(page: int, stop: threading.Event, hear: Callable[[int], None]) -> None:
        with come_in(url, f"operator-{page % OPERATORS}") as client:
            rows = client.get("/api/news/").json()
            after = rows[-1]["id"]
            while not stop.is_set():
                began = time.monotonic()
                asked = {"after": after, "wait_seconds": WAIT_SECONDS}
                if rows := client.get("/api/news/", params=asked).json():
                    after = rows[-1]["id"]
                    hear(after)
                elif time.monotonic() - began < WAIT_SECONDS / 2:
                    stop.wait(PAUSE_SECONDS)

    return listen


def _seconds_of(process: "Popen[bytes]") -> float:
    """Return the processor's time that a process and those it started have taken so far."""
    children = Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()
    ticks = 0
    for pid in (str(process.pid), *children):
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")

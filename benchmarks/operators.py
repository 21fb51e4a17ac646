"""Many operators at once: saves a second with 1, 8 and 32 of them, reads meanwhile, and pages that
wait for news.
"""

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from statistics import median

import httpx
from django.conf import settings
from django.test import Client

from benchmarks.measuring import SAVED_FOR_SECONDS, Table, milliseconds, percentile
from benchmarks.world import OPERATORS
from cadrin.operators.models import Operator

WAITING_PAGES = 200
WAIT_SECONDS, PAUSE_SECONDS = 15, 5
"""A page waits so long at once, and pauses so long when there is no place."""
TOKEN = "c" * 32
READS = ("/api/cardholders/", "/api/waiting/", "/api/house/")


def come_in(url: str, username: str) -> httpx.Client:
    """Return a client with a session that was begun before: signing in is slowed for so many from
    one address.
    """
    session = Client()
    session.force_login(Operator.objects.get(username=username))
    client = httpx.Client(base_url=url, trust_env=False, timeout=60)
    client.cookies.set(
        settings.SESSION_COOKIE_NAME, session.cookies[settings.SESSION_COOKIE_NAME].value
    )
    client.cookies.set("csrftoken", TOKEN)
    client.headers.update({"X-CSRFToken": TOKEN, "Referer": url})
    return client


def bench_operators(table: Table, url: str) -> None:
    """Measure saves back to back by more and more operators, and what reading waits meanwhile."""
    clients = [come_in(url, f"operator-{place}") for place in range(OPERATORS)]
    alone = _read_p95(clients[0])
    table.say("reading, nobody saving, p95", milliseconds(alone))
    rate_of_one = 0.0
    for count in (1, 8, OPERATORS):
        saves, reads = saving(clients[:count])
        rate = len(saves) / SAVED_FOR_SECONDS
        rate_of_one = rate_of_one or rate
        table.add(
            f"saves a second, {count} operators",
            f"{rate:.1f}",
            f"one operator {rate_of_one:.1f}",
            rate / rate_of_one,
            ">= 0.8",
        )
        table.say("  a save, p50", milliseconds(median(saves)))
        table.say("  a save, p99", milliseconds(percentile(saves, 0.99)))
        p95 = percentile(reads, 0.95)
        table.add(
            "  reading meanwhile, p95",
            milliseconds(p95),
            f"alone {milliseconds(alone)}",
            p95 / alone,
            "none set",
        )
    for client in clients:
        client.close()


def saving(clients: list[httpx.Client]) -> tuple[list[float], list[float]]:
    """Let each client save cardholders of its own back to back; return the seconds of saves, and of
    reads meanwhile.
    """
    reader = come_in(str(clients[0].base_url), "bench")
    until = time.monotonic() + SAVED_FOR_SECONDS
    saves: list[float] = []
    failed: list[Exception] = []

    def save(place: int, client: httpx.Client) -> None:
        try:
            id_ = 1000 + place
            file = client.get(f"/api/cardholders/{id_}/").raise_for_status().json()
            while time.monotonic() < until:
                file["title"] = f"Diver {time.monotonic():.6f}"
                began = time.perf_counter()
                file = client.put(f"/api/cardholders/{id_}/", json=file).raise_for_status().json()
                saves.append(time.perf_counter() - began)
        except Exception as error:
            failed.append(error)

    threads = [
        threading.Thread(target=save, args=(place, client)) for place, client in enumerate(clients)
    ]
    for thread in threads:
        thread.start()
    reads = _reads(reader, lambda: time.monotonic() < until)
    for thread in threads:
        thread.join()
    if failed:
        raise failed[0]
    return saves, reads


def _reads(client: httpx.Client, goes_on: Callable[[], bool]) -> list[float]:
    seconds = []
    while goes_on():
        for path in READS:
            began = time.perf_counter()
            client.get(path).raise_for_status()
            seconds.append(time.perf_counter() - began)
        time.sleep(0.02)
    return seconds


def _read_p95(client: httpx.Client, seconds: float = 5.0) -> float:
    until = time.monotonic() + seconds
    return percentile(_reads(client, lambda: time.monotonic() < until), 0.95)


def bench_news(table: Table, url: str, cpu_seconds: Callable[[], float]) -> None:
    """Measure everybody's reads with many pages waiting for news beside none, in turn; and what the
    pages alone take of the server, whose seconds of a core ``cpu_seconds`` tells.
    """
    reader = come_in(url, "bench")
    beside, alone = [], []
    for _ in range(3):
        alone.append(_read_p95(reader, 3.0))
        with _waiting_pages(url):
            beside.append(_read_p95(reader, 3.0))
    p95, limit = median(beside), median(alone)
    table.add(
        f"reading with {WAITING_PAGES} pages waiting for news, p95",
        milliseconds(p95),
        f"with none {milliseconds(limit)}",
        p95 / limit,
        "<= 1.2",
    )
    with _waiting_pages(url):
        before, began = cpu_seconds(), time.monotonic()
        time.sleep(WAIT_SECONDS)
        spent, went_by = cpu_seconds() - before, time.monotonic() - began
    each = spent / went_by / WAITING_PAGES
    table.add(
        "the server's time for each page that waits and second",
        milliseconds(each),
        "0.2 ms of a core",
        each / 0.0002,
        "<= 1",
    )


@contextmanager
def _waiting_pages(url: str) -> Iterator[None]:
    """Hold as many pages as a day at a large site has, as the pages themselves do it: refused at
    once, they pause.
    """
    stop = threading.Event()
    clients = [come_in(url, f"operator-{place}") for place in range(min(OPERATORS, WAITING_PAGES))]
    newest = clients[0].get("/api/news/").json()
    after = newest[-1]["id"] if newest else 0

    def wait(client: httpx.Client) -> None:
        while not stop.is_set():
            began = time.monotonic()
            client.get("/api/news/", params={"after": after, "wait_seconds": WAIT_SECONDS})
            if time.monotonic() - began < WAIT_SECONDS / 2:
                stop.wait(PAUSE_SECONDS)

    threads = [
        threading.Thread(target=wait, args=(clients[n % len(clients)],))
        for n in range(WAITING_PAGES)
    ]
    for thread in threads:
        thread.start()
    time.sleep(1)
    try:
        yield
    finally:
        stop.set()
        for thread in threads:
            thread.join()
        for client in clients:
            client.close()

"""Over HTTP, as it is served: find-as-you-type, the first page, and from save to held."""

import sqlite3
import time
from collections.abc import Callable
from random import Random
from typing import Any

import httpx
from django.utils import timezone

from benchmarks.measuring import Table, milliseconds, percentile
from benchmarks.world import PASSWORD
from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.access.plan import access_plan, holders
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import Body, RecordKey, RecordKind
from cadrin.core.records.states import RecordState
from cadrin.delivery.models import Record
from cadrin.delivery.wire import Wire
from cadrin.demo.scenario import LAST_NAMES
from cadrin.enrolment.commands.memberships import add_people
from cadrin.operators.actor import system_actor
from cadrin.outbox.models import Mark
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Door, Schedule

REQUESTS = 300
PATIENCE_SECONDS = 600
PEOPLE_OF_THE_GROUP = 2_000

FIND_RAW = "SELECT DISTINCT cardholder_id FROM people_term WHERE text >= ? AND text < ? ORDER BY text LIMIT 20"
PAGE_RAW = """
    SELECT json_group_array(json_object('id', id, 'number', number, 'name', display_name, 'cards', cards)) FROM (
        SELECT p.id, p.number, p.display_name,
               (SELECT json_group_array(card_number) FROM credentials_card WHERE holder_id = p.id) AS cards
        FROM people_cardholder p ORDER BY sort_name, p.id LIMIT 50)
    """


def signed_in(url: str, username: str = "bench") -> httpx.Client:
    client = httpx.Client(base_url=url, trust_env=False, timeout=60)
    client.get("/api/session/")
    client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
    client.headers["Referer"] = url
    client.post(
        "/api/session/", json={"username": username, "password": PASSWORD}
    ).raise_for_status()
    client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
    return client


def _times(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def bench_requests(table: Table, client: httpx.Client, database: str) -> None:
    random = Random(5)
    raw = sqlite3.connect(database)
    typed = [random.choice(LAST_NAMES)[: random.randrange(2, 6)].lower() for _ in range(REQUESTS)]

    def both(
        name: str, ask: Callable[[str], Any], direct: Callable[[str], Any], goal: str
    ) -> float:
        ours, limits = [], []
        for text in typed:
            ours.append(_times(lambda: ask(text)))  # noqa: B023 - called at once
            limits.append(_times(lambda: direct(text)))  # noqa: B023
        p50, p95 = percentile(ours, 0.5), percentile(ours, 0.95)
        limit50, limit95 = percentile(limits, 0.5), percentile(limits, 0.95)
        table.add(
            f"{name}, p50",
            milliseconds(p50),
            f"raw SQL {milliseconds(limit50)}",
            p50 / limit50,
            goal,
        )
        table.add(
            f"{name}, p95",
            milliseconds(p95),
            f"raw SQL {milliseconds(limit95)}",
            p95 / limit95,
            goal,
        )
        return p50

    nothing = percentile([_times(lambda: client.get("/api/session/")) for _ in range(100)], 0.5)
    table.say("the least request over HTTP (the session), p50", milliseconds(nothing))
    both(
        "find as one types, over HTTP",
        lambda text: client.get("/api/cardholders/find/", params={"text": text}).raise_for_status(),
        lambda text: raw.execute(FIND_RAW, [text, text + "\U0010ffff"]).fetchall(),
        "p95 <= 2.5",
    )
    first = both(
        "first page of cardholders, over HTTP",
        lambda _: client.get("/api/cardholders/").raise_for_status(),
        lambda _: raw.execute(PAGE_RAW).fetchall(),
        "<= 8",
    )
    kept = signed_in(str(client.base_url), "kept")
    of_a_part = percentile(
        [_times(lambda: kept.get("/api/cardholders/").raise_for_status()) for _ in range(100)], 0.5
    )
    table.add(
        "first page for one who is kept to a department",
        milliseconds(of_a_part),
        f"for one who is not {milliseconds(first)}",
        of_a_part / first,
        "<= 2",
    )
    deep = client.get("/api/cardholders/", params={"after": "nethersole zoe|0"})
    far = percentile(
        [
            _times(lambda: client.get("/api/cardholders/", params={"after": "nethersole zoe|0"}))
            for _ in range(100)
        ],
        0.5,
    )
    assert deep.json()["rows"]
    table.add(
        "a page in the middle",
        milliseconds(far),
        f"the first page {milliseconds(first)}",
        far / first,
        "<= 1.3",
    )
    raw.close()


def bench_delivery(table: Table, client: httpx.Client, standins_url: str) -> None:
    controller = Wire(f"{standins_url}/controllers/1", key_of_controller(1), anywhere=True)
    one = _one_cardholder(table, client, controller)
    table.say("  the goal: within 2 s, p95", "kept" if one < 2 else "missed")
    _a_group(table, controller)


def _one_cardholder(table: Table, client: httpx.Client, controller: Wire) -> float:
    ours, limits = [], []
    groups = client.get("/api/groups/").json()
    for n in range(10):
        file = client.get("/api/cardholders/new/").json() | {
            "first_name": "Bench",
            "last_name": f"Person {n}",
        }
        file["cards"] = [{"format": 1, "facility_code": 200, "card_number": n}]
        file["memberships"] = [{"group": groups[n]["id"]}]
        began = time.perf_counter()
        id_ = client.post("/api/cardholders/new/", json=file).raise_for_status().json()["id"]
        while True:
            found = client.get(f"/api/cardholders/{id_}/records/").json()
            if not found["is_pending"] and found["records"] and not found["not_held"]:
                break
        ours.append(time.perf_counter() - began)
        bodies = _bodies([id_])
        limits.append(_times(lambda: _post(controller, bodies)))  # noqa: B023 - called at once
    p50, limit = percentile(ours, 0.5), percentile(limits, 0.5)
    table.add(
        "save to held, one cardholder, p50",
        milliseconds(p50),
        f"posting the record {milliseconds(limit)}",
        p50 / limit,
        "none set",
    )
    return percentile(ours, 0.95)


def _bodies(ids: list[int]) -> dict[RecordKey, Body]:
    plan = access_plan()
    bodies = {
        RecordKey(RecordKind.CARDHOLDER, h.id): encode_cardholder(h, plan)
        for h in holders(ids).values()
    }
    return {key: body for key, body in bodies.items() if body is not None}


def _post(controller: Wire, bodies: dict[RecordKey, Body]) -> None:
    """Send the records and nothing else: the limit of every delivery."""
    rows = list(bodies.items())
    for begin in range(0, len(rows), 500):
        controller.send(dict(rows[begin : begin + 500]), [])


def _a_group(table: Table, controller: Wire) -> None:
    actor, now = system_actor("Benchmark"), timezone.now()
    door = Door.objects.filter(controller_id=1).first()
    schedule = Schedule.objects.first()
    assert door and schedule
    group_id = save_group(
        actor, None, GroupDraft("Everybody", "", (GrantDraft(door.pk, schedule.pk),)), now
    )
    ids = list(range(1, PEOPLE_OF_THE_GROUP + 1))

    began = time.perf_counter()
    add_people(actor, group_id, ids, now)
    saved = time.perf_counter() - began
    wait_until_held()
    whole = time.perf_counter() - began

    bodies = _bodies(ids)
    limit = _times(lambda: _post(controller, bodies))
    held = Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id__in=ids, controller_id=1)
    assert held.count() == PEOPLE_OF_THE_GROUP
    table.say(f"a group of {PEOPLE_OF_THE_GROUP:,}: saved", f"{saved:.2f} s")
    table.add(
        f"save to held, a group of {PEOPLE_OF_THE_GROUP:,}",
        f"{whole:.2f} s",
        f"posting the records {limit:.2f} s",
        whole / limit,
        "none set",
    )


def wait_until_held() -> None:
    deadline = time.monotonic() + PATIENCE_SECONDS
    while Mark.objects.exists() or Record.objects.exclude(state=RecordState.HELD).exists():
        if time.monotonic() > deadline:
            raise TimeoutError("not everything was held in ten minutes")
        time.sleep(0.05)

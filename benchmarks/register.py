"""The register at 100,000: each filter, each order, an act on many, and export of everybody."""

import csv
import io
import sqlite3
import time
from collections.abc import Callable
from typing import Any, NamedTuple

import httpx

from benchmarks.measuring import Table, milliseconds, percentile

REQUESTS = 20
PEOPLE_OF_THE_BATCH = 2_000
PATIENCE_SECONDS = 600

_PAGE = """
    SELECT json_group_array(json_object('id', id, 'number', number, 'name', display_name, 'cards', cards)) FROM (
        SELECT p.id, p.number, p.display_name,
               (SELECT json_group_array(card_number) FROM credentials_card WHERE holder_id = p.id) AS cards
        FROM people_cardholder p {join} WHERE {where} ORDER BY {order} LIMIT 50)
    """


class Asked(NamedTuple):
    """One list: what is asked of the API, and the same in SQL."""

    name: str
    query: dict[str, Any]
    where: str = "1"
    order: str = "sort_name, p.id"
    join: str = ""

    @property
    def sql(self) -> str:
        return _PAGE.format(where=self.where, order=self.order, join=self.join)


def lists(own: dict[str, int]) -> list[Asked]:
    """Return every filter and every order; ``own`` has the ids of own fields by label."""
    locker, shift = own["Locker"], own["Shift"]
    terms = "p.id IN (SELECT cardholder_id FROM people_term WHERE text >= 'nor' AND text < 'nor~')"
    value = (
        "p.id IN (SELECT cardholder_id FROM people_customfieldkey WHERE field_id = {} AND key {})"
    )
    soon = "p.expiry_at > datetime('now') AND p.expiry_at <= datetime('now', '+30 days')"
    in_force = "p.standing = 'active' AND (p.expiry_at IS NULL OR p.expiry_at > datetime('now'))"
    return [
        Asked("filter: text", {"text": "nor"}, terms),
        Asked("filter: department", {"department": 7}, "p.department_id = 7"),
        Asked("filter: company", {"company": 2}, "p.company_id = 2"),
        Asked("filter: kind", {"kind": 2}, "p.kind_id = 2"),
        Asked("filter: state in force", {"state": "in_force"}, in_force),
        Asked(
            "filter: access group",
            {"group": 9},
            "p.id IN (SELECT cardholder_id FROM access_membership WHERE group_id = 9)",
        ),
        Asked(
            "filter: no card",
            {"gap": "no_card"},
            "NOT EXISTS (SELECT 1 FROM credentials_card WHERE holder_id = p.id)",
        ),
        Asked("filter: ending within 30 days", {"ending_within_days": 30}, soon),
        Asked(
            "filter: own field, a choice",
            {"custom_field": shift, "custom_value": "tide"},
            value.format(shift, "= 'tide'"),
        ),
        Asked(
            "filter: own field, a text",
            {"custom_field": locker, "custom_value": "a12"},
            value.format(locker, ">= 'a12' AND key < 'a12~'"),
        ),
        Asked("order: name, from the end", {"sort": "-name"}, order="sort_name DESC, p.id DESC"),
        Asked("order: number", {"sort": "number"}, order="number_key, p.id"),
        Asked(
            "order: department",
            {"sort": "department"},
            order="d.name, p.id",
            join="LEFT JOIN people_department d ON d.id = p.department_id",
        ),
        Asked(
            "order: company",
            {"sort": "company"},
            order="c.name, p.id",
            join="LEFT JOIN people_company c ON c.id = p.company_id",
        ),
        Asked("order: title", {"sort": "title"}, order="title, p.id"),
        Asked("order: e-mail", {"sort": "email"}, order="email, p.id"),
        Asked("order: expiry", {"sort": "expiry"}, order="expiry_at, p.id"),
        Asked(
            "order: own field",
            {"sort": f"own.{locker}"},
            order="k.key, p.id",
            join=f"LEFT JOIN people_customfieldkey k ON k.cardholder_id = p.id AND k.field_id = {locker}",
        ),
    ]


def _times(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def bench_lists(table: Table, client: httpx.Client, database: str) -> None:
    raw = sqlite3.connect(database)
    own = {one["labels"]["en"]: one["id"] for one in client.get("/api/own-fields/").json()}
    for asked in lists(own):
        ours, limits = [], []
        for _ in range(REQUESTS):
            query = asked.query
            ours.append(
                _times(
                    lambda: client.get("/api/cardholders/", params=query).raise_for_status()  # noqa: B023
                )
            )
            limits.append(_times(lambda: raw.execute(asked.sql).fetchall()))  # noqa: B023 - called at once
        for part, name in ((0.5, "p50"), (0.95, "p95")):
            figure, limit = percentile(ours, part), percentile(limits, part)
            table.add(
                f"{asked.name}, {name}",
                milliseconds(figure),
                f"raw SQL {milliseconds(limit)}",
                figure / limit,
                "<= 8",
            )
    raw.close()


def bench_export(table: Table, client: httpx.Client, database: str) -> None:
    raw = sqlite3.connect(database)
    columns = ["number", "last_name", "first_name", "department", "email", "cards", "groups"]

    def directly() -> None:
        writer = csv.writer(io.StringIO())
        rows = raw.execute(
            """SELECT p.number, last_name, first_name, d.name, email,
                      (SELECT group_concat(card_number) FROM credentials_card WHERE holder_id = p.id),
                      (SELECT group_concat(g.name) FROM access_membership m JOIN access_accessgroup g
                       ON g.id = m.group_id WHERE m.cardholder_id = p.id)
               FROM people_cardholder p LEFT JOIN people_department d ON d.id = p.department_id ORDER BY sort_name"""
        )
        writer.writerows(rows)

    limit = _times(directly)
    for kind in ("csv", "xlsx"):
        body: dict[str, Any] = {"kind": kind, "columns": columns, "filters": {}, "sort": "name"}
        began = time.perf_counter()
        answer = client.post("/api/export/", json=body, timeout=PATIENCE_SECONDS).raise_for_status()
        figure = time.perf_counter() - began
        assert len(answer.content) > 1_000_000
        table.add(
            f"export of 100,000 as {kind}",
            f"{figure:.2f} s",
            f"csv of raw SQL {limit:.2f} s",
            figure / limit,
            "none set",
        )
    raw.close()


def bench_batch(table: Table, client: httpx.Client, database: str) -> None:
    """Change the department of a fifth of everybody in steps, and take it back; the limit changes them
    in one go.
    """
    departments = [one["id"] for one in client.get("/api/departments/").json()][:13]
    body: dict[str, Any] = {"act": "department", "id": departments[0], "filters": {"company": 2}}
    weighed = _times(lambda: client.post("/api/preview/bulk-change/", json=body).raise_for_status())
    table.say("an act on many: what it would do", f"{weighed:.2f} s")

    raw = sqlite3.connect(database, timeout=60)
    raw.isolation_level = None

    def directly() -> None:
        raw.execute("BEGIN IMMEDIATE")
        ids = raw.execute(
            "SELECT id FROM people_cardholder ORDER BY id LIMIT ?", [PEOPLE_OF_THE_BATCH]
        ).fetchall()
        raw.executemany(
            "UPDATE people_cardholder SET title = title, version = version + 1 WHERE id = ?", ids
        )
        raw.execute("CREATE TEMP TABLE topic (kind, object_id, version)")
        raw.executemany("INSERT INTO topic VALUES ('cardholder', ?, 2)", ids)
        raw.execute("ROLLBACK")

    limit = _times(directly)
    raw.close()
    begun = client.post("/api/bulk-changes/", json=body).raise_for_status().json()["id"]
    kept = {"name": "Bench", "filters": {}, "columns": []}

    def keep_a_list() -> None:
        client.post("/api/saved-lists/", json=kept).raise_for_status()

    for name, id_ in (("changed", begun), ("taken back", None)):
        id_ = id_ or client.post(f"/api/bulk-changes/{begun}/undo/").raise_for_status().json()["id"]
        began, waits = time.perf_counter(), []
        while (found := client.get(f"/api/bulk-changes/{id_}/").json())["state"] == "at_work":
            # somebody at a desk keeps a list meanwhile: how long does a writer wait?
            waits.append(_times(keep_a_list))
            time.sleep(0.05)
        figure = time.perf_counter() - began
        share = found["total"] / PEOPLE_OF_THE_BATCH
        table.add(
            f"{found['total']:,} {name} in steps",
            f"{figure:.2f} s",
            f"raw SQL {limit * share:.2f} s",
            figure / (limit * share),
            "none set",
        )
        table.say(
            "  another writer meanwhile, p95",
            milliseconds(percentile(waits, 0.95)) if waits else "-",
        )

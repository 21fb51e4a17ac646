"""What answers a person, at three sizes of the house: each beside the least request, and beside itself
in the smallest.
"""

from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from statistics import median
from typing import Any, NamedTuple

import httpx

from benchmarks.measuring import Table, milliseconds, percentile, seconds
from benchmarks.served import signed_in

ROUNDS = 12
SOMEBODY = 12
Ask = Callable[[httpx.Client], object]


class Asked(NamedTuple):
    """A question, and how many least requests it may cost; None where no goal says so."""

    name: str
    ask: Ask
    most: float | None = None


def _get(path: str, **query: Any) -> Ask:
    return lambda client: client.get(path, params=query).raise_for_status()


def _page_of_somebody(client: httpx.Client) -> None:
    for part in ("", "records/", "history/", "letters/", "groups/"):
        client.get(f"/api/cardholders/{SOMEBODY}/{part}")
    client.get("/api/drafts/")


def _preview(client: httpx.Client) -> None:
    file = client.get(f"/api/cardholders/{SOMEBODY}/").json()
    client.post("/api/preview/", json=file | {"id": SOMEBODY}).raise_for_status()


ASKED = (
    Asked("least request: signed in, one row", _get("/api/session/")),
    Asked("list, first page", _get("/api/cardholders/"), 2),
    Asked("list, a department", _get("/api/cardholders/", department=7), 2),
    Asked("find, two letters", _get("/api/cardholders/find/", text="ne"), 2),
    Asked("find, five letters", _get("/api/cardholders/find/", text="nethe"), 2),
    Asked("Desk", _get("/api/desk/"), 3),
    Asked("counts beside sections", _get("/api/waiting/"), 3),
    Asked("cardholder's page, all its requests", _page_of_somebody, 6),
    Asked("cardholder's file and its preview", _preview),
    Asked("a new cardholder's file, with a free number", _get("/api/cardholders/new/")),
    Asked("latest 100 reads", _get("/api/reads/")),
    Asked("everybody at a door", _get("/api/questions/door/", door=1)),
    Asked("every access group", _get("/api/groups/")),
)


def bench_growth(
    table: Table,
    served: Callable[[int], AbstractContextManager[str]],
    bare: Callable[[], AbstractContextManager[str]],
    sizes: Sequence[int],
) -> None:
    """Ask everything at each size; ``served`` serves a world of so many people, ``bare`` the bare
    framework, and each gives its address.
    """
    took: dict[int, dict[str, list[float]]] = {}
    limit = 0.0
    for size in sizes:
        with served(size) as url, bare() as bare_url:
            client = signed_in(url)
            took[size] = {one.name: _times(one.ask, client) for one in ASKED}
            constant = httpx.Client(base_url=bare_url, trust_env=False)
            least = _times(_get("/api/session/"), client)
            limit = median(_times(_get("/"), constant))
            if size == sizes[-1]:
                table.add(
                    ASKED[0].name,
                    milliseconds(median(least)),
                    f"the bare framework {milliseconds(limit)}",
                    median(least) / limit,
                    "<= 1.5",
                )
    smallest, largest = took[sizes[0]], took[sizes[-1]]
    request = median(largest[ASKED[0].name])
    for name, _, most in ASKED[1:]:
        times = largest[name]
        table.add(
            f"{name}, p95",
            milliseconds(percentile(times, 0.95)),
            f"the least request {milliseconds(request)}",
            percentile(times, 0.95) / request,
            f"<= {most}" if most else "none set",
        )
    # the machine is not as quick at one time as at another: what all requests have in common tells
    pace = request / median(smallest[ASKED[0].name])
    for name, *_ in ASKED[1:]:
        middle = "".join(
            f"{size:,}: {milliseconds(median(took[size][name]))}; " for size in sizes[1:-1]
        )
        table.add(
            f"growth: {name}, {sizes[-1]:,}",
            milliseconds(median(largest[name])),
            f"{middle}{sizes[0]:,}: {milliseconds(median(smallest[name]))}",
            median(largest[name]) / median(smallest[name]) / pace,
            "<= 1.7",
        )


def _times(ask: Ask, client: httpx.Client) -> list[float]:
    ask(client)
    return [seconds(lambda: ask(client)) for _ in range(ROUNDS)]

"""What is said to a controller, and what it answers: HTTP on its own address."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypeVar

import httpx
from django.conf import settings

from cadrin.core.delivery import Body, RecordKey

T = TypeVar("T")
TIMEOUT_SECONDS = 5.0


class NoAnswer(Exception):
    """The controller did not answer, or not with anything that can be read."""


@dataclass(frozen=True, slots=True)
class Answer:
    """What every answer carries: which memory speaks, the sum of what it holds, and its clock."""

    store: str
    sum: str
    at: datetime
    capacity: int | None
    most_cards: int | None


@dataclass(frozen=True, slots=True)
class Sent:
    answer: Answer
    held: Mapping[RecordKey, str]
    removed: frozenset[RecordKey]
    refused: Mapping[RecordKey, str]


def url_of(address: str) -> str:
    """Give where a controller listens.

    Raises NoAnswer for a stand-in when none are running.
    """
    kind, _, number = address.partition(":")
    if kind != "standin":
        return address
    if not settings.STANDINS_URL:
        raise NoAnswer("no_standins")
    return f"{settings.STANDINS_URL}/controllers/{number}"


class Wire:
    """One controller's line."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._client = httpx.Client(timeout=TIMEOUT_SECONDS, trust_env=False)

    def close(self) -> None:
        self._client.close()

    def digests(self) -> tuple[Answer, dict[RecordKey, str]]:
        """Ask for the digest of every record it holds. Raises NoAnswer."""
        return self._ask(
            "GET",
            "digests",
            lambda body: (
                _answer(body),
                {RecordKey.parse(key): str(one) for key, one in body["digests"].items()},
            ),
        )

    def send(self, put: Mapping[RecordKey, Body], remove: Iterable[RecordKey]) -> Sent:
        """Put and remove records. Raises NoAnswer; then some, all or none may have arrived."""
        return self._ask(
            "POST",
            "records",
            lambda body: Sent(
                _answer(body),
                {RecordKey.parse(key): str(one) for key, one in body["held"].items()},
                frozenset(RecordKey.parse(key) for key in body["removed"]),
                {RecordKey.parse(key): str(code)[:40] for key, code in body["refused"].items()},
            ),
            json={"put": [[str(key), body] for key, body in put.items()], "remove": [str(key) for key in remove]},
        )

    def events(self, store: str, after: int, wait_seconds: float) -> tuple[Answer, list[dict[str, Any]]]:
        """Fetch events numbered above ``after``, which lets it forget the others; waits for one to come.

        Raises NoAnswer.
        """
        return self._ask(
            "GET",
            "events",
            lambda body: (_answer(body), list(body["events"])),
            params={"store": store, "after": after, "wait_seconds": wait_seconds},
        )

    def _ask(self, method: str, path: str, read: Callable[[dict[str, Any]], T], **more: Any) -> T:
        try:
            response = self._client.request(method, f"{url_of(self._address)}/{path}", **more)
            response.raise_for_status()
            return read(response.json())
        except httpx.TimeoutException as error:
            raise NoAnswer(f"too_slow:{TIMEOUT_SECONDS:.0f}") from error
        except httpx.HTTPStatusError as error:
            raise NoAnswer(f"status:{error.response.status_code}") from error
        except httpx.HTTPError as error:
            raise NoAnswer("no_connection") from error
        except (ValueError, KeyError, TypeError, AttributeError) as error:
            raise NoAnswer("not_readable") from error


def _answer(body: dict[str, Any]) -> Answer:
    at = datetime.fromisoformat(body["at"])
    return Answer(str(body["store"]), str(body["sum"]), at, body["capacity"], body["most_cards"])

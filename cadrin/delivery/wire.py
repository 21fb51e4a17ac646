"""What is said to one controller, over HTTP, and what is understood of its answers.

Every message is signed in both directions (`core/signing.py`), every answer is bounded in size and
time, and whatever comes in is read here into values: nothing that a controller says goes further as
it came.
"""

import secrets
import socket
import time
from base64 import b64decode
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from ipaddress import ip_address
from typing import Any, TypeVar
from urllib.parse import urlencode, urlsplit

import httpx
import orjson
from django.conf import settings

from cadrin.core import signing
from cadrin.core.addresses import place_of, problem_with_places
from cadrin.core.decision.events import Told, read_events
from cadrin.core.errors import Invalid
from cadrin.core.records.keys import Body, RecordKey

T = TypeVar("T")
TIMEOUT_SECONDS = 5.0
LARGEST_ANSWER_BYTES = 32 * 2**20
"""Three times what the digests of 100,000 cardholders take."""
LONGEST_NAME = 40
NUMBER, CONVERSATION, SIGNATURE = "X-Number", "X-Conversation", "X-Signature"


class NoAnswer(Exception):
    """The controller did not answer, or not with anything that can be read or believed."""


class _TalkIsOver(Exception):
    """The controller no longer knows the conversation: it was started anew, or has had too many
    since.
    """


@dataclass(frozen=True, slots=True)
class Answer:
    """What every answer carries: which memory speaks, the sum of what it holds, its clock, and what
    it refused.

    ``forged`` and ``replayed`` count the messages it did not listen to since it was started.
    """

    store: str
    sum: str
    at: datetime
    capacity: int | None
    most_cards: int | None
    longest_name: int | None = None
    latest: int | None = None
    longest_span: int | None = None
    most_memberships: int | None = None
    most_schedules: int | None = None
    most_templates: int | None = None
    forged: int = 0
    replayed: int = 0


@dataclass(frozen=True, slots=True)
class Sent:
    answer: Answer
    held: Mapping[RecordKey, str]
    removed: frozenset[RecordKey]
    refused: Mapping[RecordKey, str]


@dataclass(slots=True)
class _Talk:
    """A conversation: its name, its own key, and the number of its last message."""

    name: str
    key: bytes
    number: int = 0


def url_of(address: str) -> str:
    """Return where a controller listens.

    Raises NoAnswer for a stand-in when none are running.
    """
    kind, _, number = address.partition(":")
    if kind != "standin":
        return address
    if not settings.STANDINS_URL:
        raise NoAnswer("no_standins")
    return f"{settings.STANDINS_URL}/controllers/{number}"


def device_at(address: str) -> tuple[str, str]:
    """Look up where an address leads just now, and return the address by its number, and the host that
    it names. A name that led to a device may lead elsewhere by now. Raises NoAnswer.
    """
    try:
        place = place_of(address)
        found = socket.getaddrinfo(place.host, place.port, type=socket.SOCK_STREAM)
    except (Invalid, OSError, UnicodeError) as error:
        raise NoAnswer("no_connection") from error
    numbers = [ip_address(str(where[0]).partition("%")[0]) for *_, where in found]
    if problem_with_places(address, numbers):
        raise NoAnswer("not_a_device")
    parts, number = urlsplit(address), numbers[0]
    host = f"[{number}]" if number.version == 6 else str(number)
    return parts._replace(netloc=f"{host}:{place.port}").geturl(), place.host


class Wire:
    """One controller's line; ``key`` is the one that it and Cadrin know each other by. Only devices are
    spoken to, unless ``anywhere``.
    """

    def __init__(self, address: str, key: bytes, *, anywhere: bool = False) -> None:
        self._address = address
        self._anywhere = anywhere
        self._key = key
        self._talk: _Talk | None = None
        self._client = httpx.Client(
            timeout=TIMEOUT_SECONDS, trust_env=False, headers={"Accept-Encoding": "identity"}
        )

    def close(self) -> None:
        self._client.close()

    def digests(self) -> tuple[Answer, dict[RecordKey, str]]:
        """Ask for the digest of every record it holds. Raises NoAnswer."""
        return self._ask("GET", "digests", lambda body: (_answer(body), _digests(body["digests"])))

    def people(self, keys: Iterable[RecordKey]) -> dict[RecordKey, Body]:
        """Ask for the records of cardholders that it holds; PINs and templates do not come along.
        Raises NoAnswer.
        """
        said = orjson.dumps({"keys": [str(key) for key in keys]})

        def read(body: dict[str, Any]) -> dict[RecordKey, Body]:
            return {RecordKey.parse(key): dict(item) for key, item in body["people"].items()}

        return self._ask("POST", "people", read, said)

    def send(self, put: Mapping[RecordKey, Body], remove: Iterable[RecordKey]) -> Sent:
        """Put and remove records. Raises NoAnswer; then some, all or none may have arrived."""
        said = {
            "put": [[str(key), body] for key, body in put.items()],
            "remove": [str(key) for key in remove],
        }
        return self._ask(
            "POST",
            "records",
            lambda body: Sent(
                _answer(body),
                _digests(body["held"]),
                frozenset(RecordKey.parse(key) for key in body["removed"]),
                {
                    RecordKey.parse(key): str(code)[:LONGEST_NAME]
                    for key, code in body["refused"].items()
                },
            ),
            orjson.dumps(said),
        )

    def events(self, store: str, after: int, wait_seconds: float) -> tuple[Answer, list[Told]]:
        """Fetch events numbered above ``after``, which lets it forget the others; waits for one to
        come.

        Raises NoAnswer.
        """
        asked = urlencode({"store": store, "after": after, "wait_seconds": wait_seconds})

        def read(body: dict[str, Any]) -> tuple[Answer, list[Told]]:
            answer = _answer(body)
            return answer, read_events(list(body["events"]), after if answer.store == store else 0)

        return self._ask("GET", f"events?{asked}", read, patience_seconds=wait_seconds)

    def set_clock(self, at: datetime) -> Answer:
        """Tell it what time it is. Raises NoAnswer."""
        return self._ask("POST", "clock", _answer, orjson.dumps({"at": at.isoformat()}))

    def act_at_door(self, door_id: int, act: str) -> bool:
        """Let it do something at a door at once, and say whether it did. Raises NoAnswer."""
        return self._ask(
            "POST",
            f"doors/{door_id}",
            lambda body: body["is_done"] is True,
            orjson.dumps({"act": act}),
        )

    def picture(self, door_id: int) -> bytes:
        """Ask what the camera at a door sees. Raises NoAnswer, where it has none or sees nobody too."""
        return self._ask(
            "GET",
            f"doors/{door_id}/picture",
            lambda body: b64decode(body["picture"], validate=True),
        )

    # -- how it is said ----------------------------------------------------------------------

    def _ask(
        self,
        method: str,
        path: str,
        read: Callable[[dict[str, Any]], T],
        said: bytes = b"",
        *,
        patience_seconds: float = 0.0,
    ) -> T:
        deadline = time.monotonic() + TIMEOUT_SECONDS + patience_seconds
        try:
            try:
                return read(self._say(method, path, said, deadline))
            except _TalkIsOver:
                self._talk = None
                return read(self._say(method, path, said, deadline))
        except _TalkIsOver as error:
            raise NoAnswer("not_believed") from error
        except httpx.TimeoutException as error:
            raise NoAnswer(f"too_slow:{TIMEOUT_SECONDS:.0f}") from error
        except httpx.HTTPError as error:
            raise NoAnswer("no_connection") from error
        except (ValueError, KeyError, TypeError, AttributeError, OverflowError) as error:
            raise NoAnswer("not_readable") from error

    def _say(self, method: str, path: str, said: bytes, deadline: float) -> dict[str, Any]:
        """Send a signed message, and return the answer if it is the controller's own."""
        talk = self._talk = self._talk or self._begin(deadline)
        talk.number += 1
        target = f"/{path}"
        signed = signing.signature(
            talk.key, *signing.request_parts(talk.name, talk.number, method, target, said)
        )
        headers = {CONVERSATION: talk.name, NUMBER: str(talk.number), SIGNATURE: signed}
        status, told, answer = self._exchange(method, path, said, headers, deadline)
        if status == httpx.codes.UNAUTHORIZED:
            if signing.Refused.UNKNOWN_CONVERSATION.value.encode() in answer:
                raise _TalkIsOver
            raise NoAnswer("not_believed")
        if status != httpx.codes.OK:
            raise NoAnswer(f"status:{status}")
        if not signing.is_signed(
            told, talk.key, *signing.answer_parts(talk.name, talk.number, status, answer)
        ):
            raise NoAnswer("forged_answer")
        return _object(answer)

    def _begin(self, deadline: float) -> _Talk:
        """Begin a conversation, in which the controller shows that it has the key."""
        mine = secrets.token_hex(signing.SHORTEST_NONCE)
        said = orjson.dumps({"nonce": mine})
        status, _, answer = self._exchange("POST", "conversation", said, {}, deadline)
        if status != httpx.codes.OK:
            raise NoAnswer(f"status:{status}")
        body = _object(answer)
        name, theirs = str(body["conversation"])[:LONGEST_NAME], str(body["nonce"])
        if not signing.is_signed(
            str(body["signature"]), self._key, *signing.greeting_parts(mine, theirs, name)
        ):
            raise NoAnswer("forged_answer")
        return _Talk(name, signing.conversation_key(self._key, mine, theirs))

    def _exchange(
        self, method: str, path: str, said: bytes, headers: Mapping[str, str], deadline: float
    ) -> tuple[int, str, bytes]:
        """Send a request and read all of its answer: status, signature and body, within a size and
        a time.
        """
        more = {**headers, "Content-Type": "application/json"} if said else headers
        url, host = url_of(self._address), None
        if url == self._address and not self._anywhere:
            url, host = device_at(url)
            more = {**more, "Host": urlsplit(self._address).netloc}
        with self._client.stream(
            method,
            f"{url}/{path}",
            content=said or None,
            headers=more,
            extensions={"sni_hostname": host} if host else {},
        ) as response:
            answer = bounded(response, deadline)
            return response.status_code, response.headers.get(SIGNATURE, ""), answer


def bounded(response: httpx.Response, deadline: float) -> bytes:
    """Read all of an answer, within a size and until an instant of the monotonic clock. Raises
    NoAnswer.
    """
    parts, size = [], 0
    for part in response.iter_raw():
        size += len(part)
        if size > LARGEST_ANSWER_BYTES:
            raise NoAnswer("too_large")
        if time.monotonic() > deadline:
            raise NoAnswer(f"too_slow:{TIMEOUT_SECONDS:.0f}")
        parts.append(part)
    return b"".join(parts)


def _object(answer: bytes) -> dict[str, Any]:
    body = orjson.loads(answer)  # which refuses what is nested too deeply
    if not isinstance(body, dict):
        raise ValueError("not an object")
    return body


def _digests(told: Mapping[str, Any]) -> dict[RecordKey, str]:
    digests = {RecordKey.parse(key): str(item) for key, item in told.items()}
    for digest in digests.values():
        if len(digest) != 32 or int(digest, 16) < 0:
            raise ValueError("not a digest")
    return digests


def _answer(body: dict[str, Any]) -> Answer:
    at = datetime.fromisoformat(body["at"])
    if at.tzinfo is None or len(body["sum"]) != 32 or int(body["sum"], 16) < 0:
        raise ValueError("not an answer")
    limits = (
        "capacity", "most_cards", "longest_name", "latest", "longest_span", "most_templates",
        "most_memberships", "most_schedules",
    )  # fmt: skip
    return Answer(
        str(body["store"])[:LONGEST_NAME],
        body["sum"],
        at,
        **{name: _count(body.get(name)) for name in limits},
        forged=_count(body.get("forged")) or 0,
        replayed=_count(body.get("replayed")) or 0,
    )


def _count(value: Any) -> int | None:
    if value is None or (isinstance(value, int) and 0 <= value < 2**31):
        return value
    raise ValueError("not a count")

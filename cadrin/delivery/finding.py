"""Look for controllers that answer, and give one the key by which it will know Cadrin."""

import time
from typing import Any, NamedTuple

import httpx
import orjson
from django.conf import settings

from cadrin.core.errors import Invalid
from cadrin.delivery.wire import TIMEOUT_SECONDS, NoAnswer, bounded, url_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.sites.commands.controllers import Plug
from cadrin.sites.queries import controllers

MOST_FOUND, MOST_PLUGS, LONGEST_TEXT = 500, 64, 60
CLIENT: dict[str, Any] = {
    "timeout": TIMEOUT_SECONDS,
    "trust_env": False,
    "headers": {"Accept-Encoding": "identity"},
}
DEVICES = {
    "keypads": "has_keypad",
    "cameras": "has_camera",
    "scanners": "has_finger_scanner",
    "face_readers": "has_face_reader",
}


class FoundController(NamedTuple):
    """A controller that answered. ``known_as`` is its name here; ``is_claimed`` says that it has a key
    already: Cadrin's, or somebody else's.
    """

    address: str
    name: str
    plugs: tuple[Plug, ...]
    is_claimed: bool
    known_as: str


def search(actor: Actor) -> list[FoundController]:
    """Return the controllers that answer when they are looked for: the stand-ins, where they run.

    Raises NotPermitted, or Invalid where nothing answers.
    """
    actor.require(Permission.SET_UP)
    if not settings.STANDINS_URL:
        raise Invalid.of("controller.nothing_to_search", None)
    known = {controller.address: controller.name for controller in controllers()}
    told = _ask("GET", f"{settings.STANDINS_URL}/search", None)
    found = [_found(item, known) for item in told.get("controllers", [])[:MOST_FOUND]]
    return sorted(found, key=lambda one: (one.is_claimed, bool(one.known_as), one.address))


def claim(address: str, key: bytes) -> tuple[Plug, ...]:
    """Give a controller the key by which it will know Cadrin, and return its plugs.

    The first key that it is given is the one that counts: on the way it can be read by whoever
    listens on the wire, so a controller is taken in on a network of its own. Raises Invalid.
    """
    try:
        told = _ask("POST", f"{url_of(address)}/claim", {"key": key.hex()})
    except NoAnswer:
        raise Invalid.of("controller.no_answer", "address") from None
    return _plugs(told)


def _ask(method: str, url: str, body: dict[str, Any] | None) -> dict[str, Any]:
    deadline = time.monotonic() + TIMEOUT_SECONDS
    try:
        with httpx.Client(**CLIENT) as client, client.stream(method, url, json=body) as response:
            answer = bounded(response, deadline)
        if response.status_code == httpx.codes.CONFLICT:
            raise Invalid.of("controller.is_anothers", "address")
        if response.status_code != httpx.codes.OK:
            raise Invalid.of("controller.no_answer", "address")
        found = orjson.loads(answer)
    except (httpx.HTTPError, httpx.InvalidURL, NoAnswer, ValueError):
        raise Invalid.of("controller.no_answer", "address") from None
    if not isinstance(found, dict):
        raise Invalid.of("controller.no_answer", "address")
    return found


def _found(item: Any, known: dict[str, str]) -> FoundController:
    told = item if isinstance(item, dict) else {}
    address = f"standin:{_whole(told.get('number'))}"
    name = str(told.get("name", ""))[:LONGEST_TEXT]
    return FoundController(
        address, name, _plugs(told), bool(told.get("is_claimed")), known.get(address, "")
    )


def _plugs(told: dict[str, Any]) -> tuple[Plug, ...]:
    """Read the plugs that a controller tells of. Raises Invalid for what cannot be read."""
    plugs = told.get("plugs", [])
    if not isinstance(plugs, list) or len(plugs) > MOST_PLUGS:
        raise Invalid.of("controller.no_answer", "address")
    found = []
    for plug in plugs:
        if not isinstance(plug, dict) or not isinstance(plug.get("devices", []), list):
            raise Invalid.of("controller.no_answer", "address")
        told_of = plug.get("devices", [])
        devices = {field: True for name, field in DEVICES.items() if name in told_of}
        name = str(plug.get("name", ""))[:LONGEST_TEXT]
        found.append(Plug(_whole(plug.get("number")), name, **devices))
    if len({plug.number for plug in found}) < len(found):
        raise Invalid.of("controller.no_answer", "address")
    return tuple(found)


def _whole(value: Any) -> int:
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value < 2**15:
        raise Invalid.of("controller.no_answer", "address")
    return value

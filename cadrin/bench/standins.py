"""The test bench: what an operator does to the stand-ins, passed on to them."""

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

import httpx
from django.conf import settings

from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.made_up.laying import Laid, seed_of
from cadrin.core.made_up.showing import FaceShown, face_seed_of
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.sites.queries import controllers_within, door_names, doors_within, get_controller
from cadrin.sites.queries import readers as readers_of

if TYPE_CHECKING:
    from cadrin.sites.models import Controller

TIMEOUT_SECONDS = 10.0


def seen_by(actor: Actor) -> dict[str, Any]:
    """Return the stand-ins within the actor's reach. Raises NotFound where there is no
    test bench.
    """
    told = ask("GET", "")
    if not actor.scope.is_whole:
        told |= {"mail": None, "boxes": None}  # letters go to anybody
    readers = {row["id"]: row["name"] for row in readers_of(actor)}
    there = {item["id"]: item for item in told["controllers"]}
    return told | {
        "controllers": [
            _as_known(there[number], controller, readers)
            for controller in controllers_within(actor)
            if (number := number_of(controller.address)) in there
        ]
    }


def _as_known(
    item: dict[str, Any], controller: "Controller", readers: Mapping[int, str]
) -> dict[str, Any]:
    """Return a stand-in by Cadrin's id and names, with the readers within reach."""
    known = [
        reader | {"name": readers[reader["id"]]}
        for reader in item["readers"]
        if reader["id"] in readers
    ]
    names = door_names()
    doors = [door | {"name": names[door["id"]]} for door in item["doors"] if door["id"] in names]
    return item | {
        "id": controller.pk,
        "name": controller.name,
        "readers": known,
        "doors": doors,
    }


def number_of(address: str) -> int | None:
    """Return the number of the stand-in at an address; None where there is none."""
    kind, _, number = address.partition(":")
    return int(number) if kind == "standin" and number.isdecimal() else None


def ask_controller(
    actor: Actor, controller_id: int, method: str, path: str = "", body: Any = None
) -> dict[str, Any]:
    """Pass something on to one stand-in, and give what it is like then. Raises NotFound or Invalid."""
    controller = get_controller(actor, controller_id)
    number = number_of(controller.address)
    if number is None:
        raise NotFound.of("bench.no_such_device")
    found = ask(method, f"/controllers/{number}{path}", body)
    readers = {row["id"]: row["name"] for row in readers_of(actor)}
    return _as_known(found, controller, readers)


def move_door(actor: Actor, door_id: int, move: str) -> dict[str, Any]:
    """Open or shut a door by hand, or press the button on its way out. Raises NotFound or Invalid."""
    door = doors_within(actor).filter(pk=door_id).first()
    if door is None:
        raise NotFound.of("bench.no_such_device")
    path = f"/doors/{door_id}"
    return ask_controller(actor, door.controller_id, "POST", path, {"move": move})


class LaidFinger(NamedTuple):
    """A made-up finger that is laid on a reader; without a cardholder it is nobody's."""

    cardholder_id: int | None
    finger: Finger
    how: Laid


class ShownFace(NamedTuple):
    """A made-up face that is shown to a reader; without a cardholder it is a stranger's."""

    cardholder_id: int | None
    how: FaceShown


class ToShow(NamedTuple):
    """What is presented to a reader together."""

    raw: str = ""
    typed: str | None = None
    plate: str | None = None
    finger: LaidFinger | None = None
    face: ShownFace | None = None


def show(actor: Actor, reader_id: int, what: ToShow) -> dict[str, Any]:
    """Show a card, type a PIN, drive up with a plate or lay a finger at a reader within reach.

    Whose it is is told to whoever may see everybody.

    Raises NotFound or Invalid.
    """
    if reader_id not in {row["id"] for row in readers_of(actor)}:
        raise NotFound.of("bench.no_such_device")
    for part in (what.finger, what.face):
        if part and part.cardholder_id is not None:
            get_cardholder(actor, part.cardholder_id)
    laid = what.finger and {
        "seed": seed_of(what.finger.cardholder_id or 0, what.finger.finger),
        "how": what.finger.how.value,
    }
    face = what.face and {
        "seed": face_seed_of(what.face.cardholder_id or 0),
        "how": what.face.how.value,
    }
    body = {"reader": reader_id, **what._asdict(), "finger": laid, "face": face}
    shown = ask("POST", "/reads", body)
    name = shown.get("name", "") if actor.scope.is_whole else ""
    open_seconds = shown.get("open_seconds", 0)
    return {
        "is_on": shown["is_on"],
        "reason": shown.get("reason"),
        "name": name,
        "open_seconds": open_seconds,
    }


def unbox(actor: Actor) -> int:
    """Take a new controller out of its box, and return its number. Raises NotFound where there is no
    test bench, or none within the actor's reach.
    """
    if not actor.scope.is_whole:
        raise NotFound.of("bench.no_such_device")
    return int(ask("POST", "/controllers")["number"])


def switch_mail(actor: Actor, is_on: bool) -> dict[str, Any]:
    """Switch the mail server on or off. Raises NotFound where there is none, or none within the
    actor's reach.
    """
    if not actor.scope.is_whole:
        raise NotFound.of("bench.no_such_device")
    return ask("PATCH", "/mail", {"is_on": is_on})


def ask(method: str, path: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
    """Pass something on to the stand-ins and give their answer.

    Raises NotFound where there is no test bench, and Invalid for what it does not take.
    """
    if not settings.STANDINS_URL:
        raise NotFound.of("bench.not_there")
    try:
        answer = httpx.request(
            method,
            f"{settings.STANDINS_URL}/bench{path}",
            json=body,
            timeout=TIMEOUT_SECONDS,
            trust_env=False,
            headers={"Authorization": f"Bearer {settings.STANDINS_KEY}"},
        )
    except httpx.HTTPError as error:
        raise NotFound.of("bench.does_not_answer") from error
    if answer.status_code == httpx.codes.NOT_FOUND:
        raise NotFound.of("bench.no_such_device")
    if answer.is_error:
        raise Invalid.of("bench.refused", None, message=answer.text[:200])
    found: dict[str, Any] = answer.json()
    return found

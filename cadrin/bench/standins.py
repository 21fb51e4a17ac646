"""The test bench: what an operator does to the stand-ins, passed on to them."""

from typing import Any, NamedTuple

import httpx
from django.conf import settings
from django.utils import timezone

from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotFound
from cadrin.core.made_up.laying import Laid, seed_of
from cadrin.core.made_up.showing import FaceShown, face_seed_of
from cadrin.delivery.controllers import controllers
from cadrin.operators.actor import Actor
from cadrin.people.queries import get_cardholder
from cadrin.sites.queries import readers as readers_of

TIMEOUT_SECONDS = 10.0


def seen_by(actor: Actor) -> dict[str, Any]:
    """Return the stand-ins within the actor's reach. Raises NotFound where there is no
    test bench.
    """
    told = ask("GET", "")
    if not actor.scope.is_whole:
        told |= {"mail": None}  # letters go to anybody
    if actor.scope.sites is None:
        return told
    seen = {row["id"] for row in controllers(actor, timezone.now())}
    readers = {row["id"] for row in readers_of(actor)}
    return told | {
        "controllers": [
            item | {"readers": [reader for reader in item["readers"] if reader["id"] in readers]}
            for item in told["controllers"]
            if item["id"] in seen
        ]
    }


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

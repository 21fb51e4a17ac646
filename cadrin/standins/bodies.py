"""What comes to the test bench and goes out from it."""

from typing import Any, NamedTuple

import orjson
from PIL import Image as Pillow
from starlette.exceptions import HTTPException
from starlette.requests import Request

from cadrin.core.credentials.card.raw_reads import RawRead
from cadrin.core.credentials.factors import Evidence
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.plate.plate import normalized_plate
from cadrin.core.errors import Invalid
from cadrin.core.made_up.laying import Laid, lay
from cadrin.core.made_up.showing import FaceShown, show_face
from cadrin.core.records.biometrics import face_at_door, sample_at_door
from cadrin.standins.controller import Controller

JSON = "application/json"
LONGEST_DELAY_SECONDS = 60.0
LONGEST_TYPED = 20


def shown(controller: Controller) -> dict[str, Any]:
    return {
        "id": controller.setup.id,
        "name": controller.setup.name,
        "is_desk": controller.setup.is_desk,
        "is_on": controller.is_on,
        "delay_seconds": controller.delay_seconds,
        "clock_off_seconds": controller.clock_off_seconds,
        "held": controller.state()["held"],
        "capacity": controller.setup.capacity,
        "readers": [
            {
                "id": id_,
                "name": name,
                "has_keypad": controller.has("keypads", id_),
                "has_camera": controller.has("cameras", id_),
                "has_finger_scanner": controller.has("scanners", id_),
                "has_face_reader": controller.has("face_readers", id_),
            }
            for id_, name in controller.readers().items()
        ],
        "doors": controller.house.shown(controller.clock()),
    }


async def json_in(request: Request) -> dict[str, Any]:
    if request.headers.get("Content-Type", "") != JSON:
        raise HTTPException(415, "not JSON")
    try:
        body = orjson.loads(await request.body())
    except ValueError as error:
        raise HTTPException(400, "not JSON") from error
    if not isinstance(body, dict):
        raise HTTPException(400, "not a JSON object")
    return body


class Shown(NamedTuple):
    """What is presented to a reader, and the finger that is laid on it."""

    reader_id: int
    evidence: Evidence
    finger: Picture | None = None
    face: Pillow.Image | None = None


def presented_in(body: dict[str, Any]) -> Shown:
    """Read what is presented to which reader: raw bits, what is typed, what a camera sees, a
    made-up finger that is laid or face that is shown somehow, or several of them.
    """
    try:
        raw, typed, plate = body.get("raw"), body.get("typed"), body.get("plate")
        evidence = Evidence(
            RawRead.parse(str(raw)) if raw else None,
            None if typed is None else str(typed)[:LONGEST_TYPED],
            normalized_plate(str(plate)[:LONGEST_TYPED]) if plate else None,
        )
        asked = body.get("finger")
        finger = lay(int(asked["seed"]), Laid(asked["how"])) if asked else None
        if finger is not None:
            evidence = evidence._replace(finger=sample_at_door(finger))
        shown = body.get("face")
        face = show_face(int(shown["seed"]), FaceShown(shown["how"])) if shown else None
        if face is not None:
            evidence = evidence._replace(face=face_at_door(face))
        if not evidence.factors:
            raise ValueError("nothing is presented")
        return Shown(int(body["reader"]), evidence, finger, face)
    except (Invalid, KeyError, TypeError, ValueError) as error:
        raise HTTPException(
            400,
            "a read is a reader with raw bits as 26:2F764DD, typed digits, a plate, a finger, a face",
        ) from error

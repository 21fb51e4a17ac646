"""Pictures of a face while they are taken: from the portrait, the camera at the desk, a file, or at a
reader for faces.

Each time the best picture so far is the one that would be used.
"""

import io
from base64 import b64encode
from datetime import datetime

from PIL import Image as Pillow

from cadrin.biometrics.captures import MOST_SHOWN, begin
from cadrin.biometrics.models import Capture
from cadrin.biometrics.settings import face_rule
from cadrin.core.credentials.face.enrolment import FaceShot, problem_with_shot, shot_of
from cadrin.core.credentials.face.template import FaceTemplate, face_in, record_of_face
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid, Problem
from cadrin.operators.actor import Actor
from cadrin.operators.sealing import seal, unseal
from cadrin.photos.commands import original_of
from cadrin.photos.reading import read_image

FACE = "face"
"""The kind of what a reader for faces tells."""
_SHOWN_PIXELS = 480


def begin_face_capture(
    actor: Actor, reader_id: int | None, holder_id: int | None, at: datetime
) -> str:
    """Wait for pictures of a face, and return the token by which they are asked for and used.

    Whoever waited at that reader before waits no more. Raises NotPermitted, and NotFound for a
    script.
    """
    return begin(
        actor,
        reader_id,
        at,
        holder_id=holder_id,
        factor=Factor.FACE,
        least_quality=face_rule().least_quality,
    )


def take_picture(capture: Capture, content: bytes, event: str = "") -> None:
    """Measure a picture and keep it if it is the best so far, or why it was not taken; nothing is
    raised for a bad one.
    """
    shot, shown = FaceShot(None, 0, ()), b""
    problem: Problem | None
    try:
        picture = read_image(content)
        shot, shown = shot_of(picture), _small(picture)
        problem = problem_with_shot(shot, face_rule())
    except Invalid as refused:
        problem = refused.problems[0]
    advice = shot.found[0].finding.value if shot.found else None
    capture.presses = [
        *capture.presses,
        {
            "quality": shot.quality,
            "advice": advice,
            "event": event,
            "problem": problem and {"code": problem.code, "params": problem.params},
        },
    ][-MOST_SHOWN:]
    best = face_taken(capture)
    if problem is None and shot.template and (best is None or shot.quality > best.quality):
        capture.sealed = seal(record_of_face(shot.template))
    capture.sealed_picture = seal(b64encode(shown).decode()) if shown else ""
    capture.save()


def take_portrait(actor: Actor, capture: Capture, image_token: str) -> None:
    """Take the face from a portrait, by its token. Raises NotFound."""
    take_picture(capture, original_of(actor, image_token))


def face_taken(capture: Capture) -> FaceTemplate | None:
    """Return the best face so far, or None."""
    return face_in(unseal(capture.sealed)) if capture.sealed else None


def _small(picture: Pillow.Image) -> bytes:
    file = io.BytesIO()
    shown = picture.copy()
    shown.thumbnail((_SHOWN_PIXELS, _SHOWN_PIXELS))
    shown.save(file, "PNG")
    return file.getvalue()

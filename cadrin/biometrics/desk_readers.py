"""What readers at desks tell of fingers and faces, for whoever waits for it there."""

from base64 import b64decode
from datetime import datetime

import orjson

from cadrin.biometrics.captures import forget_captures, note_press, take_press
from cadrin.biometrics.face_captures import FACE, take_picture
from cadrin.biometrics.models import Capture
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.enrolment import FingerPress
from cadrin.core.errors import Problem


def keep_press(reader_id: int, event: str, told: bytes, at: datetime) -> None:
    """Take what a reader told of a finger or a face, if somebody waits for it there. ``event`` names
    what was told: told twice it counts once.
    """
    forget_captures(at)
    capture = Capture.objects.filter(reader_id=reader_id).order_by("-id").first()
    if capture is None or any(press.get("event") == event for press in capture.presses):
        return
    try:
        said = orjson.loads(told)
        kind, content = str(said["kind"]), b64decode(said["content"], validate=True)
    except (KeyError, TypeError, ValueError):
        unreadable = Problem("finger_picture.not_readable", None)
        note_press(capture, FingerPress(None, 0, None), unreadable, event=event)
        return
    if (kind == FACE) is not (capture.factor == Factor.FACE):
        return  # what was waited for is another thing
    if kind == FACE:
        take_picture(capture, content, event)
    else:
        take_press(capture, kind, content, event)

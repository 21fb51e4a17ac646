"""What a desk's readers tell of fingers and faces: a picture, or a template alone."""

import io
from base64 import b64encode

import orjson
from PIL import Image as Pillow

from cadrin.core.credentials.finger.picture import write_picture
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.records.biometrics import record_at_scanner


def pressed(finger: Picture, *, gives_pictures: bool) -> bytes:
    """Write what a scanner makes of a finger."""
    if gives_pictures:
        return _told("picture", write_picture(finger))
    return _told("record", record_at_scanner(finger))


def shown_face(face: Pillow.Image) -> bytes:
    """Write what a reader for faces sees."""
    file = io.BytesIO()
    face.save(file, "JPEG", quality=92)
    return _told("face", file.getvalue())


def _told(kind: str, content: bytes) -> bytes:
    return orjson.dumps({"kind": kind, "content": b64encode(content).decode()})

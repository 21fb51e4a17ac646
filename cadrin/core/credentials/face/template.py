"""The template of a face, and how it is written: Cadrin's own record, as no open one is as short."""

import struct
from base64 import b64decode, b64encode
from dataclasses import dataclass

import numpy as np

from cadrin.core.credentials.face.descriptor import NUMBERS, Descriptor
from cadrin.core.errors import Invalid

_MAGIC = b"CFT1"
_HEADER = struct.Struct(">4sB")
_LENGTH = _HEADER.size + 4 * NUMBERS
_LARGEST = 2.0
"""No number of a face is larger: together they have the length of about 1.4."""


@dataclass(frozen=True, slots=True, eq=False)
class FaceTemplate:
    """A face: its 128 numbers, and the quality of the picture they are from, 0 to 100."""

    numbers: Descriptor
    quality: int


def record_of_face(template: FaceTemplate) -> str:
    """Write a face as it lies in records and in Cadrin: 4 letters, the quality, 128 numbers of 4
    bytes (big-endian), all as base64.
    """
    numbers = template.numbers.astype(">f4").tobytes()
    return b64encode(_HEADER.pack(_MAGIC, template.quality) + numbers).decode()


def face_in(record: str) -> FaceTemplate:
    """Read a face that was written so. Raises Invalid, and nothing else, for whatever is wrong."""
    try:
        content = b64decode(record, validate=True)
    except ValueError as error:
        raise Invalid.of("face_record.not_a_record", "record") from error
    if len(content) != _LENGTH or not content.startswith(_MAGIC):
        raise Invalid.of("face_record.not_a_record", "record")
    quality = _HEADER.unpack_from(content)[1]
    numbers = np.frombuffer(content, ">f4", offset=_HEADER.size).astype(np.float32)
    if quality > 100 or not np.isfinite(numbers).all() or np.abs(numbers).max() > _LARGEST:
        raise Invalid.of("face_record.not_a_record", "record")
    return FaceTemplate(numbers, quality)

"""Finger minutiae as ISO/IEC 19794-2:2005 records: written, and read with suspicion.

The general header has 24 bytes and each view 4, big-endian; each minutia has 6 bytes and each view
ends with the length of what else is said (7.3 to 7.5, from memory, held against records that a public
domain library writes and reads).
"""

import struct
from typing import NamedTuple

from cadrin.core.credentials.finger.minutiae import Minutia, MinutiaKind
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.template import MOST, PIXELS_PER_CM, FingerTemplate
from cadrin.core.errors import Invalid, Problem

_HEADER = struct.Struct(">4s4sLHHHHHBB")
_VIEW = struct.Struct(">BBBB")
_MINUTIA = struct.Struct(">HHBB")
_EXTENDED = struct.Struct(">H")
_MAGIC, _VERSION = b"FMR\0", b" 20\0"
LARGEST = 64 * 1024
"""Bytes of a record that is read; ten fingers with every minutia there can be have 16,000."""
_MOST_VIEWS = 160
_RESOLUTION_SPREAD = 2
"""Pixels a centimetre by which a record may differ from 500 an inch."""
_UNKNOWN_FINGER = 0


class FingerView(NamedTuple):
    """One finger of a record; None where the record does not say which it is."""

    finger: Finger | None
    template: FingerTemplate


def _wrong(what: str, **params: int) -> Invalid:
    return Invalid([Problem(f"finger_record.{what}", "record", params)])


def encode_fingers(views: tuple[FingerView, ...]) -> bytes:
    """Write one record of one finger or several. Raises Invalid for none, or where their pictures
    differ in size: a record has one size.
    """
    if not views or len(views) > _MOST_VIEWS:
        raise _wrong("views")
    sizes = {(view.template.width, view.template.height) for view in views}
    if len(sizes) > 1:
        raise _wrong("sizes_differ")
    (width, height) = sizes.pop()
    body = b"".join(
        _encode_view(view, _number_of(views, place)) for place, view in enumerate(views)
    )
    length = _HEADER.size + len(body)
    resolution = (PIXELS_PER_CM, PIXELS_PER_CM)
    head = (_MAGIC, _VERSION, length, 0, width, height, *resolution, len(views), 0)
    return _HEADER.pack(*head) + body


def _number_of(views: tuple[FingerView, ...], place: int) -> int:
    """Return which view of the same finger it is, from 0."""
    return sum(view.finger == views[place].finger for view in views[:place]) % 16


def _encode_view(view: FingerView, number: int) -> bytes:
    minutiae = view.template.minutiae
    finger = view.finger or _UNKNOWN_FINGER
    live_scan_plain = 0
    head = _VIEW.pack(finger, number << 4 | live_scan_plain, view.template.quality, len(minutiae))
    body = b"".join(_MINUTIA.pack(m.kind << 14 | m.x, m.y, m.angle, m.quality) for m in minutiae)
    return head + body + _EXTENDED.pack(0)


def decode_fingers(record: bytes) -> tuple[FingerView, ...]:
    """Read every finger of a record. Raises Invalid, and nothing else, for whatever is wrong."""
    if len(record) > LARGEST:
        raise _wrong("too_long", most=LARGEST)
    if len(record) < _HEADER.size or record[:4] != _MAGIC:
        raise _wrong("not_a_record")
    head = _HEADER.unpack_from(record)
    _, version, length, _, width, height, across, along, count, _ = head
    if version != _VERSION:
        raise _wrong("version")
    if length != len(record):
        raise _wrong("length", said=length, found=len(record))
    if max(abs(across - PIXELS_PER_CM), abs(along - PIXELS_PER_CM)) > _RESOLUTION_SPREAD:
        raise _wrong("resolution", across=across, along=along)
    if not 1 <= count <= _MOST_VIEWS:
        raise _wrong("views")
    views, place = [], _HEADER.size
    for _ in range(count):
        view, place = _decode_view(record, place, width, height)
        views.append(view)
    if place != len(record):
        raise _wrong("trailing_bytes", count=len(record) - place)
    return tuple(views)


def _decode_view(record: bytes, place: int, width: int, height: int) -> tuple[FingerView, int]:
    try:
        finger, _, quality, count = _VIEW.unpack_from(record, place)
        place += _VIEW.size
        if count > MOST:
            raise _wrong("minutiae_count", found=count)
        rows = [_MINUTIA.unpack_from(record, place + n * _MINUTIA.size) for n in range(count)]
        place += count * _MINUTIA.size
        (extended,) = _EXTENDED.unpack_from(record, place)
    except struct.error as error:
        raise _wrong("ends_early") from error
    if finger > Finger.LEFT_LITTLE:
        raise _wrong("finger", found=finger)
    template = FingerTemplate(width, height, tuple(map(_minutia, rows)), quality)
    view = FingerView(Finger(finger) if finger else None, template)
    return view, place + _EXTENDED.size + extended


def _minutia(row: tuple[int, int, int, int]) -> Minutia:
    kind_x, reserved_y, angle, quality = row
    kind = kind_x >> 14
    if kind not in tuple(MinutiaKind) or reserved_y >> 14:
        raise _wrong("minutia_kind")
    return Minutia(
        MinutiaKind(kind), kind_x & 0x3FFF, reserved_y & 0x3FFF, angle, min(quality, 100)
    )

"""Templates in the record of a cardholder, and the templates that a controller compares with."""

from base64 import b64decode, b64encode
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import numpy as np
from PIL import Image as Pillow

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import (
    AGAINST_A_FACE,
    AGAINST_A_FINGER,
    Against,
    Biometric,
    Sample,
)
from cadrin.core.credentials.card.room import Memory
from cadrin.core.credentials.face.descriptor import NUMBERS, Descriptor
from cadrin.core.credentials.face.enrolment import FaceRule, shot_of
from cadrin.core.credentials.face.search import nearest_faces
from cadrin.core.credentials.face.template import face_in
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.credentials.finger.comparison import Prints, prints_of
from cadrin.core.credentials.finger.enrolment import FingerRule, press_of
from cadrin.core.credentials.finger.iso_record import FingerView, decode_fingers, encode_fingers
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.finger.search import Gallery
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.errors import Invalid
from cadrin.core.records.fields import (
    decode_span,
    encode_span,
    instant,
    only,
    without_defaults,
)
from cadrin.core.records.keys import Body
from cadrin.core.validity import Span

_FAR = 1.0
"""No face has such numbers: they are far from every other."""
AGAINST: Mapping[Factor, Against] = {
    Factor.FINGER: AGAINST_A_FINGER,
    Factor.FACE: AGAINST_A_FACE,
}


def record_of_finger(view: FingerView) -> str:
    """Write a finger as it lies in records and in Cadrin: an open record, as base64."""
    return b64encode(encode_fingers((view,))).decode()


def finger_in(record: str) -> FingerView:
    """Read a finger that was written so. Raises Invalid."""
    try:
        content = b64decode(record, validate=True)
    except ValueError as error:
        raise Invalid.of("finger_record.not_a_record", "record") from error
    return decode_fingers(content)[0]


def encode_biometric(template: Biometric, memory: Memory) -> Body:
    """Write a template; of one that is suspended only that there is one."""
    more = {
        "record": None if template.is_suspended else template.record,
        "suspended": template.is_suspended,
        "duress": template.is_duress,
        **encode_span(template.span, memory),
        "agreed_to": encode_span(template.agreed, memory)["to"],
    }
    return {"id": template.id} | without_defaults(more)


def decode_biometric(factor: Factor, body: Body) -> Biometric:
    """Read a template. Raises Invalid, KeyError, TypeError or ValueError, for a record of a finger
    or a face that is none as well.
    """
    only(body, ("id", "record", "suspended", "duress", "from", "to", "agreed_to"))
    is_suspended = bool(body.get("suspended"))
    record = "" if is_suspended else str(body["record"])
    if not is_suspended:
        (finger_in if factor is Factor.FINGER else face_in)(record)
    return Biometric(
        int(body["id"]),
        record,
        AGAINST[factor],
        Span(None, instant(body.get("agreed_to"))),
        decode_span(body),
        is_suspended,
        bool(body.get("duress")),
    )


class FingerSample(NamedTuple):
    """A finger that was laid on a reader, ready to be compared."""

    prints: Prints


def sample_of(template: FingerTemplate) -> FingerSample:
    """Make a finger ready to be compared."""
    return FingerSample(prints_of(template.minutiae))


def sample_at_door(picture: Picture) -> FingerSample:
    """Make what a reader sees ready to be compared; what it cannot make out is like nobody's."""
    try:
        template = press_of(picture).template
    except Invalid:
        template = None
    return FingerSample(prints_of(template.minutiae if template else ()))


def record_at_scanner(picture: Picture) -> bytes:
    """Return what a scanner that gives no pictures tells of a finger: an open record, or nothing
    where it sees none.
    """
    try:
        template = press_of(picture).template
    except Invalid:
        template = None
    return encode_fingers((FingerView(None, template),)) if template else b""


class FaceSample(NamedTuple):
    """A face that was shown to a reader: what it makes of it."""

    numbers: Descriptor


def face_at_door(picture: Pillow.Image) -> FaceSample:
    """Make what a reader sees ready to be compared; what it cannot make out is like nobody's."""
    template = shot_of(picture).template
    return FaceSample(template.numbers if template else np.full(NUMBERS, _FAR, np.float32))


class _Held:
    """The templates of one factor that a controller holds, each with its cardholder."""

    def __init__(self) -> None:
        self._known: dict[int, tuple[Biometric, Holder]] = {}

    def __len__(self) -> int:
        return len(self._known)

    def _put(self, holder: Holder, templates: Iterable[Biometric]) -> list[Biometric]:
        """Take the templates that have a record, and return them."""
        held = [template for template in templates if template.record]
        self._known.update({template.id: (template, holder) for template in held})
        return held

    def _remove(self, holder: Holder, templates: Iterable[Biometric]) -> list[int]:
        gone = [
            template.id
            for template in templates
            if (known := self._known.get(template.id)) and known[1].id == holder.id
        ]
        for id_ in gone:
            del self._known[id_]
        return gone


class HeldFingers(_Held):
    """Fingers, ready to be compared. What is one to many is looked through; one to one compares
    with one cardholder's.
    """

    def __init__(self) -> None:
        super().__init__()
        self._prints: dict[int, Prints] = {}
        self._gallery: Gallery | None = None

    def put(self, holder: Holder) -> None:
        """Take the fingers of a cardholder, in place of those that were theirs."""
        for template in self._put(holder, holder.fingers):
            self._prints[template.id] = prints_of(finger_in(template.record).template.minutiae)
            self._gallery = None

    def remove(self, holder: Holder) -> None:
        for id_ in self._remove(holder, holder.fingers):
            del self._prints[id_]
            self._gallery = None

    def matching(
        self, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return the template that is most like a sample, and like enough, with its cardholder."""
        if not isinstance(sample, FingerSample):
            return None
        asked = policy.match_needed(Factor.FINGER)
        threshold = FingerRule().match if asked is None else asked / 100
        if holder is None:
            if self._gallery is None:
                self._gallery = Gallery(self._prints)
            gallery = self._gallery
        else:
            theirs = (template.id for template in holder.fingers)
            gallery = Gallery({id_: self._prints[id_] for id_ in theirs if id_ in self._prints})
        found = gallery.search(sample.prints, threshold)
        return self._known[found[0].key] if found else None


class HeldFaces(_Held):
    """Faces, ready to be compared."""

    def __init__(self) -> None:
        super().__init__()
        self._numbers: dict[int, Descriptor] = {}

    def put(self, holder: Holder) -> None:
        """Take the faces of a cardholder, in place of those that were theirs."""
        for template in self._put(holder, holder.faces):
            self._numbers[template.id] = face_in(template.record).numbers

    def remove(self, holder: Holder) -> None:
        for id_ in self._remove(holder, holder.faces):
            del self._numbers[id_]

    def matching(
        self, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return the template that is nearest to a sample, and near enough, with its cardholder."""
        if not isinstance(sample, FaceSample):
            return None
        asked = policy.match_needed(Factor.FACE)
        farthest = FaceRule().match if asked is None else asked / 100
        wanted = self._numbers if holder is None else {face.id for face in holder.faces}
        nearest = nearest_faces(
            sample.numbers,
            {id_: self._numbers[id_] for id_ in wanted if id_ in self._numbers},
            farthest,
        )
        return self._known[nearest[0].key] if nearest else None

"""Templates in the record of a cardholder, and the templates that a controller compares with."""

from base64 import b64decode, b64encode
from collections.abc import Mapping
from typing import NamedTuple

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import Biometric, Sample
from cadrin.core.credentials.factors import Factor, ReaderPolicy
from cadrin.core.credentials.finger.comparison import Prints, prints_of
from cadrin.core.credentials.finger.enrolment import FingerRule, press_of
from cadrin.core.credentials.finger.iso_record import FingerView, decode_fingers, encode_fingers
from cadrin.core.credentials.finger.ridges import Picture
from cadrin.core.credentials.finger.search import Gallery
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.decision.reasons import Reason
from cadrin.core.errors import Invalid
from cadrin.core.records.fields import decode_span, encode_span, only, without_defaults
from cadrin.core.records.keys import Body

WITHOUT_CONSENT: Mapping[Factor, Reason] = {
    Factor.FINGER: Reason.FINGER_WITHOUT_CONSENT,
    Factor.FACE: Reason.FACE_WITHOUT_CONSENT,
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


def encode_biometric(template: Biometric, latest: int | None) -> Body:
    more = {"duress": template.is_duress, **encode_span(template.span, latest)}
    return {"id": template.id, "record": template.record} | without_defaults(more)


def decode_biometric(factor: Factor, body: Body) -> Biometric:
    """Read a template. Raises Invalid, KeyError, TypeError or ValueError, for a record of a finger
    that is none as well.
    """
    only(body, ("id", "record", "duress", "from", "to"))
    record = str(body["record"])
    if factor is Factor.FINGER:
        finger_in(record)
    return Biometric(
        int(body["id"]),
        record,
        WITHOUT_CONSENT[factor],
        decode_span(body),
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


class HeldTemplates:
    """The templates of one factor that a controller holds, each with its cardholder, ready to be
    compared. What is one to many is looked through; one to one compares with one cardholder's.
    """

    def __init__(self) -> None:
        self._known: dict[int, tuple[Biometric, Holder]] = {}
        self._prints: dict[int, Prints] = {}
        self._gallery: Gallery | None = None

    def put(self, holder: Holder) -> None:
        """Take the templates of a cardholder, in place of those that were theirs."""
        for template in holder.fingers:
            self._known[template.id] = (template, holder)
            self._prints[template.id] = prints_of(finger_in(template.record).template.minutiae)
            self._gallery = None

    def __len__(self) -> int:
        return len(self._known)

    def remove(self, holder: Holder) -> None:
        for template in holder.fingers:
            known = self._known.get(template.id)
            if known is not None and known[1].id == holder.id:
                del self._known[template.id], self._prints[template.id]
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
            theirs = {template.id for template in holder.fingers}
            gallery = Gallery({id_: self._prints[id_] for id_ in theirs if id_ in self._prints})
        found = gallery.search(sample.prints, threshold)
        return self._known[found[0].key] if found else None

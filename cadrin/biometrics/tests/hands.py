"""Fingers to test with: made up from seeds, each pressed several times, and taken."""

from functools import cache

from cadrin.biometrics.captures import CaptureWanted, begin_capture, get_capture, take_file
from cadrin.biometrics.drafts import BiometricDraft, ConsentDraft, FingerDraft
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.iso_record import FingerView, encode_fingers
from cadrin.core.credentials.finger.picture import write_picture
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.records.biometrics import FingerSample, sample_of
from cadrin.core.tests.test_fingers import picture, template
from cadrin.operators.actor import Actor
from tests.house import NOON

CONSENT = ConsentDraft((Factor.FINGER,), HowGiven.TICK, "en")


@cache
def record(seed: int, press: int) -> bytes:
    """Return a press of a finger as an open record."""
    return encode_fingers((FingerView(None, template(seed, press)),))


@cache
def png(seed: int, press: int) -> bytes:
    return write_picture(picture(seed, press))


def sample(seed: int, press: int = 7) -> FingerSample:
    """Return a finger that is laid on a door's reader."""
    return sample_of(template(seed, press))


def taken(actor: Actor, seed: int, finger: Finger, holder_id: int | None = None) -> str:
    """Take all presses of a finger, and return the token of the capture."""
    token = begin_capture(actor, CaptureWanted(finger, None, holder_id), NOON)
    for press in range(3):
        take_file(get_capture(actor, token), record(seed, press))
    return token


def with_finger(
    actor: Actor, seed: int, finger: Finger = Finger.RIGHT_INDEX, holder_id: int | None = None
) -> BiometricDraft:
    """Return a finger that was just taken, with consent."""
    draft = FingerDraft(None, finger, capture=taken(actor, seed, finger, holder_id))
    return BiometricDraft((draft,), CONSENT)

"""What the site has decided about fingers and consents."""

from dataclasses import fields

from cadrin.biometrics.models import BiometricSettings
from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.finger.enrolment import FingerRule

_settings = ObjectsByIds(BiometricSettings, lambda: BiometricSettings.objects.filter(pk__among=IDS))


def biometric_settings() -> BiometricSettings:
    """Return the site's decisions; those of a new house where nothing was decided yet."""
    return next(iter(_settings([1])), None) or BiometricSettings(pk=1)


def finger_rule(kept: BiometricSettings | None = None) -> FingerRule:
    """Return the rule for fingers as the core takes it."""
    stored = (kept or biometric_settings()).finger_rule
    known = {field.name for field in fields(FingerRule)}
    return FingerRule(**{name: value for name, value in stored.items() if name in known})


def face_rule(kept: BiometricSettings | None = None) -> FaceRule:
    """Return the rule for faces as the core takes it."""
    stored = (kept or biometric_settings()).face_rule
    known = {field.name for field in fields(FaceRule)}
    return FaceRule(**{name: value for name, value in stored.items() if name in known})

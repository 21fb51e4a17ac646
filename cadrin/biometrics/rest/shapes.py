"""What comes in and goes out about fingers, consents and being let in by card alone."""

from typing import Any

from rest_framework import serializers

from cadrin.biometrics.drafts import (
    BiometricDraft,
    CardAloneDraft,
    ConsentDraft,
    FaceDraft,
    FingerDraft,
    terms_of,
)
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.face.enrolment import MOST_TEMPLATES
from cadrin.core.credentials.face.portrait import Finding
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.quality import Advice
from cadrin.operators.rest.base import ProblemShape, Shape, WholeField, rows_of
from cadrin.sites.rest.fields import end, instant, text

FINGERS = [finger.name.lower() for finger in Finger]
BIOMETRIC_FACTORS = sorted(factor.value for factor in BIOMETRIC)
ADVICE = [advice.value for advice in Advice]
FINDINGS = [finding.value for finding in Finding]
HOW_GIVEN = [how.value for how in HowGiven]


def finger_named(name: str) -> Finger:
    return Finger[name.upper()]


class TermsShape(Shape):
    """When a finger or a face counts: at its expiry it goes, and while it is suspended no door holds
    it.
    """

    label = text()  # type: ignore[assignment]
    activation_at = instant()
    expiry_at = end()
    is_suspended = serializers.BooleanField(default=False)


class FingerShape(TermsShape):
    """A finger. ``id`` is null for a new one, which comes from a ``capture``, by its token."""

    id = WholeField(allow_null=True, default=None)
    finger = serializers.ChoiceField(choices=FINGERS)
    is_duress = serializers.BooleanField(default=False)
    capture = serializers.CharField(allow_blank=True, default="", max_length=50)
    despite_match = serializers.BooleanField(default=False)


class FaceShape(TermsShape):
    """A face. ``id`` is null for a new one, which comes from a ``capture``, by its token."""

    id = WholeField(allow_null=True, default=None)
    capture = serializers.CharField(allow_blank=True, default="", max_length=50)
    despite_match = serializers.BooleanField(default=False)


class NewConsentShape(Shape):
    """A consent that is given now; ``proof`` is the token of a signature or a scan."""

    factors = serializers.ListField(
        child=serializers.ChoiceField(choices=BIOMETRIC_FACTORS), max_length=len(BIOMETRIC)
    )
    how = serializers.ChoiceField(choices=HOW_GIVEN)
    language = serializers.CharField(max_length=10)
    proof = serializers.CharField(allow_blank=True, default="", max_length=50)


class CardAloneShape(Shape):
    """Being let in by card alone where a finger or a face is asked."""

    reason = text()
    expiry_at = end()


class BiometricsShape(Shape):
    """Fingers, a new consent, and being let in by card alone."""

    fingers = rows_of(FingerShape, len(Finger), default=list)
    new_consent = NewConsentShape(allow_null=True, default=None)
    card_alone = CardAloneShape(allow_null=True, default=None)
    faces = rows_of(FaceShape, MOST_TEMPLATES, default=list)


def biometric_draft(values: dict[str, Any] | None) -> BiometricDraft | None:
    """Return what was sent; None leaves everything as it is."""
    if values is None:
        return None
    consent, alone = values["new_consent"], values["card_alone"]
    return BiometricDraft(
        tuple(
            FingerDraft(**item | {"finger": finger_named(item["finger"])})
            for item in values["fingers"]
        ),
        consent
        and ConsentDraft(
            tuple(Factor(name) for name in consent["factors"]),
            HowGiven(consent["how"]),
            consent["language"],
            consent["proof"],
        ),
        alone and CardAloneDraft(**alone),
        tuple(FaceDraft(**item) for item in values["faces"]),
    )


def biometrics_out(draft: BiometricDraft | None) -> dict[str, Any] | None:
    """Return it as it goes out: the other way of `biometric_draft`."""
    if draft is None:
        return None
    alone = draft.card_alone
    return {
        "fingers": [
            {
                "id": finger.id,
                "finger": finger.finger.name.lower(),
                "is_duress": finger.is_duress,
                **terms_of(finger),
                "capture": "",
                "despite_match": False,
            }
            for finger in draft.fingers
        ],
        "new_consent": None,
        "card_alone": alone and {"reason": alone.reason, "expiry_at": alone.expiry_at},
        "faces": [
            {"id": face.id, "capture": "", "despite_match": False, **terms_of(face)}
            for face in draft.faces
        ],
    }


class CaptureShape(Shape):
    """Which finger is to be taken, of whom, and at which reader; without one from files.

    ``least_quality`` below the site's needs a reason, and the permission for it.
    """

    finger = serializers.ChoiceField(choices=FINGERS)
    reader = WholeField(allow_null=True, default=None)
    cardholder = WholeField(allow_null=True, default=None)
    least_quality = WholeField(allow_null=True, default=None, min_value=0, max_value=100)
    lowered_because = text()


class PressShape(Shape):
    """One press: its quality from 0 to 100, what would make the next one better, and why it was not
    taken.
    """

    quality = serializers.IntegerField()
    advice = serializers.ChoiceField(choices=ADVICE, allow_null=True)
    problem = ProblemShape(allow_null=True)


class WhoseShape(Shape):
    """Whose finger it is already, for whoever may see that person; ``holder_id`` is null for
    others.
    """

    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField(allow_blank=True)
    finger = serializers.ChoiceField(choices=FINGERS, allow_null=True)
    is_same_person = serializers.BooleanField()


class CaptureState(Shape):
    """How far a capture is."""

    token = serializers.CharField()
    finger = serializers.ChoiceField(choices=FINGERS)
    wanted = serializers.IntegerField()
    taken = serializers.IntegerField()
    least_quality = serializers.IntegerField()
    presses = PressShape(many=True)
    has_picture = serializers.BooleanField()
    quality = serializers.IntegerField(allow_null=True)
    whose = WhoseShape(many=True)


class FaceCaptureShape(Shape):
    """Of whom a face is to be taken, and at which reader; without one from pictures."""

    reader = WholeField(allow_null=True, default=None)
    cardholder = WholeField(allow_null=True, default=None)


class PictureTaken(Shape):
    """One picture: its quality from 0 to 100, what was found, and why it was not taken."""

    quality = serializers.IntegerField()
    advice = serializers.ChoiceField(choices=FINDINGS, allow_null=True)
    problem = ProblemShape(allow_null=True)


class WhoseFaceShape(Shape):
    """Whose face it is already; ``holder_id`` is null for whoever may not see that person."""

    holder_id = serializers.IntegerField(allow_null=True)
    holder_name = serializers.CharField(allow_blank=True)


class FaceCaptureState(Shape):
    """How far a face is: the quality of the best picture so far, null before any was taken."""

    token = serializers.CharField()
    least_quality = serializers.IntegerField()
    quality = serializers.IntegerField(allow_null=True)
    pictures = PictureTaken(many=True)
    has_picture = serializers.BooleanField()
    whose = WhoseFaceShape(many=True)


class PortraitShape(Shape):
    """An image, by its token."""

    image = serializers.CharField(max_length=40)


class LikenessShape(Shape):
    """Whether an image still looks like the faces that are enrolled; null where there is nothing to
    compare.
    """

    is_alike = serializers.BooleanField(allow_null=True)


class TemplateShape(Shape):
    """What may be shown of a template; ``picture_until`` is null where no picture is kept."""

    id = serializers.IntegerField()
    factor = serializers.ChoiceField(choices=BIOMETRIC_FACTORS)
    finger = serializers.ChoiceField(choices=FINGERS, allow_null=True)
    quality = serializers.IntegerField()
    taken_at = serializers.DateTimeField()
    taken_by = serializers.CharField()
    picture_until = serializers.DateTimeField(allow_null=True)


class ConsentShape(Shape):
    """A consent and what became of it; ``gone_at`` is when the last controller confirmed that it
    holds nothing of it.
    """

    id = serializers.IntegerField()
    factors = serializers.ListField(child=serializers.ChoiceField(choices=BIOMETRIC_FACTORS))
    how = serializers.ChoiceField(choices=HOW_GIVEN)
    language = serializers.CharField()
    wording_version = serializers.IntegerField()
    wording = serializers.CharField()
    given_at = serializers.DateTimeField()
    taken_by = serializers.CharField()
    has_proof = serializers.BooleanField()
    is_in_force = serializers.BooleanField()
    expiry_at = serializers.DateTimeField(allow_null=True)
    withdrawn_at = serializers.DateTimeField(allow_null=True)
    gone_at = serializers.DateTimeField(allow_null=True)


class BiometricsOf(Shape):
    """What may be shown of a cardholder's templates and consents."""

    templates = TemplateShape(many=True)
    consents = ConsentShape(many=True)


class ReasonShape(Shape):
    reason = text()


class TokenShape(Shape):
    token = serializers.CharField()


class FileShape(Shape):
    file = serializers.FileField()


class FingerRuleShape(Shape):
    """What is asked of presses; ``agreement`` and ``match`` are how alike two prints must be."""

    least_quality = WholeField()
    presses = WholeField()
    agreement = serializers.FloatField()
    match = serializers.FloatField()


class FaceRuleShape(Shape):
    """What is asked of pictures of a face; ``match`` is how far apart two may be."""

    least_quality = WholeField()
    match = serializers.FloatField()


class FalseMatchesShape(Shape):
    """At a threshold in hundredths one in so many comparisons of two different ones is false, or
    fewer.
    """

    match = serializers.IntegerField()
    one_in = serializers.IntegerField()
    is_fewer = serializers.BooleanField()


class BiometricSettingsShape(Shape):
    """What the site has decided: about presses, how long templates are kept, how long a consent
    holds, and what is agreed to, by language. ``false_matches`` are those that each threshold
    stands for, as far as that was measured.
    """

    version = WholeField(min_value=1)
    rule = FingerRuleShape()
    face_rule = FaceRuleShape()
    kept_days_after_departure = WholeField()
    kept_picture_days = WholeField(allow_null=True)
    consent_days = WholeField(allow_null=True)
    wording = serializers.DictField(child=serializers.CharField(allow_blank=True))
    false_matches = serializers.DictField(
        child=serializers.ListField(child=FalseMatchesShape()), read_only=True
    )

"""Consents, templates of fingers and faces, presses that are being taken, and who goes without."""

from django.db import models
from django.db.models import Q

from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import BIOMETRIC, Factor

HOW_GIVEN = [(how.value, how.value) for how in HowGiven]
FACTORS = sorted((factor.value, factor.value) for factor in BIOMETRIC)


class ConsentWording(models.Model):
    """What somebody agrees to, in each language; each change is a new version, and those before it
    stay.
    """

    version = models.PositiveIntegerField(unique=True)
    texts = models.JSONField()  # by language
    made_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"version {self.version}"


class Consent(models.Model):
    """A cardholder's agreement to templates of some factors. What proves it is sealed."""

    holder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="consents"
    )
    covers_fingers = models.BooleanField(default=False)
    covers_faces = models.BooleanField(default=False)
    wording = models.ForeignKey(ConsentWording, on_delete=models.PROTECT, related_name="consents")
    language = models.CharField(max_length=10)
    how = models.CharField(max_length=10, choices=HOW_GIVEN)
    given_at = models.DateTimeField()
    taken_by = models.CharField(max_length=310)
    sealed_proof = models.TextField(blank=True)
    expiry_at = models.DateTimeField(null=True)
    withdrawn_at = models.DateTimeField(null=True)
    # when the last controller confirmed that it holds no template of theirs any more
    gone_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(
                fields=["withdrawn_at"],
                name="consent_not_gone_everywhere",
                condition=Q(gone_at=None),
            )
        ]

    def __str__(self) -> str:
        return f"consent of {self.holder_id}"


class Template(models.Model):
    """A template of a finger or a face: an open record, sealed."""

    holder = models.ForeignKey(
        "people.Cardholder", on_delete=models.CASCADE, related_name="templates"
    )
    factor = models.CharField(max_length=10, choices=FACTORS)
    # of a finger its code in ANSI/NIST-ITL 1; of a face its place among theirs
    position = models.PositiveSmallIntegerField()
    label = models.CharField(max_length=40, blank=True)
    sealed = models.TextField()
    quality = models.PositiveSmallIntegerField()
    taken_at = models.DateTimeField()
    taken_by = models.CharField(max_length=310)
    is_duress = models.BooleanField(default=False)
    # suspended, no door holds it; at its expiry it goes
    is_suspended = models.BooleanField(default=False)
    activation_at = models.DateTimeField(null=True)
    expiry_at = models.DateTimeField(null=True)
    # of a finger, where the site keeps pictures, until when it does
    sealed_picture = models.TextField(blank=True)
    picture_until = models.DateTimeField(null=True)
    # set while its cardholder has departed: then it goes
    kept_until = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["holder", "factor", "position"], name="one_template_at_a_position"
            )
        ]

    def __str__(self) -> str:
        return f"{self.factor} {self.position} of {self.holder_id}"


class Capture(models.Model):
    """Presses of one finger, or pictures of a face, that are being taken; the token is the operator's alone.

    ``presses`` are what may be shown: quality, advice and whether each was taken. ``sealed`` are
    the templates of those that were taken, and ``sealed_picture`` the latest picture: both go when
    the capture is used or too old.
    """

    token = models.CharField(max_length=50, unique=True)
    operator = models.ForeignKey("operators.Operator", on_delete=models.CASCADE, related_name="+")
    reader_id = models.BigIntegerField(null=True)
    holder_id = models.BigIntegerField(null=True)
    factor = models.CharField(max_length=10, choices=FACTORS, default=Factor.FINGER.value)
    # of a face 0
    finger = models.PositiveSmallIntegerField(default=0)
    least_quality = models.PositiveSmallIntegerField()
    lowered_because = models.CharField(max_length=200, blank=True)
    begun_at = models.DateTimeField()
    presses = models.JSONField(default=list)
    sealed = models.TextField(blank=True)
    sealed_picture = models.TextField(blank=True)
    # where the site keeps pictures, those of the presses that were taken
    sealed_pictures = models.TextField(blank=True)

    def __str__(self) -> str:
        return f"capture of finger {self.finger}"


class ConsentProof(models.Model):
    """A drawn signature or a scan that belongs to no consent yet; the token is the operator's
    alone.
    """

    token = models.CharField(max_length=50, unique=True)
    operator = models.ForeignKey("operators.Operator", on_delete=models.CASCADE, related_name="+")
    sealed = models.TextField()
    taken_at = models.DateTimeField()

    def __str__(self) -> str:
        return "proof of a consent"


class CardAlone(models.Model):
    """Somebody who is let in by card alone where a finger or a face is asked."""

    holder = models.OneToOneField(
        "people.Cardholder", on_delete=models.CASCADE, related_name="card_alone"
    )
    expiry_at = models.DateTimeField(null=True)
    reason = models.CharField(max_length=200)

    def __str__(self) -> str:
        return f"{self.holder_id} by card alone"


class BiometricSettings(models.Model):
    """What the site has decided about fingers and faces; there is one row."""

    finger_rule = models.JSONField(default=dict)  # as the core's FingerRule has it
    face_rule = models.JSONField(default=dict)  # as the core's FaceRule has it
    kept_days_after_departure = models.PositiveSmallIntegerField(default=0)
    # null where pictures of fingers are not kept
    kept_picture_days = models.PositiveSmallIntegerField(null=True)
    consent_days = models.PositiveSmallIntegerField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(name="one_row_of_biometric_settings", condition=Q(pk=1))
        ]

    def __str__(self) -> str:
        return "Biometric settings"

"""The demo's fingers and faces: made up from seeds, and taken as at a desk."""

import io
from dataclasses import replace
from datetime import datetime, timedelta

from cadrin.biometrics.captures import (
    CaptureWanted,
    begin_capture,
    get_capture,
    is_whole,
    take_file,
)
from cadrin.biometrics.drafts import (
    BiometricDraft,
    CardAloneDraft,
    ConsentDraft,
    FaceDraft,
    FingerDraft,
)
from cadrin.biometrics.face_captures import begin_face_capture, take_portrait
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings, finger_rule
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.picture import write_picture
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.made_up.laying import Laid, lay, seed_of
from cadrin.core.made_up.showing import FaceShown, face_seed_of, show_face
from cadrin.demo import scenario
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.actor import Actor
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.photos.commands import take_image

MOST_TRIES = 12
LOWERED, WHY = 30, "Works with solvents: the skin is dry"


def take_fingers(actor: Actor, now: datetime) -> None:
    """Enrol the fingers of the scenario, each with consent, and excuse whoever cannot."""
    for department, place, fingers, how in scenario.WITH_FINGERS:
        cardholder = _someone(department, place)
        drafts = tuple(
            FingerDraft(None, finger, capture=_taken(actor, cardholder.pk, finger, how, now))
            for finger in fingers
        )
        consent = ConsentDraft((Factor.FINGER,), HowGiven.TICK, "en")
        _save(actor, cardholder, BiometricDraft(drafts, consent), now)
    department, place, reason = scenario.BY_CARD_ALONE
    alone = CardAloneDraft(reason, now.replace(microsecond=0) + timedelta(days=60))
    _save(actor, _someone(department, place), BiometricDraft(card_alone=alone), now)


def take_faces(actor: Actor, now: datetime) -> None:
    """Enrol the faces of the scenario, each with consent and a portrait of the same face."""
    kept = biometric_settings()
    face_rule = FaceRule(match=scenario.FACE_MATCH)
    decided = SettingsDraft(finger_rule(kept), face_rule, 0, None, shown_wording(), kept.version)
    save_biometric_settings(actor, decided, now)
    for department, place in scenario.WITH_FACES:
        cardholder = _someone(department, place)
        file = io.BytesIO()
        show_face(face_seed_of(cardholder.pk), FaceShown.AS_IT_IS).save(file, "JPEG", quality=90)
        portrait = take_image(actor, file.getvalue(), now).token
        token = begin_face_capture(actor, None, cardholder.pk, now)
        take_portrait(actor, get_capture(actor, token, Factor.FACE), portrait)
        consent = ConsentDraft((Factor.FACE,), HowGiven.TICK, "en")
        wanted = BiometricDraft(new_consent=consent, faces=(FaceDraft(None, capture=token),))
        _save(actor, cardholder, wanted, now, portrait)


def _someone(department: str, place: int) -> Cardholder:
    working = Cardholder.objects.filter(department__name=department, standing="active")
    return working.order_by("id")[place]


def _save(
    actor: Actor,
    cardholder: Cardholder,
    wanted: BiometricDraft,
    now: datetime,
    portrait: str | None = None,
) -> None:
    stored = stored_cardholder(cardholder, rules())
    images = (portrait or stored.images[0], *stored.images[1:])
    draft = replace(stored, biometrics=wanted, images=images)
    save_cardholder(actor, cardholder.pk, draft, now - timedelta(days=40))


def _taken(actor: Actor, holder_id: int, finger: Finger, how: Laid, now: datetime) -> str:
    """Lay a finger until all presses are there, and return the token of the capture."""
    wanted = CaptureWanted(finger, None, holder_id)
    if how is not Laid.WELL:
        wanted = wanted._replace(least_quality=LOWERED, lowered_because=WHY)
    token = begin_capture(actor, wanted, now)
    for _ in range(MOST_TRIES):
        capture = get_capture(actor, token)
        if is_whole(capture):
            break
        take_file(capture, write_picture(lay(seed_of(holder_id, finger), how)))
    return token

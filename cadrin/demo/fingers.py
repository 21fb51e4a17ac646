"""The demo's fingers: made up from seeds, and taken as at a desk."""

from dataclasses import replace
from datetime import datetime, timedelta

from cadrin.biometrics.captures import (
    CaptureWanted,
    begin_capture,
    get_capture,
    is_whole,
    take_file,
)
from cadrin.biometrics.drafts import BiometricDraft, CardAloneDraft, ConsentDraft, FingerDraft
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.picture import write_picture
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.made_up.laying import Laid, lay, seed_of
from cadrin.demo import scenario
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.actor import Actor
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules

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


def _someone(department: str, place: int) -> Cardholder:
    working = Cardholder.objects.filter(department__name=department, standing="active")
    return working.order_by("id")[place]


def _save(actor: Actor, cardholder: Cardholder, wanted: BiometricDraft, now: datetime) -> None:
    draft = replace(stored_cardholder(cardholder, rules()), biometrics=wanted)
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

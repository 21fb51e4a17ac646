"""Decide what the site asks of fingers and consents."""

from collections.abc import Iterator, Mapping
from dataclasses import asdict
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction

from cadrin.biometrics.commands import keep_pictures_for
from cadrin.biometrics.settings import biometric_settings, face_rule, finger_rule
from cadrin.biometrics.wordings import FIRST, add_wording, shown_wording
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.finger.enrolment import FEWEST_PRESSES, MOST_PRESSES, FingerRule
from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.journal.commands import About, Act, changes_between, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers

BIOMETRIC_SETTINGS = "biometric_settings"
LONGEST_WORDING = 4000
LONGEST_DAYS = 3650


class SettingsDraft(NamedTuple):
    """The site's decisions as an operator wants them; ``wording`` by language."""

    rule: FingerRule
    face_rule: FaceRule
    kept_days_after_departure: int
    consent_days: int | None
    wording: Mapping[str, str]
    version: int
    kept_picture_days: int | None = None


def _problems(draft: SettingsDraft) -> Iterator[Problem]:
    rule = draft.rule
    for field, value, lowest, highest in (
        ("rule.least_quality", rule.least_quality, 0, 100),
        ("rule.presses", rule.presses, FEWEST_PRESSES, MOST_PRESSES),
        ("rule.agreement", round(rule.agreement * 100), 20, 90),
        ("rule.match", round(rule.match * 100), 20, 90),
        ("face_rule.least_quality", draft.face_rule.least_quality, 0, 100),
        ("face_rule.match", round(draft.face_rule.match * 100), 20, 90),
        ("kept_days_after_departure", draft.kept_days_after_departure, 0, LONGEST_DAYS),
        (
            "kept_picture_days",
            1 if draft.kept_picture_days is None else draft.kept_picture_days,
            1,
            LONGEST_DAYS,
        ),
        ("consent_days", draft.consent_days or 1, 1, LONGEST_DAYS),
    ):
        if not lowest <= value <= highest:
            yield Problem("input.out_of_range", field, {"lowest": lowest, "highest": highest})
    for language in FIRST:
        text = draft.wording.get(language, "")
        if not text.strip():
            yield Problem("input.blank", f"wording.{language}")
        if len(text) > LONGEST_WORDING:
            yield Problem("input.too_long", f"wording.{language}", {"most": LONGEST_WORDING})
    if unknown := sorted(draft.wording.keys() - FIRST.keys()):
        yield Problem("input.invalid_choice", "wording", {"name": unknown[0][:20]})


def _rules(finger: FingerRule, face: FaceRule) -> dict[str, Any]:
    return asdict(finger) | {f"face_{name}": value for name, value in asdict(face).items()}


@transaction.atomic
def save_biometric_settings(actor: Actor, draft: SettingsDraft, at: datetime) -> None:
    """Decide it from now on; consents keep the wording they were given to. Raises Invalid, Stale or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    kept = biometric_settings()
    if kept.version != draft.version:
        raise Stale(kept.version, history_of(BIOMETRIC_SETTINGS, 1, after_version=draft.version))
    if problems := tuple(_problems(draft)):
        raise Invalid(problems)
    days = ("kept_days_after_departure", "kept_picture_days", "consent_days")
    before = _rules(finger_rule(kept), face_rule(kept)) | {
        name: getattr(kept, name) for name in days
    }
    after = _rules(draft.rule, draft.face_rule) | {name: getattr(draft, name) for name in days}
    wording = shown_wording()
    changes = changes_between(
        before | {f"wording.{name}": text for name, text in wording.items()},
        after | {f"wording.{name}": text for name, text in draft.wording.items()},
    )
    if not changes:
        return
    if wording != draft.wording:
        add_wording(dict(draft.wording), at)
    kept.finger_rule, kept.face_rule = asdict(draft.rule), asdict(draft.face_rule)
    kept.kept_days_after_departure = draft.kept_days_after_departure
    kept.kept_picture_days, kept.consent_days = draft.kept_picture_days, draft.consent_days
    keep_pictures_for(draft.kept_picture_days)
    kept.version += 1
    kept.save()
    about = (About(BIOMETRIC_SETTINGS, 1, kept.version),)
    record(actor, at, [Act("biometric_settings.changed", about, changes)])
    tell_controllers()

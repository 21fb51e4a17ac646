"""Write consents, templates and being let in by card alone, as part of writing a cardholder.

The caller holds the transaction and has judged what is wanted.
"""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any

from django.db.models import F

from cadrin.biometrics.captures import picture_of_kept_press, template_of
from cadrin.biometrics.drafts import (
    BiometricDraft,
    CardAloneDraft,
    ConsentDraft,
    FingerDraft,
    terms_of,
)
from cadrin.biometrics.face_commands import set_faces
from cadrin.biometrics.models import Capture, CardAlone, Consent, Template
from cadrin.biometrics.proofs import use_proof
from cadrin.biometrics.queries import cards_alone_of, factors_covered, not_to_be_kept
from cadrin.biometrics.settings import biometric_settings
from cadrin.biometrics.wordings import wording_to_agree_to
from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.iso_record import FingerView
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.records.biometrics import record_of_finger
from cadrin.journal.commands import Act, changes_between
from cadrin.operators.actor import Actor
from cadrin.operators.sealing import seal
from cadrin.people.commands.parts import Part, holders_before

MOVED_ASIDE = 100
"""Added to positions while several templates of one cardholder change places."""


_templates_of = ObjectsByIds(Template, lambda: Template.objects.filter(holder_id__among=IDS))


def set_biometrics(actor: Actor, parts: Sequence[Part[BiometricDraft]], at: datetime) -> list[Act]:
    """Make consents, fingers and being let in by card alone of each cardholder these, and return
    the acts for the journal: never what a template is.
    """
    ids = holders_before(part for part in parts if part.wanted)
    alone = {row.holder_id: row for row in cards_alone_of(ids)}
    kept: dict[tuple[int, str], dict[int, Template]] = {}
    for row in _templates_of(ids):
        kept.setdefault((row.holder_id, row.factor), {})[row.pk] = row
    acts: list[Act] = []
    for part in parts:
        for wanted in part.wanted:
            acts += _give_consent(actor, part, wanted.new_consent, at)
            acts += _set_card_alone(part, wanted.card_alone, alone.get(part.holder_id))
            fingers = kept.get((part.holder_id, Factor.FINGER.value), {})
            acts += _set_fingers(actor, part, wanted.fingers, fingers, at)
            faces = kept.get((part.holder_id, Factor.FACE.value), {})
            acts += set_faces(actor, part, wanted.faces, faces, at)
    return acts


def _give_consent(
    actor: Actor, part: Part[BiometricDraft], wanted: ConsentDraft | None, at: datetime
) -> list[Act]:
    if wanted is None:
        return []
    days = biometric_settings().consent_days
    expiry_at = at + timedelta(days=days) if days else None
    wording = wording_to_agree_to(at)
    Consent.objects.create(
        holder_id=part.holder_id,
        covers_fingers=Factor.FINGER in wanted.factors,
        covers_faces=Factor.FACE in wanted.factors,
        wording=wording,
        language=wanted.language,
        how=wanted.how,
        given_at=at,
        taken_by=actor.name,
        sealed_proof=use_proof(wanted.proof) if wanted.proof else "",
        expiry_at=expiry_at,
    )
    given = {
        "factors": [factor.value for factor in wanted.factors],
        "how": wanted.how.value,
        "wording": wording.version,
        "until": expiry_at,
    }
    return [Act("consent.given", (part.about,), changes_between({}, given))]


def _set_card_alone(
    part: Part[BiometricDraft], wanted: CardAloneDraft | None, kept: CardAlone | None
) -> list[Act]:
    before = {"reason": kept.reason, "expiry_at": kept.expiry_at} if kept else {}
    after = {"reason": wanted.reason.strip(), "expiry_at": wanted.expiry_at} if wanted else {}
    changes = changes_between(before, after)
    if not changes:
        return []
    if wanted is None:
        CardAlone.objects.filter(holder_id=part.holder_id).delete()
        return [Act("card_alone.removed", (part.about,), changes)]
    CardAlone.objects.update_or_create(holder_id=part.holder_id, defaults=after)
    return [Act("card_alone.changed" if kept else "card_alone.set", (part.about,), changes)]


def _set_fingers(
    actor: Actor,
    part: Part[BiometricDraft],
    wanted: Sequence[FingerDraft],
    kept: Mapping[int, Template],
    at: datetime,
) -> list[Act]:
    acts = []
    staying = {draft.id for draft in wanted if draft.id}
    for id_, row in kept.items():
        if id_ not in staying:
            acts.append(_removed(part, row))
            row.delete()
    changed = [draft for draft in wanted if draft.id and _differs(kept[draft.id], draft)]
    for draft in changed:  # out of each other's way first
        Template.objects.filter(pk=draft.id or 0).update(position=draft.finger + MOVED_ASIDE)
    for draft in changed:
        row = kept[draft.id or 0]
        acts.append(_changed(actor, part, row, draft, at))
        row.save()
    for draft in wanted:
        if draft.id is None:
            acts.append(_enrolled(actor, part, draft, at))
    return acts


def _differs(row: Template, draft: FingerDraft) -> bool:
    return bool(draft.capture) or _shown(row) != _wanted(draft)


def _wanted(draft: FingerDraft) -> dict[str, Any]:
    told = {"finger": draft.finger.name.lower(), "is_duress": draft.is_duress}
    return told | terms_of(draft)


def _shown(row: Template) -> dict[str, Any]:
    told = {"finger": Finger(row.position).name.lower(), "is_duress": row.is_duress}
    return told | terms_of(row)


def _set_terms(row: Template, draft: FingerDraft) -> None:
    row.position, row.is_duress = draft.finger, draft.is_duress
    for name, value in terms_of(draft).items():
        setattr(row, name, value)


def _enrolled(actor: Actor, part: Part[BiometricDraft], draft: FingerDraft, at: datetime) -> Act:
    row = Template(holder_id=part.holder_id, factor=Factor.FINGER)
    taken = _take(actor, row, draft, at)
    row.save()
    told = {name: value for name, value in _shown(row).items() if value}
    return Act("finger.enrolled", (part.about,), changes_between({}, told | taken))


def _changed(
    actor: Actor, part: Part[BiometricDraft], row: Template, draft: FingerDraft, at: datetime
) -> Act:
    finger = _shown(row)["finger"]
    before = _shown(row) | {"quality": row.quality}
    taken: dict[str, Any] = {"quality": row.quality}
    _set_terms(row, draft)
    if draft.capture:
        taken |= _take(actor, row, draft, at)
    changes = {"finger": (finger, finger)} | dict(changes_between(before, _shown(row) | taken))
    return Act("finger.replaced" if draft.capture else "finger.changed", (part.about,), changes)


def _take(actor: Actor, row: Template, draft: FingerDraft, at: datetime) -> dict[str, Any]:
    """Take a finger from its capture, which is used up, and return what the journal says of it."""
    capture = Capture.objects.get(token=draft.capture)
    template = template_of(capture)
    row.sealed = seal(record_of_finger(FingerView(draft.finger, template)))
    _set_terms(row, draft)
    row.quality, row.taken_at, row.taken_by = template.quality, at, actor.name
    told: dict[str, Any] = {"quality": template.quality}
    picture, days = picture_of_kept_press(capture), biometric_settings().kept_picture_days
    is_kept = bool(picture) and days is not None
    row.sealed_picture = seal(picture) if is_kept else ""
    row.picture_until = at + timedelta(days=days or 0) if is_kept else None
    if is_kept:
        told["picture_until"] = row.picture_until
    if capture.lowered_because:
        told["lowered_because"] = capture.lowered_because
    if draft.despite_match:
        told["despite_match"] = True
    capture.delete()
    return told


def _removed(part: Part[Any], row: Template) -> Act:
    if row.factor == Factor.FACE:
        told: dict[str, Any] = {"quality": row.quality}
    else:
        told = {name: value for name, value in _shown(row).items() if value}
    return Act(f"{row.factor}.removed", (part.about,), changes_between(told, {}))


def withdraw_consents(parts: Sequence[Part[int]], at: datetime) -> list[Act]:
    """Note that consents, by their ids, are withdrawn, and return the acts; templates are not
    touched.
    """
    acts = []
    for part in parts:
        for consent in Consent.objects.filter(
            holder_id=part.holder_id, pk__in=part.wanted, withdrawn_at=None
        ):
            consent.withdrawn_at = at
            consent.save()
            factors = factors_covered(consent.covers_fingers, consent.covers_faces)
            told = {"factors": [factor.value for factor in factors]}
            acts.append(Act("consent.withdrawn", (part.about,), changes_between(told, {})))
    return acts


def forget_templates(parts: Sequence[Part[Any]], at: datetime) -> list[Act]:
    """Remove every template of these cardholders that may not be kept, and return the acts."""
    part_of = {part.holder_id: part for part in parts}
    acts = []
    for row in Template.objects.filter(not_to_be_kept(at), holder_id__in=part_of).order_by("id"):
        acts.append(_removed(part_of[row.holder_id], row))
        row.delete()
    return acts


def note_departures(departed: Iterable[int], back: Iterable[int], at: datetime) -> None:
    """Note until when templates of whoever departed are kept; whoever is back keeps theirs."""
    days = biometric_settings().kept_days_after_departure
    gone = Template.objects.filter(holder_id__in=list(departed), kept_until=None)
    gone.update(kept_until=at + timedelta(days=days))
    Template.objects.filter(holder_id__in=list(back)).update(kept_until=None)


def forget_pictures_over(at: datetime) -> int:
    """Forget pictures of fingers that are kept no longer, and return how many."""
    over = Template.objects.filter(picture_until__lte=at)
    return over.update(sealed_picture="", picture_until=None) if over.exists() else 0


def keep_pictures_for(days: int | None) -> None:
    """Keep the pictures that are there for so many days from when they were taken; without any
    not at all.
    """
    kept = Template.objects.exclude(picture_until=None)
    if days is None:
        kept.update(sealed_picture="", picture_until=None)
    else:
        kept.update(picture_until=F("taken_at") + timedelta(days=days))


def note_gone(consent_ids: Iterable[int], at: datetime) -> None:
    """Note that no controller holds a template any more that rested on these consents."""
    Consent.objects.filter(pk__in=list(consent_ids)).update(gone_at=at)


def hand_over_biometrics(from_id: int, to_id: int) -> None:
    """Make somebody's consents and templates another cardholder's, where they have none at that
    position: two records of one human being become one.
    """
    Consent.objects.filter(holder_id=from_id).update(holder_id=to_id)
    taken = Template.objects.filter(holder_id=to_id).values_list("factor", "position")
    taken_by_factor: dict[str, list[int]] = {}
    for factor, position in taken:
        taken_by_factor.setdefault(factor, []).append(position)
    for factor in Factor:
        rows = Template.objects.filter(holder_id=from_id, factor=factor)
        rows.exclude(position__in=taken_by_factor.get(factor, [])).update(
            holder_id=to_id, is_duress=False
        )


def forget_biometrics_of(holder_id: int) -> None:
    """Forget templates, consents with what proves them, and being let in by card alone."""
    for model in (Template, Consent, CardAlone):
        model._default_manager.filter(holder_id=holder_id).delete()
    Capture.objects.filter(holder_id=holder_id).delete()
